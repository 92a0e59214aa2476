import { ConflictException, Injectable } from '@nestjs/common';
import { InjectRepository } from '@nestjs/typeorm';
import { LessThan, Repository } from 'typeorm';
import { CaptureJob, type CaptureStage } from '../database/entities.js';
import { codeOf, retryDeadlocks } from '../database/retry.js';

/** A job that hasn't moved for so long belongs to a process that died. */
const STALE_MS = 3_600_000;
const FIRST_STAGE: CaptureStage = 'receiving';
/** Shares are written no finer than this: each is a row written. */
const FINEST_SHARE = 0.1;

/** Says how far an upload has come. */
export type Report = (stage: CaptureStage, share?: number) => Promise<void>;

/** Progress of uploads, kept in the database so that any server process can answer for it. */
@Injectable()
export class CaptureProgress {
  constructor(@InjectRepository(CaptureJob) private readonly jobs: Repository<CaptureJob>) {}

  /**
   * Runs the work with something to report to; without an id nothing is written.
   * @throws ConflictException when an upload of that id is running already
   */
  async track<T>(id: string | undefined, caseId: string, work: (report: Report) => Promise<T>): Promise<T> {
    if (id === undefined) return work(() => Promise.resolve());
    await this.begin(id, caseId);
    let last = { stage: FIRST_STAGE, share: 0 };
    const report: Report = async (stage, share = 0) => {
      if (stage === last.stage && share - last.share < FINEST_SHARE) return;
      last = { stage, share };
      await this.jobs.update(id, { stage, share, changedAt: new Date() });
    };
    try {
      return await work(report);
    } finally {
      await this.jobs.delete({ id });
    }
  }

  /** One statement, so that two of the same id can't both begin. */
  private async begin(id: string, caseId: string): Promise<void> {
    try {
      await retryDeadlocks(() => this.jobs.insert({ id, caseId, stage: FIRST_STAGE, share: 0, changedAt: new Date() }));
    } catch (error) {
      if (codeOf(error) !== 'ER_DUP_ENTRY') throw error;
      throw new ConflictException('This file is being uploaded already. Wait until it is done.');
    }
  }

  /** Takes away what was left by processes that died. */
  async sweep(): Promise<void> {
    await this.jobs.delete({ changedAt: LessThan(new Date(Date.now() - STALE_MS)) });
  }

  find(id: string, caseId: string): Promise<CaptureJob | null> {
    return this.jobs.findOneBy({ id, caseId });
  }
}
