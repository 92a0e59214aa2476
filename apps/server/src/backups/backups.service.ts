import { mkdir, readdir, rm, stat } from 'node:fs/promises';
import { join } from 'node:path';
import type { BackupState } from '@jarro/api-types';
import { InputError } from '@jarro/core';
import {
  ConflictException,
  Inject,
  Injectable,
  type OnApplicationBootstrap,
  type OnApplicationShutdown,
  type OnModuleInit,
} from '@nestjs/common';
import { InjectDataSource } from '@nestjs/typeorm';
import { DataSource } from 'typeorm';
import { AuditService } from '../audit/audit.service.js';
import type { SignedIn } from '../auth/signed-in.js';
import { CONFIG, type Config } from '../config.js';
import { log } from '../http/log.js';
import { User } from '../people/people.entities.js';
import { JobRunner, type Running } from '../work/job-runner.js';
import type { Job, JobFailure } from '../work/jobs.entities.js';
import { Jobs } from '../work/jobs.js';
import { dump } from './dump.js';

const LOOK_MS = 600_000;
/** When no shop works, by the machine's clock. */
const HOUR = 2;
const FILE = /^jarro-\d{4}-\d{2}-\d{2}T\d{6}\.sql\.gz$/;

/** Backs the whole database up into a folder of the server, once a day and when a lead asks for it. */
@Injectable()
export class BackupsService implements OnModuleInit, OnApplicationBootstrap, OnApplicationShutdown {
  private timer: NodeJS.Timeout | undefined;

  constructor(
    @InjectDataSource() private readonly source: DataSource,
    @Inject(CONFIG) private readonly config: Config,
    private readonly audit: AuditService,
    private readonly jobs: Jobs,
    private readonly runner: JobRunner,
  ) {}

  onModuleInit(): void {
    const { backups } = this.config;
    if (backups) this.runner.handle('backup', (running) => this.write(running, backups));
  }

  onApplicationBootstrap(): void {
    if (!this.config.backups) return;
    const look = () =>
      void this.beginDaily(new Date()).catch((error: unknown) => log.warn({ err: error }, 'no backup begun this time'));
    this.timer = setInterval(look, LOOK_MS).unref();
    look();
  }

  onApplicationShutdown(): void {
    clearInterval(this.timer);
  }

  async state(): Promise<BackupState> {
    const { folder, kept } = this.config.backups ?? { folder: null, kept: 0 };
    const last = await this.jobs.newest('backup');
    return {
      ...{ folder, kept },
      files: folder === null ? [] : await filesIn(folder),
      running: isUnderWay(last) ? { stage: last.stage, share: last.share } : null,
      problem: last?.state === 'failed' ? (last.outcome as JobFailure).detail : null,
    };
  }

  /**
   * Begins one, which goes on though nobody waits for it.
   * @throws ConflictException where no folder is set, or one is under way
   */
  async begin(me: SignedIn): Promise<void> {
    if (!this.config.backups) {
      throw new ConflictException(
        'No folder for backups is set. Whoever runs the server names one: JARRO_BACKUP_FOLDER.',
      );
    }
    if (isUnderWay(await this.jobs.newest('backup'))) throw new ConflictException('A backup is under way already.');
    await this.receive(new Date(), me.user.id);
    await this.audit.note(me, 'backup.begin', '');
  }

  /** Stops the one under way; nothing is left of it. */
  async stop(): Promise<void> {
    const last = await this.jobs.newest('backup');
    if (isUnderWay(last)) await this.jobs.cancel(last.id);
  }

  /** The day's backup, begun by whichever process is first. */
  async beginDaily(now: Date): Promise<void> {
    const { backups } = this.config;
    if (!backups || now.getHours() < HOUR) return;
    const [day] = nameAt(now).split('T');
    if ((await filesIn(backups.folder)).some(({ name }) => name.startsWith(day))) return;
    // Another process is at it, or it failed within the hour.
    if ((await this.jobs.newest('backup'))?.id.startsWith(day)) return;
    // Before the shop has its owner there is nothing to keep.
    const lead = await this.source.getRepository(User).findOneBy({ role: 'lead', active: true });
    if (lead) await this.receive(startOfMinute(now), lead.id);
  }

