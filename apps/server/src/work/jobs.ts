import { randomUUID } from 'node:crypto';
import type { JobProgress, JobStage } from '@jarro/api-types';
import { ConflictException, Injectable, NotFoundException } from '@nestjs/common';
import { InjectDataSource } from '@nestjs/typeorm';
import { DataSource, LessThan, type EntityManager } from 'typeorm';
import type { SignedIn } from '../auth/signed-in.js';
import { codeOf, retryDeadlocks } from '../database/retry.js';
import { Job, type JobFailure, type JobKind } from './jobs.entities.js';

/** Others may take a job that nobody renewed for so long. */
const LEASE_S = 30;
/** A job that hasn't moved for so long is of no use to anybody. */
const STALE_MS = 3_600_000;

/** It waits, or was left by a process that died. */
const IS_FREE = `state = 'waiting' OR (state = 'running' AND until < UTC_TIMESTAMP(3))`;

export const STOPPED: JobFailure = { status: 409, detail: 'This was stopped. Nothing was kept.' };

type NewJob = Pick<Job, 'id' | 'kind' | 'caseId' | 'userId'>;

/** A job was taken by another process: what this one did of it must not count. */
export class LeaseLost extends Error {}

/** The table of jobs: every change of one is a single statement, so that two processes never have the same. */
@Injectable()
export class Jobs {
  constructor(@InjectDataSource() private readonly source: DataSource) {}

  /**
   * Begins a job, has what it works on come in, and forgets it where that fails.
   * @throws ConflictException when a job of that id is there already
   */
  async receive(job: NewJob, comeIn: () => Promise<object>): Promise<void> {
    await this.begin(job);
    try {
      await this.ready(job.id, await comeIn());
    } catch (error) {
      await this.drop(job.id);
      throw error;
    }
  }

  private async begin(job: NewJob): Promise<void> {
    const fresh = { ...job, state: 'receiving', stage: 'receiving', share: 0, changedAt: new Date() } as const;
    try {
      await retryDeadlocks(() => this.source.getRepository(Job).insert(fresh));
    } catch (error) {
      if (codeOf(error) !== 'ER_DUP_ENTRY') throw error;
      throw new ConflictException('This is under way already. Wait until it is done.');
    }
  }

  /** All of it came in: whoever is free may begin. */
  private async ready(id: string, task: object): Promise<void> {
    const waiting = { state: 'waiting', stage: 'waiting', task, changedAt: new Date() } as const;
    await this.source.getRepository(Job).update(id, waiting);
  }

  /** The one of a kind that was begun or moved last. */
  async newest(kind: JobKind): Promise<Job | undefined> {
    const [job] = await this.source.getRepository(Job).find({ where: { kind }, order: { changedAt: 'DESC' }, take: 1 });
    return job;
  }

  find(id: string): Promise<Job | null> {
    return this.source.getRepository(Job).findOneBy({ id });
  }

  /** @throws NotFoundException for one that somebody else began */
  async progress({ user }: SignedIn, id: string): Promise<JobProgress> {
    const { state, stage, share, outcome } = await this.own(user.id, id);
    return {
      ...{ state, stage, share },
      ...(state === 'done' && { id: (outcome as { id: string }).id }),
      ...(state === 'failed' && { problem: (outcome as JobFailure).detail }),
    };
  }

  /** Stops one that still runs; one that is over stays as it is. @throws NotFoundException for one that somebody else began */
  async stop({ user }: SignedIn, id: string): Promise<void> {
    await this.own(user.id, id);
    await this.cancel(id);
  }

  private async own(userId: string, id: string): Promise<Job> {
    const job = await this.source.getRepository(Job).findOneBy({ id, userId });
    if (!job) throw new NotFoundException('No such work is under way.');
    return job;
  }

  private async drop(id: string): Promise<void> {
    await this.source.getRepository(Job).delete({ id });
  }

