import { toBlocks } from '../../signal/blocks.js';
import { median } from '../../signal/levels.js';

/** Several humps, and hardly anything of a level's course. */
export const ACTIVITY_BLOCK_S = 0.005;

/** Nothing flows in an off, so one is as calm as another: what is so many times as lively is none. */
export const LIVELIER = 1.7;

/** Root of the median power in short blocks, without the slow course. */
export function activity(samples: Float32Array, sampleRateHz: number): number {
  return median(toBlocks(samples, Math.max(8, Math.round(ACTIVITY_BLOCK_S * sampleRateHz))).deviation);
}
