import { meanOf } from './levels.js';

/** Enough neighbouring samples to meet every level of a coarse recorder. */
const SAMPLES = 8192;
/** Differences below this share of the span are a number format's own, not a recorder's step. */
const LEAST_SHARE = 1e-5;
/** Noise of half a step makes rounding errors random (B. Widrow and I. Kollár, Quantization Noise, 2008; from memory). */
export const DITHER = 0.5;

/** The recorder's step: the smallest difference between two of its levels. */
export function recorderStep(samples: Float32Array): number {
  const from = Math.max(0, Math.floor((samples.length - SAMPLES) / 2));
  const sorted = samples.slice(from, from + SAMPLES).sort();
  const least = LEAST_SHARE * (sorted[sorted.length - 1] - sorted[0]);
  let step = Infinity;
  for (let i = 1; i < sorted.length; i++) {
    const gap = sorted[i] - sorted[i - 1];
    if (gap > least && gap < step) step = gap;
  }
  return Number.isFinite(step) ? step : 0;
}

/**
 * Share of a signal's power that is rounding of a kind that comes back: without noise to make it random, a step turns hum and
 * humps into patterns of their own (step^2 / 12 of power).
 * @param noise of one sample, in the signal's unit
 */
export function roundingShare(samples: Float32Array, step: number, noise: number): number {
  if (noise >= DITHER * step) return 0;
  const mean = meanOf(samples);
  const power = samples.reduce((sum, value) => sum + (value - mean) ** 2, 0) / samples.length;
  return Math.min(1, (step * step) / 12 / (power + 1e-30));
}
