import { boxDecimate, toBlocks } from '../../signal/blocks.js';
import type { Segments } from './runs.js';

/** Quiet stretches shorter than this many averages say too little of their noise. */
const FEWEST_QUIET = 24;
const MOST_QUIET = 4096;
/** Of blocks of eight: the calmest, and what share of all normal ones' deviation theirs is (chi squared of seven degrees below its 95 % point). */
const CALM_SHARE = 0.95;
const OF_ALL = 0.962;

/**
 * Noise of the mean of `factor` neighbouring samples, from the quiet part; unknown without one. Measured, not divided by
 * the root of the count: a recorder's noise is often coloured.
 */
export function quietNoise(
  samples: Float32Array,
  { noise, quiet }: Segments,
): ((factor: number) => number) | undefined {
  if (noise === undefined || quiet === undefined) return undefined;
  // The edges of what is off belong to the switching.
  const edge = Math.floor(0.08 * (quiet.to - quiet.from));
  const [from, to] = [quiet.from + edge, quiet.to - edge];
  return (factor: number) => {
    const most = Math.min(to, from + MOST_QUIET * factor);
    if (factor === 1 || most - from < FEWEST_QUIET * factor) return noise / Math.sqrt(factor);
    const { deviation } = toBlocks(boxDecimate(samples, from, most, factor), 8);
    // A few hold a spike of ignition's; the rest are noise, and steps that show in some of them only.
    const calm = deviation.sort().subarray(0, Math.ceil(CALM_SHARE * deviation.length));
    return Math.sqrt(calm.reduce((sum, d) => sum + d * d, 0) / calm.length) / OF_ALL;
  };
}
