import { randomUUID } from 'node:crypto';
import { createReadStream } from 'node:fs';
import { Readable } from 'node:stream';
import type { AnalysisValue, CaptureValue } from '@jarro/api-types';
import { driveTables, InputError } from '@jarro/core';
import { ConflictException, Inject, Injectable, NotFoundException, type OnModuleInit } from '@nestjs/common';
import { InjectDataSource } from '@nestjs/typeorm';
import { DataSource, type EntityManager } from 'typeorm';
import type { SignedIn } from '../auth/signed-in.js';
import { CaseAccess } from '../cases/case-access.js';
import { CONFIG, type Config } from '../config.js';
import { AnalysisRecord, CaptureRecord } from './captures.entities.js';
import { Case } from '../cases/cases.entities.js';
import { casePath } from '../evidence/case-path.js';
import { EvidenceRecord } from '../evidence/evidence.entities.js';
import { log } from '../http/log.js';
import { AuditService } from '../audit/audit.service.js';
import { CaptureStore } from './capture-store.js';
import type { AgainTask, CaptureTask, KeptFile } from './capture-tasks.js';
import type { AddCaptureDto, WindowDto } from './captures.dto.js';
import { JobRunner, type Running } from '../work/job-runner.js';
import { Jobs } from '../work/jobs.js';
import { caseOf } from '../work/jobs.entities.js';
import { CORE_VERSION } from '../version.js';
import { WorkPool } from '../work/work-pool.js';
import { analysisHash } from './content-hash.js';
import { levelsInFile, type Levels } from './levels.js';
import type { Measured } from './measure.js';
import { Originals } from './originals.js';
import { Uploads } from '../uploads/uploads.js';

/** What goes with the storing of a capture. */
interface Saving {
  readonly report?: Running['report'];
  /** Ends the job in the transaction that makes the capture evidence. */
  readonly finish?: (manager: EntityManager, result: { id: string }) => Promise<void>;
  readonly takenAt?: Date;
}

@Injectable()
export class CapturesService implements OnModuleInit {
  constructor(
    @InjectDataSource() private readonly source: DataSource,
    @Inject(CONFIG) private readonly config: Config,
    private readonly access: CaseAccess,
    private readonly store: CaptureStore,
    private readonly originals: Originals,
    private readonly jobs: Jobs,
    private readonly runner: JobRunner,
    private readonly audit: AuditService,
    private readonly pool: WorkPool,
    private readonly uploads: Uploads,
  ) {}

  onModuleInit(): void {
    this.runner.handle('capture', (running) => this.measureSent(running));
    this.runner.handle('measure-again', (running) => this.measureKept(running));
  }

  /**
   * Receives a file and has it measured and stored: all of it or nothing.
   * @param gone stops the work when nobody waits for it any more
   */
  async add(
    me: SignedIn,
    caseId: string,
    dto: AddCaptureDto,
    body: Readable,
    promisedBytes: number | undefined,
    gone: AbortSignal,
  ): Promise<{ id: string }> {
    await this.access.check(me, caseId, 'reading');
    const { label, fileName, keyState, faultPresent, bars, rateHz } = dto;
    const setup = {
      setups: dto.channelSetups(),
      ...(bars !== undefined && { bars }),
      ...(rateHz !== undefined && { rateHz }),
    };
    const id = dto.job ?? randomUUID();
    await this.jobs.receive({ id, kind: 'capture', caseId, userId: me.user.id }, async () => {
      const { uploadLimitBytes } = this.config;
      const advice = 'Export a shorter record or fewer channels.';
      await using upload = await this.uploads.receive(body, promisedBytes, uploadLimitBytes, advice);
      const { sizeBytes, sha256, path } = upload;
      await this.originals.keep(sha256, sizeBytes, () => createReadStream(path));
      return { label, fileName, sizeBytes, sha256, keyState, faultPresent, setup } satisfies CaptureTask;
    });
    return this.runner.result(id, gone);
  }

