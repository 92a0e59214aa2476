import { randomUUID } from 'node:crypto';
import { createReadStream } from 'node:fs';
import { Readable } from 'node:stream';
import type { AnalysisValue, CaptureValue } from '@jarro/api-types';
import { InputError } from '@jarro/core';
import { ConflictException, Inject, Injectable, NotFoundException } from '@nestjs/common';
import { InjectDataSource } from '@nestjs/typeorm';
import pLimit from 'p-limit';
import { DataSource } from 'typeorm';
import type { SignedIn } from '../auth/signed-in.js';
import { CaseAccess } from '../cases/case-access.js';
import { CONFIG, type Config } from '../config.js';
import { AnalysisRecord, CaptureRecord, Case, EvidenceRecord } from '../database/entities.js';
import { log } from '../http/log.js';
import { AuditService } from '../people/audit.service.js';
import { CaptureProgress, type Report } from './capture-progress.js';
import { CaptureStore } from './capture-store.js';
import type { CapturedFile } from './captured-file.js';
import type { AddCaptureDto } from './captures.dto.js';
import { WorkPool } from '../work/work-pool.js';
import { analysisHash } from './content-hash.js';
import type { Measured } from './measure.js';
import { Originals } from './originals.js';
import { Uploads } from './upload.js';

const CORE_VERSION = '0.1.0';

@Injectable()
export class CapturesService {
  constructor(
    @InjectDataSource() private readonly source: DataSource,
    @Inject(CONFIG) private readonly config: Config,
    private readonly access: CaseAccess,
    private readonly store: CaptureStore,
    private readonly originals: Originals,
    private readonly jobs: CaptureProgress,
    private readonly audit: AuditService,
    private readonly pool: WorkPool,
    private readonly uploads: Uploads,
  ) {}

  /** From reading to the last sample stored, one record at a time stands in memory. */
  private readonly oneByOne = pLimit(1);

  /**
   * Receives, reads, measures and stores a file: all of it or nothing.
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
    await this.access.check(me, caseId, 'diagnosis');
    const setups = dto.channelSetups();
    return this.jobs.track(dto.job, caseId, async (report) => {
      await report('receiving');
      await using upload = await this.uploads.receive(
        body,
        promisedBytes,
        this.config.uploadLimitBytes,
        'Export a shorter record or fewer channels.',
      );
      const { sizeBytes, sha256 } = upload;
      const { label, fileName, keyState, faultPresent } = dto;
      const setup = {
        setups,
        ...(dto.bars !== undefined && { bars: dto.bars }),
        ...(dto.rateHz !== undefined && { rateHz: dto.rateHz }),
      };
      const content = { [Symbol.asyncIterator]: () => createReadStream(upload.path)[Symbol.asyncIterator]() };
      const file = { label, fileName, sizeBytes, sha256, keyState, faultPresent, setup, content };
      // Awaited here: the file is taken off the disk when this block is left.
      return await this.oneByOne(async () => {
        gone.throwIfAborted();
        await report('measuring');
        const outcome = await this.pool.measure({ path: upload.path, fileName, ...setup }, gone);
        if ('refused' in outcome) throw new InputError(outcome.refused);
        return this.save(me, caseId, file, outcome.ok, report);
      });
    });
  }

  async progress(me: SignedIn, caseId: string, id: string): Promise<{ stage: string; share: number }> {
    await this.access.find(me, caseId);
    const job = await this.jobs.find(id, caseId);
    if (!job) throw new NotFoundException('No such upload is running.');
    return { stage: job.stage, share: job.share };
  }

  /**
   * Stores a measured capture: first the file and the samples, which nobody sees yet, then in one short transaction the
   * link that makes them evidence and seals them. Nothing stays where that link never comes.
   */
  async save(
    me: SignedIn,
    caseId: string,
    file: CapturedFile,
    measured: Measured,
    report: Report = () => Promise.resolve(),
    takenAt?: Date,
  ): Promise<{ id: string }> {
    const { levels, analysis, sampleRateHz, samples, startS, channels } = measured;
    const { fileName, label, sizeBytes, sha256, keyState, faultPresent, setup, content } = file;
    const id = randomUUID();
    const pyramidLevels = Math.max(0, (levels[0]?.length ?? 1) - 1);
    const captures = this.source.getRepository(CaptureRecord);
    const common = { fileName, label, sizeBytes, sha256, sampleRateHz, samples, startS, channels: [...channels] };
    const facts = { ...common, pyramidLevels };
    await captures.insert({ id, caseId, ...facts, pendingSince: new Date() });
    try {
      await this.originals.keep(sha256, sizeBytes, content);
      const contentSha256 = await this.store.write(id, facts, levels, (share) => report('storing', share));
      const value: CaptureValue = {
        ...common,
        setup,
        contentSha256,
        analysisSha256: analysisHash(analysis),
        coreVersion: CORE_VERSION,
      };
      return await this.access.write(me, caseId, 'diagnosis', async ({ manager, append }) => {
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
  async measureAgain(me: SignedIn, id: string): Promise<{ id: string }> {
    const { link, value } = await this.findKept(me, id);
    await this.access.check(me, link.caseId, 'diagnosis');
    const { fileName, sizeBytes, sha256, label, setup = { setups: {} } } = value;
    await using file = await this.uploads.receive(Readable.from(this.originals.read(sha256)), undefined, sizeBytes, '');
    const outcome = await this.oneByOne(() =>
      this.pool.measure({ path: file.path, fileName, ...setup }, new AbortController().signal),
    );
    if ('refused' in outcome) throw new InputError(outcome.refused);
    const { analysis } = outcome.ok;
    const analysisSha256 = analysisHash(analysis);
    return await this.access.write(me, link.caseId, 'diagnosis', async ({ manager, append }) => {
      const analyses = manager.getRepository(AnalysisRecord);
      const [newest] = await analyses.find({ where: { captureId: id }, order: { madeAt: 'DESC' }, take: 1 });
      if (newest && analysisHash(newest.result) === analysisSha256) {
        throw new ConflictException('This version of Jarro measures the file just as it was measured before.');
      }
      const again: AnalysisValue = { label, analysisSha256, coreVersion: CORE_VERSION };
      const entry = await append({ kind: 'analysis', at: id, value: again, takenBy: me.user.id });
      await analyses.insert({ captureId: id, coreVersion: CORE_VERSION, result: analysis });
      await this.audit.note(me, 'capture.again', id, manager);
      return { id: entry.id };
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

  async window(me: SignedIn, id: string, channel: number, from: number, to: number, columns: number) {
    const record = await this.source
      .getRepository(CaptureRecord)
      .createQueryBuilder('capture')
      .innerJoin(Case, 'item', 'item.id = capture.caseId AND item.shopId = :shopId', { shopId: me.shop.id })
      .where('capture.id = :id AND capture.pendingSince IS NULL', { id })
      .getOne();
    if (!record) throw new NotFoundException('There is no such capture.');
    if (channel >= record.channels.length) throw new NotFoundException('This capture has no such channel.');
    if (!(from >= 0 && to > from && to <= record.samples)) {
      throw new InputError(`Ask for samples between 0 and ${record.samples}, the lower first.`);
    }
    return this.store.window(record, channel, from, to, columns);
  }
}
