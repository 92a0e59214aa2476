import { quantile } from '../signal/levels.js';
import type { WorkingSignal } from './working-signal.js';

export interface Extremes {
  readonly minA: number;
  readonly maxA: number;
}

const FEWEST_GROUPS = 8;

/**
 * Lowest and highest point of the ordinary pattern, free of the recorder's noise.
 * Each turn has a highest and a lowest sample; their median over turns would still carry the noise's own peaks, so the
 * expected largest of that many normal deviates, at the samples near the extreme, is taken off.
 * @param turnS one revolution, or as long a stretch as holds the whole pattern
 */
export function ordinaryExtremes(signal: WorkingSignal, turnS: number, noiseA: number): Extremes {
  const { current, sampleRateHz } = signal;
  const width = Math.max(4, Math.min(Math.round(turnS * sampleRateHz), Math.floor(current.length / FEWEST_GROUPS)));
  const groups = Math.floor(current.length / width);
  const highs = new Float64Array(groups);
  const lows = new Float64Array(groups);
  for (let g = 0; g < groups; g++) {
    let high = -Infinity;
    let low = Infinity;
    for (let i = g * width; i < (g + 1) * width; i++) {
      if (current[i] > high) high = current[i];
      if (current[i] < low) low = current[i];
    }
    highs[g] = high;
    lows[g] = low;
  }
  const maxA = quantile(highs, 0.5);
  const minA = quantile(lows, 0.5);
  const near = (level: number) => countNear(current, level, Math.max(2 * noiseA, 0.02 * (maxA - minA))) / groups;
  return { maxA: maxA - noiseA * largestOf(near(maxA)), minA: minA + noiseA * largestOf(near(minA)) };
}

function countNear(values: Float32Array, level: number, within: number): number {
  let count = 0;
  for (const value of values) if (Math.abs(value - level) <= within) count++;
  return count;
}

/** Expected largest of n standard normals (Blom's approximation 1958, from memory); 0 for a single one. */
function largestOf(n: number): number {
  if (n <= 1) return 0;
  const p = (n - 0.375) / (n + 0.25);
  const t = Math.sqrt(-2 * Math.log(1 - p));
  return t - (2.30753 + 0.27061 * t) / (1 + 0.99229 * t + 0.04481 * t * t);
}
