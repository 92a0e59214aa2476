import { presentEvidence, type Family } from '@jarro/core';
import {
  Injectable,
  ServiceUnavailableException,
  type OnApplicationBootstrap,
  type OnApplicationShutdown,
} from '@nestjs/common';
import { InjectDataSource } from '@nestjs/typeorm';
import { DataSource } from 'typeorm';
import { ifFree } from '../database/lease.js';
import { log } from '../http/log.js';
import { LearnedService } from '../learned/learned.service.js';
import { Shop } from '../people/people.entities.js';
import { rulesOf } from '../people/shop-rules.js';
import { WorkPool } from '../work/work-pool.js';
import { Case } from './cases.entities.js';
import { CasesService } from './cases.service.js';
import { groundOf } from './judge.js';

const EVERY_MS = 3000;
/** A case that people are just writing to is weighed when they pause. */
const QUIET_S = 5;

/**
 * Keeps the leading suspect of each open case for the board, where nobody waits for weights. The summaries are the queue: a
 * case whose version is past the one that was weighed last is due. One process at a time is at it, whichever comes first.
 */
@Injectable()
export class SuspectKeeper implements OnApplicationBootstrap, OnApplicationShutdown {
  private timer: NodeJS.Timeout | undefined;
  private weighing: Promise<unknown> | undefined;
  private isStopping = false;

  constructor(
    @InjectDataSource() private readonly source: DataSource,
    private readonly cases: CasesService,
    private readonly learned: LearnedService,
    private readonly pool: WorkPool,
  ) {}

  onApplicationBootstrap(): void {
    this.timer = setInterval(() => this.tick(), EVERY_MS).unref();
  }

  async onApplicationShutdown(): Promise<void> {
    this.isStopping = true;
    clearInterval(this.timer);
    await this.weighing;
  }

  private tick(): void {
    this.weighing ??= this.weighDue()
      .catch((error: unknown) => log.warn({ err: error }, 'no case was weighed for the board this time'))
      .finally(() => (this.weighing = undefined));
  }

  /** One case after the other, so that whoever gives a verdict waits for one at most. */
  private async weighDue(): Promise<void> {
    if (!(await this.due(QUIET_S))) return;
    await ifFree(this.source, 'suspects', async () => {
      while (!this.isStopping && (await this.weighNext()));
    });
  }

  /** The case that changed last among those that are due. */
  private async due(quietS: number): Promise<{ readonly caseId: string; readonly version: number } | undefined> {
    const [due] = await this.source.query<{ caseId: string; version: number }[]>(
      `SELECT caseId, version FROM case_summaries WHERE isOpen AND weighedVersion < version
         AND changedAt <= UTC_TIMESTAMP(3) - INTERVAL ? SECOND ORDER BY changedAt DESC LIMIT 1`,
      [quietS],
    );
    return due;
  }

  /** Weighs the case that changed last. @returns whether any was due */
  async weighNext(quietS = QUIET_S): Promise<boolean> {
    const due = await this.due(quietS);
    if (!due) return false;
    // One that can't be weighed must not keep the others from it.
    const suspect = await this.suspectOf(due.caseId).catch((error: unknown) => {
      // Stopped in the midst of it: the case stays due.
      if (error instanceof ServiceUnavailableException) throw error;
      log.warn({ err: error, caseId: due.caseId }, 'a case could not be weighed for the board');
      return null;
    });
    await this.source.query(
      'UPDATE case_summaries SET suspect = ?, weighedVersion = ? WHERE caseId = ? AND weighedVersion < ?',
      [suspect, due.version, due.caseId, due.version],
    );
    return true;
  }

  /** @returns null where nothing was read yet */
  private async suspectOf(caseId: string): Promise<Family | null> {
    const item = await this.source.getRepository(Case).findOneByOrFail({ id: caseId });
    const shop = await this.source.getRepository(Shop).findOneByOrFail({ id: item.shopId });
    const { links, analyses, goods } = await this.cases.evidence(caseId);
    const found = await this.learned.counted(shop);
    const ground = { ...groundOf(item.complaint, links, analyses, goods), ...(found && { found }) };
    const evidence = presentEvidence(ground, item.stage);
    if (evidence.entries.length + evidence.captures.length === 0) return null;
    const { families } = await this.pool.weigh({ evidence, rules: rulesOf(shop) });
    return families[0].family;
  }
}
