import { Injectable } from '@nestjs/common';
import { InjectRepository } from '@nestjs/typeorm';
import { LessThan, Repository } from 'typeorm';
import { CaptureJob, type CaptureStage } from '../database/entities.js';

/** A job that hasn't moved for so long belongs to a process that died. */
const STALE_MS = 3_600_000;
/** Shares are written no finer than this: each is a row written. */
const FINEST_SHARE = 0.1;

/** Says how far an upload has come. */
export type Report = (stage: CaptureStage, share?: number) => Promise<void>;

/** Progress of uploads, kept in the database so that any server process can answer for it. */
@Injectable()
export class CaptureProgress {
  constructor(@InjectRepository(CaptureJob) private readonly jobs: Repository<CaptureJob>) {}

  /** Runs the work with something to report to; without an id nothing is written. */
  async track<T>(id: string | undefined, caseId: string, work: (report: Report) => Promise<T>): Promise<T> {
    if (id === undefined) return work(() => Promise.resolve());
    await this.jobs.delete({ changedAt: LessThan(new Date(Date.now() - STALE_MS)) });
    let last = { stage: '', share: 0 };
    const report: Report = async (stage, share = 0) => {
      if (stage === last.stage && share - last.share < FINEST_SHARE) return;
      last = { stage, share };
      await this.jobs.save({ id, caseId, stage, share, changedAt: new Date() });
    };
    try {
      return await work(report);
    } finally {
      await this.jobs.delete({ id });
    }
  }

  find(id: string, caseId: string): Promise<CaptureJob | null> {
    return this.jobs.findOneBy({ id, caseId });
  }
}
