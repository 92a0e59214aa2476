import type { Blocks } from '../../signal/blocks.js';
import { median, quantile } from '../../signal/levels.js';
import { removeMains } from '../../signal/mains.js';
import { rangesWhere, slidingRange } from '../../signal/ranges.js';
import { withoutSpikes } from '../../signal/spikes.js';
import { thin } from '../../signal/thin.js';
import type { Recorder } from './calm-runs.js';
import {
  DRIFT_A,
  drawLog,
  LEAST_DRAW_A,
  MOST_OFFSET_A,
  OFF_SHARE,
  offReach,
  RARE,
  signLog,
  WRONG_SIDE,
  zeroLog,
  type Explanation,
} from './explanation.js';
import { isSwitchedOff, restsLow, type Lower } from './faltering.js';
import type { Floor } from './floor.js';
import { coastingFromFileZero, offAt } from './off-at-zero.js';
import { stretchesOfOff } from './off-stretches.js';
import { allOn, type AsksForHumps } from './on-throughout.js';

/** Flat: within this share of the record's whole range. */
const FLAT_SHARE = 0.1;
/** Levels that differ by less than so many of their own errors are one level. */
const STILL = 10;

/** @param views the record's course with and without the mains */
export function explain(
  views: readonly Blocks[],
  recorder: Recorder,
  { zeroStated, ...record }: Readonly<Record<'zeroStated' | 'hasFloor', boolean>> & AsksForHumps,
): Explanation[] {
  const { aTurn } = recorder;
  const seen = views.map((blocks) => ({ blocks, ...flatness(blocks, recorder) }));
  const byLevel = seen.flatMap(({ blocks, calm, flat, settled, tolerance, noise }) => {
    const levels = zeroStated ? [0] : candidateZeros(blocks.mean, flat, aTurn, tolerance);
    const view = { blocks, calm, flat, settled, noise, tolerance, humpsPassIn: record.humpsPassIn };
    return [
      ...levels.flatMap((zero) => offAt(zero, view, recorder, zeroStated)),
      ...(zeroStated ? [] : coastingFromFileZero(view, recorder)),
    ];
  });
  const lower = seen.map(({ calm, flat, noise }) => {
    const reach = offReach(Math.abs(median(calm)), noise);
    return {
      ...{ course: calm, flat, aTurn, humpsPassIn: record.humpsPassIn },
      // A stated zero is where it is, but for its wandering.
      isNear: (level: number) => !zeroStated || Math.abs(level) <= reach,
    };
  });
  const rests = lower.some((one) => restsLow(one, one.isNear));
  const running = (hasCalmOff: boolean) =>
    seen.flatMap(({ blocks, range, noise }) =>
      // Nothing of the record is off: the file's own zero has to do.
      allOn(blocks, recorder, { ...record, isStill: range < STILL * noise, hasCalmOff, rests }, zeroStated),
    );
  const staysOn = running(false).length > 0 && seen.every(({ blocks, noise }) => standsOffZero(blocks, noise));
  const offs = staysOn ? byLevel.filter(({ off }) => lower.some((one) => isOffThere(off, one))) : byLevel;
  return [
    ...offs,
    ...running(offs.some(({ isCalm }) => isCalm)),
    ...seen.map(({ blocks, range, noise }) => nothingFlows(blocks, range, noise, zeroStated)),
  ];
}

/** Whether a current is never near to the clamp's zero. */
function standsOffZero({ mean }: Blocks, noise: number): boolean {
  const few = thin(mean, LOOKED_AT);
  const level = median(few);
  const sign = level < 0 ? -1 : 1;
  return (
    quantile(
      few.map((value) => sign * value),
      WRONG_SIDE,
    ) > offReach(Math.abs(level), noise)
  );
}

/** Whether anything that an explanation takes for off is switched. */
function isOffThere(off: readonly boolean[], lower: Lower): boolean {
  const level = median(lower.course.filter((_, i) => !off[i]));
  return rangesWhere(off).some((range) => isSwitchedOff(range, level, lower));
}

function flatness(blocks: Blocks, { aTurn, blocksHz }: Recorder) {
  const { mean } = blocks;
  const range = quantile(mean, 0.99) - quantile(mean, 0.01);
  const noise = quantile(blocks.deviation, 0.1) / Math.sqrt(blocks.size);
  const tolerance = Math.max(FLAT_SHARE * range, 6 * noise);
  const calm = withoutSpikes(mean);
  const flat = flatBlocks(calm, aTurn, tolerance);
  return { range, noise, tolerance, calm, flat, settled: withoutHum(mean, flat, blocksHz) };
}