  /** Measures and stores a file that came in. */
  private async measureSent({ job, me, gone, report }: Running): Promise<void> {
    const file = job.task as CaptureTask;
    await report('measuring');
    await using place = await this.uploads.place();
    const caseId = caseOf(job);
    const { measured, lengths } = await this.measureOriginal(caseId, file, place.path, gone);
    await using levels = await levelsInFile(place.path, lengths);
    await this.save(me, caseId, file, measured, levels, {
      report,
      finish: (manager, result) => this.jobs.finish(job, result, manager),
    });
  }

  /** @throws InputError when the file can't be read */
  private async measureOriginal(
    caseId: string,
    { fileName, sizeBytes, sha256, setup }: KeptFile,
    levelsPath: string,
    gone: AbortSignal,
  ) {
    const content = Readable.from(this.originals.read(sha256));
    await using file = await this.uploads.receive(content, undefined, sizeBytes, '');
    gone.throwIfAborted();
    // As the path is chosen now: its module's tables say what a duty means.
    const system = driveTables(await casePath(this.source.manager, caseId));
    const outcome = await this.pool.measure({ path: file.path, levelsPath, fileName, system, ...setup }, gone);
    if ('refused' in outcome) throw new InputError(outcome.refused);
    return { measured: outcome.ok, lengths: outcome.lengths };
  }

  /**
   * Stores a measured capture: first the file and the samples, which nobody sees yet, then in one short transaction the
   * link that makes them evidence and seals them. Nothing stays where that link never comes.
   */
  async save(
    me: SignedIn,
    caseId: string,
    file: CaptureTask,
    measured: Measured,
    levels: Levels,
    { report, finish, takenAt }: Saving = {},
  ): Promise<{ id: string }> {
    const { analysis, sampleRateHz, samples, startS, channels } = measured;
    const { fileName, label, sizeBytes, sha256, keyState, faultPresent, setup } = file;
    const id = randomUUID();
    const pyramidLevels = Math.max(0, (levels.lengths[0]?.length ?? 1) - 1);
    const captures = this.source.getRepository(CaptureRecord);
    const common = { fileName, label, sizeBytes, sha256, sampleRateHz, samples, startS, channels: [...channels] };
    const facts = { ...common, pyramidLevels };
    await captures.insert({ id, caseId, ...facts, pendingSince: new Date() });
    try {
      const contentSha256 = await this.store.write(id, facts, levels, async (share) => report?.('storing', share));
      const value: CaptureValue = {
        ...common,
        setup,
        contentSha256,
        analysisSha256: analysisHash(analysis),
        coreVersion: CORE_VERSION,
      };
      return await this.access.write(me, caseId, 'reading', async ({ manager, append }) => {
        await append({
          id,
          kind: 'capture',
          at: 'pump',
          value,
          keyState,
          faultPresent,
          takenBy: me.user.id,
          ...(takenAt && { takenAt }),
        });
        await this.originals.confirm(manager, sha256);
        await manager.getRepository(CaptureRecord).update(id, { pendingSince: null });
        await manager
          .getRepository(AnalysisRecord)
          .insert({ captureId: id, coreVersion: CORE_VERSION, result: analysis });
        await this.audit.note(me, 'capture.add', id, manager);
        await finish?.(manager, { id });
        return { id };
      });
    } catch (error) {
      // Where the database is away the sweep does it later; what went wrong is told either way.
      await this.store.discard(id).catch((left: unknown) => log.warn({ err: left, capture: id }, 'left for the sweep'));
      throw error;
    }
  }

