import { monitorEventLoopDelay } from 'node:perf_hooks';
import { Injectable, type OnModuleDestroy } from '@nestjs/common';
import { log } from '../http/log.js';

/** Whoever waits for an answer notices a longer hold. */
const MOST_MS = 100;
/** How finely holds are seen, and how often they are told. */
const RESOLUTION_MS = 10;
const TOLD_EVERY_MS = 1000;

/**
 * Says in the log when something held the event loop: computing belongs to the worker threads, and while this process
 * computes it answers nobody.
 */
@Injectable()
export class LoopWatch implements OnModuleDestroy {
  private readonly delays = monitorEventLoopDelay({ resolution: RESOLUTION_MS });
  private timer?: NodeJS.Timeout;

  /** From when it serves: while it starts nobody waits for an answer. */
  begin(): void {
    this.delays.enable();
    this.timer = setInterval(() => this.tell(), TOLD_EVERY_MS).unref();
  }

  onModuleDestroy(): void {
    clearInterval(this.timer);
    this.delays.disable();
  }

  private tell(): void {
    // What is measured is the time between two looks, in nanoseconds.
    const heldMs = Math.round(this.delays.max / 1e6) - RESOLUTION_MS;
    this.delays.reset();
    if (heldMs > MOST_MS) log.warn({ heldMs }, 'something held the event loop');
  }
}
