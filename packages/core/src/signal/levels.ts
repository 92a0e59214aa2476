/** Plain statistics over a range of samples, one pass, no allocation. Empty ranges give NaN. */
export interface Levels {
  readonly mean: number;
  readonly min: number;
  readonly max: number;
  /** Standard deviation about the mean (n - 1). */
  readonly deviation: number;
}

/**
 * Mean, extremes and standard deviation of samples[from, to).
 * Sums are taken about the first sample, so a large constant level costs no precision.
 */
export function levels(samples: ArrayLike<number>, from = 0, to = samples.length): Levels {
  const count = to - from;
  if (count <= 0) return { mean: NaN, min: NaN, max: NaN, deviation: NaN };
  const pivot = samples[from];
  let sum = 0;
  let squares = 0;
  let min = pivot;
  let max = pivot;
  for (let i = from; i < to; i++) {
    const value = samples[i];
    const d = value - pivot;
    sum += d;
    squares += d * d;
    if (value < min) min = value;
    if (value > max) max = value;
  }
  const variance = count > 1 ? Math.max(0, (squares - (sum * sum) / count) / (count - 1)) : 0;
  return { mean: pivot + sum / count, min, max, deviation: Math.sqrt(variance) };
}

/** Mean of a signal; of one array type only, so that long records stay fast. */
export function meanOf(samples: Float32Array): number {
  let sum = 0;
  for (let i = 0; i < samples.length; i++) sum += samples[i];
  return sum / samples.length;
}

/** The q-quantile (0..1) of numbers, by sorting a copy; linear between neighbours. Empty input gives NaN. */
export function quantile(values: ArrayLike<number>, q: number): number {
  if (values.length === 0) return NaN;
  const sorted = Float64Array.from(values).sort();
  const position = Math.min(1, Math.max(0, q)) * (sorted.length - 1);
  const below = Math.floor(position);
  const above = Math.min(sorted.length - 1, below + 1);
  return sorted[below] + (position - below) * (sorted[above] - sorted[below]);
}

/** The middle of numbers, in their own unit; NaN of none. */
export function median(values: ArrayLike<number>): number {
  return quantile(values, 0.5);
}

/** Consistent with the standard deviation for normal values (factor 1/0.6745). */
const MAD_TO_DEVIATION = 1.4826;

/** Robust standard deviation: the scaled median absolute deviation. */
export function robustDeviation(values: ArrayLike<number>, center = median(values)): number {
  const away = Float64Array.from(values, (value) => Math.abs(value - center));
  return MAD_TO_DEVIATION * median(away);
}
