import { quickselect } from 'simple-statistics';
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

/**
 * Standard deviation of samples[from, to) about the straight line that fits them best (n - 2), of no more slope than given.
 * @param mostSlope in either direction, a sample
 */
export function deviationAboutLine(samples: ArrayLike<number>, from: number, to: number, mostSlope: number): number {
  const count = to - from;
  if (count <= 2) return 0;
  const middle = (count - 1) / 2;
  const pivot = samples[from];
  let [sum, squares, product] = [0, 0, 0];
  for (let i = 0; i < count; i++) {
    const d = samples[from + i] - pivot;
    sum += d;
    squares += d * d;
    product += d * (i - middle);
  }
  const spread = (count * (count * count - 1)) / 12;
  const slope = Math.max(-mostSlope, Math.min(mostSlope, product / spread));
  const rest = squares - (sum * sum) / count - 2 * slope * product + slope * slope * spread;
  return Math.sqrt(Math.max(0, rest) / (count - 2));
}

/** Mean of a signal; of one array type only, so that long records stay fast. */
export function meanOf(samples: Float32Array | Float64Array): number {
  let sum = 0;
  for (let i = 0; i < samples.length; i++) sum += samples[i];
  return sum / samples.length;
}

/**
 * The q-quantile (0..1) of numbers; linear between neighbours. Empty input gives NaN; numbers that are none count as the
 * largest. The neighbours are selected (Floyd and Rivest), since to sort all takes several times as long.
 */
export function quantile(values: ArrayLike<number>, q: number): number {
  if (values.length === 0) return NaN;
  const own = new Float64Array(values);
  // To selection NaN is neither less nor more than anything, and ends up anywhere.
  for (let i = 0; i < own.length; i++) if (Number.isNaN(own[i])) own[i] = Infinity;
  const position = Math.min(1, Math.max(0, q)) * (own.length - 1);
  const below = Math.floor(position);
  // It needs no more of an array than its places.
  quickselect(own as unknown as number[], below);
  const low = own[below];
  if (position === below) return low;
  let high = Infinity;
  for (let i = below + 1; i < own.length; i++) if (own[i] < high) high = own[i];
  return low + (position - below) * (high - low);
}

/** The middle of numbers, in their own unit; NaN of none. */
export function median(values: ArrayLike<number>): number {
  return quantile(values, 0.5);
}

/** Consistent with the standard deviation for normal values (factor 1/0.6745). */
const MAD_TO_DEVIATION = 1.4826;

/** Robust standard deviation: the scaled median absolute deviation. */
export function robustDeviation(values: ArrayLike<number>, center = median(values)): number {
  const away = new Float64Array(values);
  for (let i = 0; i < away.length; i++) away[i] = Math.abs(away[i] - center);
  return MAD_TO_DEVIATION * median(away);
}
