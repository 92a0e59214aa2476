import { boxDecimate, movingAverage, toBlocks } from '../../signal/blocks.js';
import { median, robustDeviation } from '../../signal/levels.js';
import type { Run, SampleRange } from './runs.js';

/** Settling is a matter of milliseconds: a coarse copy of the run's first part shows it. */
const COARSE_RATE_HZ = 5000;
const LOOKED_AT_S = 1.5;
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
/** Of the usual current, over a turn of the slowest pump: more than any load moves it, and in so many turns a start is over. */
const BEGINS_ABOVE = 1.1;
const SLOWEST_TURN_S = 0.04;
const FEWEST_TURNS = 6;
/** Left out before key-off. */
const GUARD_S = 0.003;
const FEWEST_S = 0.016;
/** Settled when within this share of the level that follows. */
const SETTLED = 0.012;

/**
 * The stretch of a run in which the draw has settled after the inrush.
 * @returns a range of `samples`, or undefined when the current never settles
 */
export function findSteady(
  samples: Float32Array,
  sampleRateHz: number,
  run: Run,
  zero: number,
  inverted: boolean,
): SampleRange | undefined {
  const to = run.to - Math.round(GUARD_S * sampleRateHz);
  const whole = { from: run.from, to: Math.max(run.from + 1, to) };
  const factor = Math.max(1, Math.round(sampleRateHz / COARSE_RATE_HZ));
  const lookedAt = Math.min(run.to, run.from + Math.round(LOOKED_AT_S * sampleRateHz));
  const coarse = boxDecimate(samples, run.from, lookedAt, factor);
  for (let i = 0; i < coarse.length; i++) coarse[i] = inverted ? zero - coarse[i] : coarse[i] - zero;
  const startIsSeen = run.onset !== undefined || run.settles === true;
  if (!startIsSeen && !beginsHigh(coarse, sampleRateHz / factor)) return whole;
  const settled = findSettled(coarse, sampleRateHz / factor);
  const from = run.from + (settled ?? 0) * factor;
  if (settled !== undefined && to - from >= FEWEST_S * sampleRateHz) return { from, to };
  return startIsSeen ? undefined : whole;
}

/** Whether a record begins amid a start, whose first rise it doesn't show: with more current than it ever has from then on. */
function beginsHigh(current: Float32Array, sampleRateHz: number): boolean {
  const { mean } = toBlocks(current, Math.max(1, Math.round(SLOWEST_TURN_S * sampleRateHz)));
  const later = mean.subarray(1);
  return later.length >= FEWEST_TURNS && mean[0] > BEGINS_ABOVE * median(later) && later.every((one) => one < mean[0]);
}

/** Where the start of a run is over; undefined when the record is too short to tell. */
function findSettled(current: Float32Array, sampleRateHz: number): number | undefined {
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
  return (settled + 1) * size;
}
