import { movingAverage, toBlocks } from '../signal/blocks.js';
import { median, robustDeviation } from '../signal/levels.js';
import type { SampleRange } from './segments.js';

const BLOCK_S = 0.004;
/** Blocks averaged to span a turn, so that a notch a turn doesn't hide the settling. */
const HALF_TURN = 2;
/** Averages looked at together, so that a single dropout doesn't decide. */
const GROUP = 5;
/** The inrush is over by then, however hard the start; later changes are not the start's. */
const SETTLES_WITHIN_S = 0.5;
/** Groups that follow, and the share of them that must stay there: a start may cross its final level early, dropouts leave it briefly. */
const AHEAD = 25;
const STAYS = 0.6;
/** Settled when within this share of the level that follows. */
const SETTLED = 0.012;

/**
 * The stretch of a run in which the draw has settled after the inrush.
 * @param current the run only, zeroed and upright
 * @returns a range within `current`, or undefined when the current never settles
 */
export function findSteady(current: Float32Array, sampleRateHz: number, started: boolean): SampleRange | undefined {
  const guard = Math.round(0.003 * sampleRateHz);
  if (!started) return { from: 0, to: Math.max(1, current.length - guard) };
  const size = Math.max(2, Math.min(Math.round(BLOCK_S * sampleRateHz), Math.floor(current.length / 25)));
  const mean = movingAverage(toBlocks(current, size).mean, HALF_TURN);
  const count = mean.length;
  if (count < 2 * GROUP) return undefined;
  const horizon = Math.min(count >> 1, Math.round((SETTLES_WITHIN_S * sampleRateHz) / size));
  const after = mean.slice(horizon, 2 * horizon);
  const level = median(after);
  const within = Math.max(SETTLED * Math.abs(level), 2 * robustDeviation(after, level));
  const near = Array.from(
    { length: horizon + AHEAD },
    (_, b) => Math.abs(median(mean.subarray(b, b + GROUP)) - level) <= within,
  );
  const share = (b: number) => near.slice(b, b + AHEAD).filter(Boolean).length / AHEAD;
  let settled = 1;
  while (settled < horizon && !(near[settled] && share(settled) >= STAYS)) settled++;
  const from = (settled + 1) * size;
  const to = current.length - guard;
  return to - from >= 4 * size ? { from, to } : undefined;
}
