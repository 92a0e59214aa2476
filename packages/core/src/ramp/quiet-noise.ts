import { boxDecimate, toBlocks } from '../signal/blocks.js';
import type { Segments } from './segments.js';

/** Quiet stretches shorter than this many averages say too little of their noise. */
const FEWEST_QUIET = 24;
const MOST_QUIET = 4096;

/**
 * Noise of the mean of `factor` neighbouring samples, from the quiet part; unknown without one. Measured, not divided by
 * the root of the count: a recorder's noise is often coloured.
 */
export function quietNoise(
  samples: Float32Array,
  { noise, onset, off }: Segments,
): ((factor: number) => number) | undefined {
  if (noise === undefined) return undefined;
  const head = onset ?? 0;
  const tail = off === undefined ? 0 : samples.length - off;
  const [from, to] =
    head >= tail ? [0, Math.floor(0.95 * head)] : [samples.length - Math.floor(0.9 * tail), samples.length];
  return (factor: number) => {
    const most = Math.min(to, from + MOST_QUIET * factor);
    if (factor === 1 || most - from < FEWEST_QUIET * factor) return noise / Math.sqrt(factor);
    const { deviation } = toBlocks(boxDecimate(samples, from, most, factor), 8);
    return Math.sqrt(deviation.reduce((sum, d) => sum + d * d, 0) / deviation.length);
  };
}
