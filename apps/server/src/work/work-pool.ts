import type { Diagnosis } from '@jarro/core';
import { Injectable, type OnApplicationShutdown } from '@nestjs/common';
import { Piscina } from 'piscina';
import type { MeasureOutcome, MeasureTask } from '../captures/measure.js';
import type { WeighTask } from './worker.js';

const WORKERS = 2;

/** Threads for whatever takes longer than the event loop may wait. */
@Injectable()
export class WorkPool implements OnApplicationShutdown {
  private readonly pool = new Piscina({
    filename: process.env.JARRO_WORKER ?? new URL('./thread.cjs', import.meta.url).href,
    minThreads: 1,
    maxThreads: WORKERS,
  });

  async onApplicationShutdown(): Promise<void> {
    await this.pool.destroy();
  }

  /** @param gone stops the work when nobody waits for it any more */
  measure(task: MeasureTask, gone: AbortSignal): Promise<MeasureOutcome> {
    return this.pool.run(task, { name: 'measure', signal: gone }) as Promise<MeasureOutcome>;
  }

  weigh(task: WeighTask): Promise<Diagnosis> {
    return this.pool.run(task, { name: 'weigh' }) as Promise<Diagnosis>;
  }
}
