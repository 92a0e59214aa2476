import { chunksOf, type SampleSource } from '../../capture/source.js';
import { median, quantile } from '../../signal/levels.js';
import { thin } from '../../signal/thin.js';

/** A pin that rests higher than this, V, hangs on the battery through its injector and is pulled down; a lower one is driven up. */
const RESTS_HIGH_V = 2;
/** Back at rest from this share of the way on: a line that is slow or noisy crosses the middle more than once. */
const BACK = 0.2;
/** An injector that is opened twice a cycle gives a second pulse sooner than this share of a cycle. */
const SAME_CYCLE = 0.6;

/**
 * When one cylinder's injector begins to open, once an engine cycle, in samples. It is open for a few hundredths of the time,
 * so the middle of all samples is its rest; the kick as it closes lies beyond the rest and is no opening.
 * @returns empty where the line never leaves one level
 */
export function cycleStarts(injector: SampleSource): Float64Array {
  const few = thin(injector.read(0, injector.length), 65_536);
  const rest = median(few);
  const open = rest > RESTS_HIGH_V ? 0 : quantile(few, 0.999);
  const way = open - rest;
  if (Math.abs(way) < RESTS_HIGH_V / 2) return new Float64Array(0);
  const opens: number[] = [];
  let [isOpen, before, i] = [false, 0, 0];
  for (const chunk of chunksOf(injector)) {
    for (const value of chunk) {
      const share = (value - rest) / way;
      if (!isOpen && share > 0.5) {
        isOpen = true;
        if (i > 0) opens.push(i - 1 + (0.5 - before) / (share - before));
      } else if (isOpen && share < BACK) isOpen = false;
      before = share;
      i++;
    }
  }
  return onceACycle(opens);
}

function onceACycle(opens: readonly number[]): Float64Array {
  if (opens.length < 3) return Float64Array.from(opens);
  const apart = opens.slice(1).map((at, i) => at - opens[i]);
  const longest = apart.reduce((most, length) => Math.max(most, length), 0);
  const cycle = median(apart.filter((length) => length > SAME_CYCLE * longest));
  let last = -Infinity;
  return Float64Array.from(
    opens.filter((at) => {
      const begins = at - last > SAME_CYCLE * cycle;
      if (begins) last = at;
      return begins;
    }),
  );
}
