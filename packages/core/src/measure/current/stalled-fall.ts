import { toBlocks } from '../../signal/blocks.js';
import { median } from '../../signal/levels.js';
import type { SampleRange, Segments } from './runs.js';

/** Long enough for a stirred current to show it, short beside a stall. */
const BLOCK_S = 0.002;
/** A start is over by then, and what stands above the run's level is a rotor that stands. */
const START_S = 0.1;
/** Of the run's own level: less is no stalled current. */
const STALLED = 1.6;
/** A stalled level that shows its course: looked at in halves. */
const LOOK_S = 0.03;
/** What the winding's inductance and a rotor that still turns do at its top. */
const TOP_S = 0.004;
/**
 * Of the level, each second: a winding that takes 15 A at half an ohm, some 20 g of copper, warms by 15 K a second, which takes 6 % of
 * its current (0.39 J/gK, 0.4 %/K; from memory); so many times that no feed sags either.
 */
const FASTEST_FALL = 0.5;
/** Of the level, within a look: falls further where the rotor comes free. */
const FARTHEST_FALL = 0.15;
/** The second half of an input's fall is less than the first by as much as the level has gone down; of a rotor that comes free it is more. */
const STEADY = 1.2;
/** Standard deviations of a block's mean. */
const NO_NOISE = 4;

/**
 * Whether a rotor that stands in a run draws less and less: its winding alone takes the feed's volts, so that its current holds. An
 * input that passes no steady current forgets it meanwhile.
 */
export function stalledFalls(
  samples: Float32Array,
  { from, to }: SampleRange,
  sampleRateHz: number,
  { quietLevel = 0, inverted, noise = 0 }: Segments,
): boolean {
  const size = Math.max(4, Math.round(BLOCK_S * sampleRateHz));
  const blockS = size / sampleRateHz;
  const sign = inverted ? -1 : 1;
  const above = toBlocks(samples.subarray(from, to), size).mean.map((value) => sign * (value - quietLevel));
  const settled = above.subarray(Math.round(START_S / blockS));
  if (settled.length < (4 * LOOK_S) / blockS) return false;
  const top = settled.reduce((most, value, i) => (value > settled[most] ? i : most), 0);
  if (settled[top] < STALLED * Math.abs(median(settled))) return false;
  const half = Math.max(2, Math.round(LOOK_S / 2 / blockS));
  const begin = top + Math.round(TOP_S / blockS);
  if (begin + 2 * half >= settled.length) return false;
  const fallOf = (at: number) => settled[at] - settled[at + half];
  const [first, second] = [fallOf(begin), fallOf(begin + half)];
  const least = Math.max(FASTEST_FALL * half * blockS * settled[top], (NO_NOISE * noise) / Math.sqrt(size));
  return first > least && second > least && second < STEADY * first && first + second < FARTHEST_FALL * settled[top];
}
