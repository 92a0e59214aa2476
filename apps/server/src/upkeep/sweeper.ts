import { Injectable, type OnApplicationBootstrap, type OnApplicationShutdown } from '@nestjs/common';
import { InjectDataSource } from '@nestjs/typeorm';
import { DataSource, LessThan } from 'typeorm';
import { CaptureStore } from '../captures/capture-store.js';
import { MathService } from '../captures/math.service.js';
import { Originals } from '../captures/originals.js';
import { Attempt, Session } from '../auth/auth.entities.js';
import { log } from '../http/log.js';
import { Jobs } from '../work/jobs.js';

const EVERY_MS = 600_000;

/** Clears away what has run out, and what processes left in the database that died. Any process may do it for all. */
@Injectable()
export class Sweeper implements OnApplicationBootstrap, OnApplicationShutdown {
  private timer: NodeJS.Timeout | undefined;

  constructor(
    @InjectDataSource() private readonly source: DataSource,
    private readonly jobs: Jobs,
    private readonly store: CaptureStore,
    private readonly math: MathService,
    private readonly originals: Originals,
  ) {}

  onApplicationBootstrap(): void {
    this.timer = setInterval(() => void this.tryToSweep(), EVERY_MS).unref();
  }

  onApplicationShutdown(): void {
    clearInterval(this.timer);
  }

  async sweep(): Promise<void> {
    const over = LessThan(new Date());
    await this.source.getRepository(Session).delete({ expiresAt: over });
    await this.source.getRepository(Attempt).delete({ until: over });
    await this.jobs.sweep();
    await this.store.sweep();
    await this.math.sweep();
    await this.originals.sweep();
  }

  /** The database may be away just now: the next time will do. */
  private async tryToSweep(): Promise<void> {
    await this.sweep().catch((error: unknown) => log.warn({ err: error }, 'not swept this time'));
  }
}
