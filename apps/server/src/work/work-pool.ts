import type { Diagnosis, Recheck, RecheckQuestion } from '@jarro/core';
import { Injectable, ServiceUnavailableException, type OnApplicationShutdown } from '@nestjs/common';
import { Piscina } from 'piscina';
import type { MeasureOutcome, MeasureTask } from '../captures/measure.js';
import { limited } from './limited.js';
import type { ReportTask } from '../reports/render-report.js';
import type { WeighTask } from './worker.js';

const MEASURE_LIMIT_MS = 120_000;
const WEIGH_LIMIT_MS = 30_000;

/**
 * Threads for whatever takes longer than the event loop may wait. Records are measured by one thread, so that two large
 * ones don't stand in memory at once, and cases are weighed by another, so that a verdict never waits for a record.
 */
@Injectable()
export class WorkPool implements OnApplicationShutdown {
  private readonly records = oneThread();
  private readonly cases = oneThread();
  private isStopping = false;

  async onApplicationShutdown(): Promise<void> {
    this.isStopping = true;
    await Promise.all([this.records.destroy(), this.cases.destroy()]);
  }

  /**
   * @param gone stops the work when nobody waits for it any more
   * @throws InputError when it takes too long
   */
  measure(task: MeasureTask, gone: AbortSignal): Promise<MeasureOutcome> {
    const refusal = 'Measuring this file takes too long. Export a shorter record or fewer channels.';
    return limited(MEASURE_LIMIT_MS, refusal, gone, (signal) => this.records.run(task, { name: 'measure', signal }));
  }

  weigh(task: WeighTask): Promise<Diagnosis> {
    return this.ofCase('weigh', task);
  }

  /** The tests that showed the fault beside those after the repair. */
  recheck(task: RecheckQuestion): Promise<Recheck> {
    return this.ofCase('recheck', task);
  }

  /** @returns a PDF */
  report(task: ReportTask): Promise<Uint8Array> {
    return this.ofCase('report', task);
  }

  /** @throws ServiceUnavailableException when this process stops before it is done */
  private async ofCase<T>(name: string, task: object): Promise<T> {
    const refusal = 'Weighing this case takes too long. Void what was entered twice, then try again.';
    // A pool that was ended would begin anew.
    if (this.isStopping) throw isEnding();
    try {
      return await limited(
        WEIGH_LIMIT_MS,
        refusal,
        undefined,
        (signal) => this.cases.run(task, { name, signal }) as Promise<T>,
      );
    } catch (error) {
      if (!this.isStopping) throw error;
      throw isEnding(error);
    }
  }
}

function isEnding(cause?: unknown): ServiceUnavailableException {
  return new ServiceUnavailableException('The server is stopping. Nothing was stored; try again in a moment.', {
    cause,
  });
}

/** Aborting takes the thread down wherever it is; the pool starts another. */
function oneThread(): Piscina {
  return new Piscina({
    filename: process.env.JARRO_WORKER ?? new URL('./thread.cjs', import.meta.url).href,
    minThreads: 1,
    maxThreads: 1,
  });
}
