/** Half-open range of indices. */
export interface Range {
  readonly from: number;
  readonly to: number;
}

/** Ranges of indices at which something holds. */
export function rangesWhere(holds: readonly boolean[]): Range[] {
  return rangesBy(holds.length, (i) => holds[i]);
}

/** Ranges of values for which something holds. */
export function rangesOf(values: Float64Array, holds: (value: number, index: number) => boolean): Range[] {
  return rangesBy(values.length, (i) => holds(values[i], i));
}

function rangesBy(length: number, holds: (index: number) => boolean): Range[] {
  const ranges: Range[] = [];
  let from = -1;
  for (let i = 0; i <= length; i++) {
    const here = i < length && holds(i);
    if (here && from < 0) from = i;
    if (!here && from >= 0) {
      ranges.push({ from, to: i });
      from = -1;
    }
  }
  return ranges;
}

/**
 * Highest less lowest of each window of `width` values; one result a window, linear time.
 * Two queues hold the indices that can still be a window's extreme (Lemire, "Streaming maximum-minimum filter using no
 * more than three comparisons per element", 2006; from memory).
 */
export function slidingRange(values: Float64Array, width: number): Float64Array {
  const out = new Float64Array(Math.max(0, values.length - width + 1));
  const highest = new Int32Array(values.length);
  const lowest = new Int32Array(values.length);
  let [highFrom, highTo, lowFrom, lowTo] = [0, 0, 0, 0];
  for (let i = 0; i < values.length; i++) {
    while (highTo > highFrom && values[highest[highTo - 1]] <= values[i]) highTo--;
    highest[highTo++] = i;
    while (lowTo > lowFrom && values[lowest[lowTo - 1]] >= values[i]) lowTo--;
    lowest[lowTo++] = i;
    if (highest[highFrom] <= i - width) highFrom++;
    if (lowest[lowFrom] <= i - width) lowFrom++;
    if (i >= width - 1) out[i - width + 1] = values[highest[highFrom]] - values[lowest[lowFrom]];
  }
  return out;
}
