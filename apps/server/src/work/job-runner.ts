import { InputError } from '@jarro/core';
import {
  ConflictException,
  HttpException,
  HttpStatus,
  Injectable,
  ServiceUnavailableException,
  type BeforeApplicationShutdown,
  type OnApplicationBootstrap,
} from '@nestjs/common';
import { InjectDataSource } from '@nestjs/typeorm';
import { DataSource } from 'typeorm';
import type { JobStage } from '@jarro/api-types';
import type { SignedIn } from '../auth/signed-in.js';
import { log } from '../http/log.js';
import { isDatabaseAway, toProblem } from '../http/problem.filter.js';
import { Shop, User } from '../people/people.entities.js';
import { Jobs, LeaseLost, STOPPED } from './jobs.js';
import type { Job, JobFailure, JobKind } from './jobs.entities.js';

/** How often jobs are looked for that other processes left, and whether one's own was stopped elsewhere. */
const LOOK_MS = 2000;
const RENEW_MS = 10_000;
const ASK_MS = 40;
/** How long whoever waits for a job puts up with a database that is away. */
const PATIENCE_MS = 60_000;
/** A job that ended so many processes is its own cause. */
const MOST_ATTEMPTS = 3;
/** Shares are written no finer than this: each is a row written. */
const FINEST_SHARE = 0.1;

/** Of each lane a process does one job at a time, so that one record of it stands in memory; a long import keeps no capture waiting. */
const LANES: readonly (readonly JobKind[])[] = [['capture', 'measure-again'], ['import'], ['report'], ['backup']];

/** What a job has while it runs. */
export interface Running {
  readonly job: Job;
  readonly me: SignedIn;
  /** Aborts when it was stopped, or taken by another process. */
  readonly gone: AbortSignal;
  readonly report: (stage: JobStage, share?: number) => Promise<void>;
}

/** Does a job of one kind; ends by calling `finish` in the transaction that keeps what came of it. */
export type JobHandler = (running: Running) => Promise<void>;

/** Takes jobs off the table, whichever process they came in by. */
@Injectable()
export class JobRunner implements OnApplicationBootstrap, BeforeApplicationShutdown {
  private readonly handlers = new Map<JobKind, JobHandler>();
  private readonly stopping = new AbortController();
  private timer: NodeJS.Timeout | undefined;
  private readonly turns = new Map<(typeof LANES)[number], Promise<void>>();

  constructor(
    @InjectDataSource() private readonly source: DataSource,
    private readonly jobs: Jobs,
  ) {}

  handle(kind: JobKind, handler: JobHandler): void {
    this.handlers.set(kind, handler);
  }

  onApplicationBootstrap(): void {
    this.timer = setInterval(() => this.look(), LOOK_MS).unref();
  }

  /** Before the threads and the database go: what runs is given back. */
  async beforeApplicationShutdown(): Promise<void> {
    clearInterval(this.timer);
    this.stopping.abort();
    await Promise.all(this.turns.values());
  }

  /**
   * Waits for a job to end, whoever does it.
   * @param gone stops it when nobody waits for it any more
   * @throws what it failed with; ServiceUnavailableException when this process stops, and another will do it
   */
  async result<T extends object>(id: string, gone: AbortSignal): Promise<T> {
    this.look();
    const stop = () => {
      // Connections that end because this process does say nothing of whoever waits.
      if (this.stopping.signal.aborted) return;
      void this.jobs.cancel(id).catch((error: unknown) => log.warn({ err: error }, 'job not stopped'));
    };
    gone.addEventListener('abort', stop, { once: true });
    try {
      for (const since = Date.now(); ;) {
        const job = await this.ask(id, since);
        if (!job) throw new ConflictException(STOPPED.detail);
        if (job.state === 'done') return job.outcome as T;
        if (job.state === 'failed') throw asException(job.outcome as JobFailure);
        if (this.stopping.signal.aborted) {
          throw new ServiceUnavailableException(
            'The server is stopping. The file came in and is worked on later; look again in a minute.',
          );
        }
        await new Promise((resolve) => setTimeout(resolve, ASK_MS));
      }
    } finally {
      gone.removeEventListener('abort', stop);
    }
  }