  /** Takes the oldest of these kinds that waits, or that was left by a process that died. */
  async claim(kinds: readonly JobKind[]): Promise<Job | undefined> {
    // Looked for without a lock first: there is mostly nothing, and every process asks every few seconds.
    const [next] = await this.source.query<{ id: string }[]>(
      `SELECT id FROM jobs WHERE kind IN (?) AND (${IS_FREE}) ORDER BY changedAt LIMIT 1`,
      [kinds],
    );
    if (!next) return undefined;
    const owner = randomUUID();
    await retryDeadlocks(() =>
      this.source.query(
        `UPDATE jobs SET state = 'running', owner = ?, until = UTC_TIMESTAMP(3) + INTERVAL ? SECOND, attempts = attempts + 1
         WHERE id = ? AND (${IS_FREE})`,
        [owner, LEASE_S, next.id],
      ),
    );
    // Another process may have been quicker; then there may be more.
    return (await this.source.getRepository(Job).findOneBy({ owner })) ?? this.claim(kinds);
  }

  /** @throws LeaseLost when another process has it by now */
  async renew(job: Job): Promise<void> {
    await this.ofOwner(job, 'until = UTC_TIMESTAMP(3) + INTERVAL ? SECOND, changedAt = UTC_TIMESTAMP(3)', [LEASE_S]);
  }

  /** @throws LeaseLost when another process has it by now */
  async report(job: Job, stage: JobStage, share: number): Promise<void> {
    await this.ofOwner(job, 'stage = ?, share = ?, changedAt = UTC_TIMESTAMP(3)', [stage, share]);
  }

  /**
   * Ends a job with its result.
   * @param manager that of the transaction which keeps the result, so that a job is done once, whoever did it
   * @throws LeaseLost when another process has it by now
   */
  async finish(job: Job, result: object, manager: EntityManager): Promise<void> {
    const done = `state = 'done', share = 1, outcome = ?, owner = NULL, until = NULL, changedAt = UTC_TIMESTAMP(3)`;
    await this.ofOwner(job, done, [JSON.stringify(result)], manager);
  }

  /** Ends a job without a result. One that another process has by now is left alone. */
  async fail({ id, owner }: Job, failure: JobFailure): Promise<void> {
    await this.source.query(
      `UPDATE jobs SET state = 'failed', outcome = ?, owner = NULL, until = NULL WHERE id = ? AND owner = ?`,
      [JSON.stringify(failure), id, owner],
    );
  }

  /** Gives a job back that this process can't go on with. */
  async giveBack({ id, owner }: Job): Promise<void> {
    await this.source.query(
      `UPDATE jobs SET state = 'waiting', stage = 'waiting', owner = NULL, until = NULL WHERE id = ? AND owner = ?`,
      [id, owner],
    );
  }

  /** One that waits ends here; one that runs is told, and ends where it is done. */
  async cancel(id: string): Promise<void> {
    await this.source.query(
      `UPDATE jobs SET cancelled = 1, outcome = IF(state = 'waiting', ?, outcome), state = IF(state = 'waiting', 'failed', state)
       WHERE id = ? AND state IN ('receiving', 'waiting', 'running')`,
      [JSON.stringify(STOPPED), id],
    );
  }

  /** Takes away what is long over, and what was left half received by processes that died. */
  async sweep(): Promise<void> {
    await this.source.getRepository(Job).delete({ changedAt: LessThan(new Date(Date.now() - STALE_MS)) });
  }

  private async ofOwner(
    { id, owner }: Job,
    changes: string,
    values: readonly unknown[],
    manager: EntityManager = this.source.manager,
  ): Promise<void> {
    const found = await manager.query<{ affectedRows: number }>(
      `UPDATE jobs SET ${changes} WHERE id = ? AND owner = ? AND cancelled = 0`,
      [...values, id, owner],
    );
    if (found.affectedRows === 0) throw new LeaseLost();
  }
}
