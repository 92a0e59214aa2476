import type { Readable } from 'node:stream';
import { InputError, type KeyState } from '@jarro/core';
import { Inject, Injectable, NotFoundException } from '@nestjs/common';
import { InjectDataSource } from '@nestjs/typeorm';
import { DataSource } from 'typeorm';
import type { SignedIn } from '../auth/auth.service.js';
import { CasesService } from '../cases/cases.service.js';
import { CONFIG, type Config } from '../config.js';
import { appendEvidence } from '../database/evidence-chain.js';
import { AnalysisRecord, CaptureRecord } from '../database/entities.js';
import { AuditService } from '../people/audit.service.js';
import { CaptureProgress, type Report } from './capture-progress.js';
import { CaptureStore } from './capture-store.js';
import type { AddCaptureDto } from './captures.dto.js';
import { WorkPool } from '../work/work-pool.js';
import type { Measured } from './measure.js';
import { receive } from './upload.js';

const CORE_VERSION = '0.1.0';

export interface CapturedFile {
  readonly fileName: string;
  readonly label: string;
  readonly sizeBytes: number;
  readonly sha256: string;
  /** Position of the key, and whether the fault showed, while it was taken. */
  readonly keyState: KeyState;
  readonly faultPresent: boolean;
}

@Injectable()
export class CapturesService {
  constructor(
    @InjectDataSource() private readonly source: DataSource,
    @Inject(CONFIG) private readonly config: Config,
    private readonly cases: CasesService,
    private readonly store: CaptureStore,
    private readonly jobs: CaptureProgress,
    private readonly audit: AuditService,
    private readonly pool: WorkPool,
  ) {}

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
    await this.cases.findOpen(me, caseId);
    return this.jobs.track(dto.job, caseId, async (report) => {
      await report('receiving');
      await using upload = await receive(
        body,
        promisedBytes,
        this.config.uploadLimitBytes,
        'Export a shorter record or fewer channels.',
      );
      await report('measuring');
      const outcome = await this.pool.measure(
        {
          path: upload.path,
          fileName: dto.fileName,
          setups: dto.channelSetups(),
          ...(dto.bars !== undefined && { bars: dto.bars }),
          ...(dto.rateHz !== undefined && { rateHz: dto.rateHz }),
        },
        gone,
      );
      if ('refused' in outcome) throw new InputError(outcome.refused);
      const { sizeBytes, sha256 } = upload;
      const { label, fileName, keyState, faultPresent } = dto;
      const file = { label, fileName, sizeBytes, sha256, keyState, faultPresent };
      return this.save(me, caseId, file, outcome.ok, report);
    });
  }

  async progress(me: SignedIn, caseId: string, id: string): Promise<{ stage: string; share: number }> {
    await this.cases.find(me, caseId);
    const job = await this.jobs.find(id, caseId);
    if (!job) throw new NotFoundException('No such upload is running.');
    return { stage: job.stage, share: job.share };
  }

  /** Stores a measured capture as one transaction. */
  async save(
    me: SignedIn,
    caseId: string,
    file: CapturedFile,
    measured: Measured,
    report: Report = () => Promise.resolve(),
    takenAt?: Date,
  ): Promise<{ id: string }> {
    const { levels, analysis, sampleRateHz, samples, startS, channels } = measured;
    return this.source.transaction(async (manager) => {
      const { fileName, label, sizeBytes, sha256, keyState, faultPresent } = file;
      const value = { fileName, label, sizeBytes, sha256, sampleRateHz, samples, startS, channels };
      const { id } = await appendEvidence(manager, caseId, {
        kind: 'capture',
        at: 'pump',
        value,
        keyState,
        faultPresent,
        takenBy: me.user.id,
        ...(takenAt && { takenAt }),
      });
      const pyramidLevels = Math.max(0, (levels[0]?.length ?? 1) - 1);
      await manager
        .getRepository(CaptureRecord)
        .insert({ id, caseId, ...value, channels: [...channels], pyramidLevels });
      await this.store.write(manager, id, levels, (share) => report('storing', share));
      await manager
        .getRepository(AnalysisRecord)
        .insert({ captureId: id, coreVersion: CORE_VERSION, result: analysis });
      await this.audit.note(me, 'capture.add', id, manager);
      return { id };
    });
  }

  async window(me: SignedIn, id: string, channel: number, from: number, to: number, columns: number) {
    const record = await this.source.getRepository(CaptureRecord).findOneBy({ id });
    if (!record) throw new NotFoundException('There is no such capture.');
    await this.cases.find(me, record.caseId);
    if (channel >= record.channels.length) throw new NotFoundException('This capture has no such channel.');
    if (!(from >= 0 && to > from && to <= record.samples)) {
      throw new InputError(`Ask for samples between 0 and ${record.samples}, the lower first.`);
    }
    return this.store.window(record, channel, from, to, columns);
  }
}
