/** Points of a cycle: as many for each cylinder of an engine of two to twelve. */
export const POINTS = 240;

/**
 * Cuts a signal into engine cycles of equal points, each a mean over its share of the cycle, without what goes on for longer
 * than a cycle (the mean over one cycle around each point): a regulator's drift and a slow fall are no injection.
 * @param starts of the cycles, samples
 * @param keeps whether a cycle, from and up to a sample, counts
 */
export function foldCycles(
  samples: Float32Array,
  starts: Float64Array,
  keeps: (from: number, to: number) => boolean,
): Float64Array[] {
  const sums = new Float64Array(samples.length + 1);
  for (let i = 0; i < samples.length; i++) sums[i + 1] = sums[i] + samples[i];
  const sumTo = (at: number) => {
    const below = Math.floor(at);
    return sums[below] + (at - below) * (below < samples.length ? samples[below] : 0);
  };
  const meanOf = (from: number, to: number) => (sumTo(to) - sumTo(from)) / (to - from);
  const rows: Float64Array[] = [];
  for (let k = 1; k + 2 < starts.length; k++) {
    const [from, length] = [starts[k], starts[k + 1] - starts[k]];
    if (from - length / 2 < 0 || from + 1.5 * length > samples.length || !keeps(from, from + length)) continue;
    rows.push(
      Float64Array.from({ length: POINTS }, (_, p) => {
        const [left, right] = [from + (p * length) / POINTS, from + ((p + 1) * length) / POINTS];
        const middle = (left + right) / 2;
        return meanOf(left, right) - meanOf(middle - length / 2, middle + length / 2);
      }),
    );
  }
  return rows;
}

/** Mean of the cycles, point by point. */
export function meanCycle(rows: readonly Float64Array[]): Float64Array {
  const mean = new Float64Array(POINTS);
  for (const row of rows) row.forEach((value, p) => (mean[p] += value / rows.length));
  return mean;
}