  /**
   * A job has the name of its file: two processes that begin the day's in the same minute begin one.
   * @throws ConflictException where it is begun already
   */
  private async receive(at: Date, userId: string): Promise<void> {
    const id = nameAt(at);
    await this.jobs.receive({ id, kind: 'backup', caseId: null, userId }, () => Promise.resolve({}));
    this.runner.look();
  }

  private async write({ job, gone, report }: Running, { folder, kept }: NonNullable<Config['backups']>): Promise<void> {
    const file = `${job.id}.sql.gz`;
    const shareAt = await this.shares();
    await report('storing');
    const onTable = (table: string) =>
      void report('storing', shareAt.get(table)).catch((error: unknown) => log.warn({ err: error }, 'share not kept'));
    try {
      await mkdir(folder, { recursive: true, mode: 0o700 });
      // There already: whoever wrote it died before it could say so.
      if (!(await filesIn(folder)).some(({ name }) => name === file))
        await dump(this.config.databaseUrl, join(folder, file), { gone, onTable });
    } catch (error) {
      gone.throwIfAborted();
      throw new InputError(`Nothing was backed up. ${error instanceof Error ? error.message : String(error)}`);
    }
    for (const old of (await filesIn(folder)).slice(kept)) await rm(join(folder, old.name), { force: true });
    await this.jobs.finish(job, { id: file }, this.source.manager);
  }

  /** How much of the database stands before each table, in the order of their names, in which they are written. */
  private async shares(): Promise<Map<string, number>> {
    const tables = await this.source.query<{ name: string; bytes: string }[]>(
      `SELECT TABLE_NAME AS name, DATA_LENGTH AS bytes FROM information_schema.tables
       WHERE TABLE_SCHEMA = DATABASE() ORDER BY TABLE_NAME`,
    );
    const all = tables.reduce((sum, { bytes }) => sum + Number(bytes), 0);
    let before = 0;
    return new Map(
      tables.map(({ name, bytes }) => {
        const share = before / all;
        before += Number(bytes);
        return [name, share];
      }),
    );
  }
}

const isUnderWay = (job: Job | undefined): job is Job => job?.state === 'waiting' || job?.state === 'running';

const startOfMinute = (at: Date) =>
  new Date(at.getFullYear(), at.getMonth(), at.getDate(), at.getHours(), at.getMinutes());

/** By the machine's clock, as `jarro-2026-03-08T020000`. */
function nameAt(at: Date): string {
  const two = (part: number) => String(part).padStart(2, '0');
  const day = [at.getFullYear(), two(at.getMonth() + 1), two(at.getDate())].join('-');
  return `jarro-${day}T${two(at.getHours())}${two(at.getMinutes())}${two(at.getSeconds())}`;
}

/** Backups in a folder, newest first; none where it isn't there yet. One may be taken away while they are looked at. */
async function filesIn(folder: string): Promise<BackupState['files']> {
  const names = (await unlessGone(readdir(folder))) ?? [];
  const files = await Promise.all(
    names
      .filter((name) => FILE.test(name))
      .map(async (name) => {
        const found = await unlessGone(stat(join(folder, name)));
        return found && { name, sizeBytes: found.size, at: found.mtime.toISOString() };
      }),
  );
  return files.filter((file) => file !== undefined).sort((a, b) => b.name.localeCompare(a.name));
}

/** The codes of what isn't there, or lies below something that is no folder. */
const GONE: readonly unknown[] = ['ENOENT', 'ENOTDIR'];

async function unlessGone<T>(asked: Promise<T>): Promise<T | undefined> {
  try {
    return await asked;
  } catch (error) {
    if (GONE.includes((error as NodeJS.ErrnoException).code)) return undefined;
    throw error;
  }
}
