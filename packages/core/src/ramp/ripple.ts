import { levels, median } from '../signal/levels.js';
import type { WorkingSignal } from './working-signal.js';

export interface Extremes {
  readonly minA: number;
  readonly maxA: number;
}

const FEWEST_GROUPS = 8;
/** Turns looked at in a long record, spread evenly. */
const MOST_GROUPS = 4000;

/**
 * Lowest and highest point of the ordinary pattern, free of the recorder's noise.
 * Each turn has a highest and a lowest sample; their median over turns would still carry the noise's own peaks, so the
 * expected largest of that many normal deviates, at the samples near the extreme, is taken off.
 * @param turnS one revolution, or as long a stretch as holds the whole pattern
 */
export function ordinaryExtremes(signal: WorkingSignal, turnS: number, noiseA: number): Extremes {
  const { current, sampleRateHz } = signal;
  const width = Math.max(4, Math.min(Math.round(turnS * sampleRateHz), Math.floor(current.length / FEWEST_GROUPS)));
  const all = Math.floor(current.length / width);
  const stride = Math.ceil(all / MOST_GROUPS);
  const groups = Math.floor(all / stride);
  const groupAt = (g: number) => current.subarray(g * stride * width, (g * stride + 1) * width);
  const ranges = Array.from({ length: groups }, (_, g) => levels(groupAt(g)));
  const maxA = median(ranges.map(({ max }) => max));
  const minA = median(ranges.map(({ min }) => min));
  const within = Math.max(2 * noiseA, 0.02 * (maxA - minA));
  const near = (level: number) => {
    let count = 0;
    for (let g = 0; g < groups; g++) for (const value of groupAt(g)) if (Math.abs(value - level) <= within) count++;
    return count / groups;
  };
  return { maxA: maxA - noiseA * largestOf(near(maxA)), minA: minA + noiseA * largestOf(near(minA)) };
}

/** Expected largest of n standard normals (Blom's approximation 1958, from memory); 0 for a single one. */
function largestOf(n: number): number {
  if (n <= 1) return 0;
  const p = (n - 0.375) / (n + 0.25);
  const t = Math.sqrt(-2 * Math.log(1 - p));
  return t - (2.30753 + 0.27061 * t) / (1 + 0.99229 * t + 0.04481 * t * t);
}