  /** A database that is away for a moment takes no job with it. */
  private async ask(id: string, since: number): Promise<Job | null> {
    for (;;) {
      try {
        return await this.jobs.find(id);
      } catch (error) {
        if (!isDatabaseAway(error) || Date.now() - since > PATIENCE_MS) throw error;
        await new Promise((resolve) => setTimeout(resolve, LOOK_MS / 4));
        this.look();
      }
    }
  }

  /** Does what there is to do, of what this process knows to do: not every one is told where backups go. */
  look(): void {
    for (const lane of LANES) {
      if (this.turns.has(lane) || this.stopping.signal.aborted) continue;
      const known = lane.filter((kind) => this.handlers.has(kind));
      if (known.length === 0) continue;
      const turn = this.doAll(known)
        .catch((error: unknown) => log.warn({ err: error }, 'jobs not looked for this time'))
        .finally(() => this.turns.delete(lane));
      this.turns.set(lane, turn);
    }
  }

  private async doAll(lane: readonly JobKind[]): Promise<void> {
    while (!this.stopping.signal.aborted) {
      const job = await this.jobs.claim(lane);
      if (!job) return;
      await this.run(job);
    }
  }

  private async run(job: Job): Promise<void> {
    const lost = new AbortController();
    const stopWatch = this.watch(job, lost);
    const gone = AbortSignal.any([lost.signal, this.stopping.signal]);
    try {
      const handler = this.handlers.get(job.kind);
      if (!handler) throw new Error(`No handler for jobs of the kind ${job.kind}.`);
      if (job.attempts > MOST_ATTEMPTS)
        throw new InputError('This ended the server again and again. Where it is a file, send a shorter record.');
      await handler({ job, me: await this.whoFor(job), gone, report: this.reporterOf(job) });
    } catch (error) {
      // What isn't the job's own fault is tried again, by whoever is free.
      if (this.stopping.signal.aborted || isDatabaseAway(error)) await this.jobs.giveBack(job);
      else if (error instanceof LeaseLost || lost.signal.aborted) await this.jobs.fail(job, STOPPED);
      else await this.jobs.fail(job, failureOf(error));
    } finally {
      stopWatch();
    }
  }

  /** Keeps the lease, and looks whether the job was stopped or taken. */
  private watch(job: Job, lost: AbortController): () => void {
    let renewedAt = Date.now();
    const look = async () => {
      const now = await this.jobs.find(job.id);
      if (!now || now.cancelled || now.owner !== job.owner) lost.abort();
      else if (Date.now() - renewedAt >= RENEW_MS) {
        await this.jobs.renew(job);
        renewedAt = Date.now();
      }
    };
    // What can't be asked now is asked again before the lease is over.
    const timer = setInterval(
      () => void look().catch((error: unknown) => log.warn({ err: error }, 'lease not looked after this time')),
      LOOK_MS / 4,
    );
    return () => clearInterval(timer);
  }

  private reporterOf(job: Job): Running['report'] {
    let last: { stage: JobStage; share: number } = { stage: 'waiting', share: 0 };
    return async (stage, share = 0) => {
      if (stage === last.stage && share - last.share < FINEST_SHARE) return;
      last = { stage, share };
      await this.jobs.report(job, stage, share);
    };
  }

  private async whoFor({ userId }: Job): Promise<SignedIn> {
    const user = await this.source.getRepository(User).findOneByOrFail({ id: userId });
    const shop = await this.source.getRepository(Shop).findOneByOrFail({ id: user.shopId });
    return { user, shop };
  }
}

function failureOf(error: unknown): JobFailure {
  const { status, detail } = toProblem(error);
  if (status >= 500) log.error({ err: error }, 'a job failed');
  return { status, detail };
}

function asException({ status, detail }: JobFailure): HttpException | InputError {
  return status === Number(HttpStatus.UNPROCESSABLE_ENTITY)
    ? new InputError(detail)
    : new HttpException(detail, status);
}
