import { quantile, median, robustDeviation } from '../signal/levels.js';
import { thin } from './working-signal.js';

/** A current switched on and off by a driver. */
export interface Chopping {
  readonly frequencyHz: number;
  readonly onShare: number;
}

const LOW_SHARE = 0.08;
const HIGH_SHARE = 0.6;
const FEWEST_CYCLES = 12;
/** A driver's clock is steady; brushes are not. */
const STEADY_PERIOD = 0.03;
/** One dead bar of six is off for a sixth of a turn; a driver's off time that short can't be told from it. */
const LEAST_OFF_SHARE = 0.22;
const MOST_SAMPLES = 2_000_000;

/** Tells a chopped current (battery side of a driver module) from a pump's own notches. */
export function findChopping(current: Float32Array, sampleRateHz: number): Chopping | undefined {
  const part = current.subarray(0, Math.min(current.length, MOST_SAMPLES));
  const high = quantile(thin(part, 16_384), 0.95);
  if (!(high > 0)) return undefined;
  const falls: number[] = [];
  let low = 0;
  let on = true;
  for (let i = 0; i < part.length; i++) {
    if (on && part[i] < LOW_SHARE * high) {
      on = false;
      falls.push(i);
    } else if (!on && part[i] > HIGH_SHARE * high) on = true;
    if (!on) low++;
  }
  if (falls.length < FEWEST_CYCLES) return undefined;
  const periods = falls.slice(1).map((at, i) => at - falls[i]);
  const period = median(periods);
  const offShare = low / part.length;
  const steady = robustDeviation(periods, period) <= Math.max(1, STEADY_PERIOD * period);
  const covers = falls.length * period > 0.8 * part.length;
  if (!steady || !covers || offShare < LEAST_OFF_SHARE) return undefined;
  return { frequencyHz: sampleRateHz / period, onShare: 1 - offShare };
}