/** The course without the mains where the record begins or ends flat: there they show, though all that runs may hide them. */
function withoutHum(course: Float64Array, flat: readonly boolean[], blocksHz: number): Float64Array {
  const settled = course.slice();
  for (const { from, to } of rangesWhere(flat).filter((range) => range.from === 0 || range.to === flat.length)) {
    const part = Float32Array.from(course.subarray(from, to));
    if (removeMains(part, blocksHz, [1])) settled.set(part, from);
  }
  return settled;
}

/** Blocks of stretches, longer than any turn, that stay within `tolerance`. */
function flatBlocks(mean: Float64Array, aTurn: number, tolerance: number): boolean[] {
  const flat = Array.from(mean, () => false);
  const width = Math.min(aTurn, mean.length);
  slidingRange(mean, width).forEach((range, from) => {
    if (range <= tolerance) flat.fill(true, from, from + width);
  });
  return flat;
}

/** Levels at which something is flat for a turn and more, and those at which the record begins and ends. */
function candidateZeros(mean: Float64Array, flat: readonly boolean[], aTurn: number, apart: number): number[] {
  const few = Math.max(2, Math.min(5, Math.floor(mean.length / 40)));
  const levels: number[] = [];
  for (const { from, to } of rangesWhere(flat)) {
    // Neighbouring stretches may be flat at levels of their own.
    for (let at = from; at < to; at += aTurn) levels.push(median(mean.subarray(at, Math.min(to, at + aTurn))));
  }
  levels.push(median(mean.subarray(0, few)), median(mean.subarray(mean.length - few)));
  const kept: number[] = [];
  for (const level of levels) if (kept.every((other) => Math.abs(level - other) > apart / 4)) kept.push(level);
  return kept;
}

/** So many blocks show the distribution of all. */
const LOOKED_AT = 4096;

/**
 * What the current falls to again and again is nothing, and what rests there for longer than a turn is off. Only where
 * nothing else says so.
 */
export function onFloors(
  floors: readonly Floor[],
  blocks: Blocks,
  recorder: Recorder,
  others: readonly Explanation[],
): Explanation[] {
  if (floors.length === 0) return [];
  const { aTurn, passesSteady } = recorder;
  const { flat, calm } = flatness(blocks, recorder);
  const hasCalmOff = others.some(({ isCalm }) => isCalm);
  const rare = Math.log(RARE) * (hasCalmOff ? 1 : 0.5);
  return floors
    .filter(({ level }) => !passesSteady || Math.abs(level) < MOST_OFFSET_A)
    .filter((floor) => !others.some((other) => agrees(other, floor)) && !restsElsewhere(floor, calm, flat))
    .map((floor): Explanation => {
      const { level: zero, sign, draw } = floor;
      const near = Array.from(blocks.mean, (value) => Math.abs(value - zero) <= OFF_SHARE * draw);
      const logOdds = zeroLog(zero, false) + drawLog(draw) + signLog(sign) + rare;
      return { zero, sign, draw, off: stretchesOfOff(near, flat, aTurn), floor, logOdds };
    });
}

function agrees({ zero, sign, off }: Explanation, floor: Floor): boolean {
  return sign === floor.sign && off.includes(true) && Math.abs(zero - floor.level) < OFF_SHARE * floor.draw;
}

/** A current that falls to nothing in every turn or cycle is nowhere else flat for longer than any of them. */
function restsElsewhere({ level, draw }: Floor, mean: Float64Array, flat: readonly boolean[]): boolean {
  return mean.some((value, i) => flat[i] && Math.abs(value - level) > 0.5 * draw);
}

function nothingFlows({ mean }: Blocks, range: number, noise: number, zeroStated: boolean): Explanation {
  const level = median(mean);
  // Humps, notches and starts move the level: what moves by more than the noise is no open circuit.
  const moves = Math.max(0, range - 8 * noise - DRIFT_A) / LEAST_DRAW_A;
  const logOdds =
    zeroLog(level, false) -
    Math.min(40, moves * moves) +
    Math.log(RARE) +
    (zeroStated && Math.abs(level) > DRIFT_A ? -10 : 0);
  return { zero: zeroStated ? 0 : level, sign: 1, draw: 0, off: Array.from(mean, () => true), logOdds };
}
