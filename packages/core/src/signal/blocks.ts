/** A signal reduced to equal blocks: the means tell levels, the deviations tell activity. */
export interface Blocks {
  /** Samples a block; the last, shorter block is left out. */
  readonly size: number;
  /** Mean without the block's lowest and highest sample, so that one spike doesn't move it. */
  readonly mean: Float64Array;
  readonly deviation: Float64Array;
}

/** Reduces samples to blocks of `size`, one pass. */
export function toBlocks(samples: Float32Array, size: number): Blocks {
  const count = Math.floor(samples.length / size);
  const mean = new Float64Array(count);
  const deviation = new Float64Array(count);
  for (let b = 0, at = 0; b < count; b++) {
    const pivot = samples[at];
    let sum = 0;
    let squares = 0;
    let low = 0;
    let high = 0;
    for (const end = at + size; at < end; at++) {
      const d = samples[at] - pivot;
      sum += d;
      squares += d * d;
      low = Math.min(low, d);
      high = Math.max(high, d);
    }
    mean[b] = pivot + (size > 3 ? (sum - low - high) / (size - 2) : sum / size);
    deviation[b] = Math.sqrt(Math.max(0, (squares - (sum * sum) / size) / Math.max(1, size - 1)));
  }
  return { size, mean, deviation };
}

/** Averages every `factor` samples of samples[from, to) into one: a low-pass and decimation in one pass. */
export function boxDecimate(samples: Float32Array, from: number, to: number, factor: number): Float32Array {
  if (factor === 1) return samples.slice(from, to);
  const count = Math.floor((to - from) / factor);
  const out = new Float32Array(count);
  for (let i = 0, at = from; i < count; i++) {
    let sum = 0;
    for (const end = at + factor; at < end; at++) sum += samples[at];
    out[i] = sum / factor;
  }
  return out;
}

/** Moving average over 2*half+1 samples, narrower at the edges; linear time. */
export function movingAverage(samples: ArrayLike<number>, half: number): Float64Array {
  return movingAverageInto(new Float64Array(samples.length), samples, half);
}

/** The same into a given array of the samples' length, not the samples themselves. */
export function movingAverageInto<T extends Float32Array | Float64Array>(
  out: T,
  samples: ArrayLike<number>,
  half: number,
): T {
  const count = samples.length;
  let sum = 0;
  for (let i = 0; i < Math.min(half, count); i++) sum += samples[i];
  for (let i = 0; i < count; i++) {
    if (i + half < count) sum += samples[i + half];
    if (i - half - 1 >= 0) sum -= samples[i - half - 1];
    out[i] = sum / (Math.min(count - 1, i + half) - Math.max(0, i - half) + 1);
  }
  return out;
}