  /**
   * Measures a capture's kept file again, as it was told to be read then. The old result stays on record.
   * @throws ConflictException when nothing comes out differently
   */
  async measureAgain(me: SignedIn, captureId: string, gone: AbortSignal): Promise<{ id: string }> {
    const { caseId } = (await this.findKept(me, captureId)).link;
    await this.access.check(me, caseId, 'diagnosis');
    const id = randomUUID();
    const task: AgainTask = { captureId };
    await this.jobs.receive({ id, kind: 'measure-again', caseId, userId: me.user.id }, () => Promise.resolve(task));
    return this.runner.result(id, gone);
  }

  private async measureKept({ job, me, gone, report }: Running): Promise<void> {
    const { captureId } = job.task as AgainTask;
    const { value } = await this.findKept(me, captureId);
    const { label, fileName, sizeBytes, sha256, setup = { setups: {} } } = value;
    await report('measuring');
    await using place = await this.uploads.place();
    const file = { fileName, sizeBytes, sha256, setup };
    const caseId = caseOf(job);
    const { measured } = await this.measureOriginal(caseId, file, place.path, gone);
    const { analysis } = measured;
    const analysisSha256 = analysisHash(analysis);
    await this.access.write(me, caseId, 'diagnosis', async ({ manager, append }) => {
      const analyses = manager.getRepository(AnalysisRecord);
      const [newest] = await analyses.find({ where: { captureId }, order: { madeAt: 'DESC' }, take: 1 });
      if (newest && analysisHash(newest.result) === analysisSha256) {
        throw new ConflictException('This version of Jarro measures the file just as it was measured before.');
      }
      const again: AnalysisValue = { label, analysisSha256, coreVersion: CORE_VERSION };
      const entry = await append({ kind: 'analysis', at: captureId, value: again, takenBy: me.user.id });
      await analyses.insert({ captureId, coreVersion: CORE_VERSION, result: analysis });
      await this.audit.note(me, 'capture.again', captureId, manager);
      await this.jobs.finish(job, { id: entry.id }, manager);
    });
  }

  private async findKept(me: SignedIn, id: string): Promise<{ link: EvidenceRecord; value: CaptureValue }> {
    const link = await this.source.getRepository(EvidenceRecord).findOneBy({ id, kind: 'capture' });
    if (!link) throw new NotFoundException('There is no such capture.');
    await this.access.find(me, link.caseId);
    const value = link.value as CaptureValue;
    if (!value.contentSha256) throw new NotFoundException('The original file of this capture was not kept.');
    return { link, value };
  }

  /** The file byte for byte as it was sent. @throws NotFoundException where it wasn't kept */
  async original(me: SignedIn, id: string): Promise<{ fileName: string; sizeBytes: number; content: Readable }> {
    const { fileName, sizeBytes, sha256 } = (await this.findKept(me, id)).value;
    return { fileName, sizeBytes, content: Readable.from(this.originals.read(sha256)) };
  }

  /** @throws NotFoundException for a capture that the shop hasn't */
  async record(me: SignedIn, id: string): Promise<CaptureRecord> {
    const record = await this.source
      .getRepository(CaptureRecord)
      .createQueryBuilder('capture')
      .innerJoin(Case, 'item', 'item.id = capture.caseId AND item.shopId = :shopId', { shopId: me.shop.id })
      .where('capture.id = :id AND capture.pendingSince IS NULL', { id })
      .getOne();
    if (!record) throw new NotFoundException('There is no such capture.');
    return record;
  }

  async window(me: SignedIn, id: string, { channel, from, to, columns }: WindowDto): Promise<Float32Array> {
    const record = await this.record(me, id);
    if (channel >= record.channels.length) throw new NotFoundException('This capture has no such channel.');
    return this.store.window(record, channel, rangeOf(record, from, to), columns);
  }
}

/** @throws InputError for samples that the record hasn't */
export function rangeOf({ samples }: CaptureRecord, from: number, to: number): readonly [number, number] {
  if (!(from >= 0 && to > from && to <= samples)) {
    throw new InputError(`Ask for samples between 0 and ${samples}, the lower first.`);
  }
  return [from, to];
}
