import type { Blocks } from '../../signal/blocks.js';
import { median, quantile } from '../../signal/levels.js';
import { rangesWhere, slidingRange, type Range } from '../../signal/ranges.js';
import { withoutSpikes } from '../../signal/spikes.js';
import { thin } from '../../signal/thin.js';
import { drivenBack, whichRest } from './coasting.js';
import { comesBack } from './resting-level.js';
import { forgetsItsLevel, hasCalmRun, type Recorder } from './calm-runs.js';
import { isSwitchedOff, restsLow, type Lower } from './faltering.js';
import type { Floor } from './floor.js';
import { SHORT_OF_A_TURN, stretchesOfOff } from './off-stretches.js';

/** What one explanation of a record claims (docs/measuring.md, "Zero, sign and off"). */
export interface Explanation {
  readonly zero: number;
  readonly sign: 1 | -1;
  /** Draw of the running pump, A; 0 where it never runs. */
  readonly draw: number;
  /** Whether a block of samples is off. */
  readonly off: readonly boolean[];
  /** Blocks of the off in which a pump that coasts drives its current backwards. */
  readonly coasting?: readonly Range[];
  /** The off is flatter than what runs. */
  readonly isCalm?: boolean;
  /** The pump is never off, but its current falls to nothing again and again. */
  readonly floor?: Floor;
  readonly logOdds: number;
}

/** Flat: within this share of the record's whole range. */
const FLAT_SHARE = 0.1;
/** What is this near to the zero, as a share of the draw, is off. */
const OFF_SHARE = 0.12;
/** A clamp that wasn't zeroed is off by some tenths of an ampere (common practice, no published source). */
const ZERO_SCALE_A = 0.3;
/** Pumps draw 5 A, give or take a factor of two and a half (common practice, no published source). */
const USUAL_DRAW_A = 5;
const DRAW_SPREAD = 0.9;
/** One clamp in ten is fitted backwards. */
const BACKWARDS = 0.1;
/** A running pump without any ripple is as rare as this; so is an off that is as lively as the running pump. */
const RARE = 0.01;
/** Livelier than this share of the running current is no off. */
const LIVELY = 0.8;
/** Share of a running pump's samples that may lie on the wrong side of zero. */
const WRONG_SIDE = 0.02;
const LEAST_DRAW_A = 0.1;
/** Levels nearer to each other than this, in steps of the recorder, may be one that lies between two steps. */
const LEAST_STEPS = 2;
/** A range of 60 A either way by eight bits; what steps further is no recorder's doing. */
const COARSEST_STEP_A = 0.5;
/** A clamp's own zero may wander so far within a record (common practice, no published source). */
const DRIFT_A = 0.3;
/** No clamp is off by as much as half a usual draw. */
export const MOST_OFFSET_A = USUAL_DRAW_A / 2;
/** Root mean square of the faintest humps, 1.5 % of the draw from top to bottom: with less, what flows through stands. */
const FAINTEST_HUMPS = 0.015 / (2 * Math.SQRT2);
/** Of the draw: no clamp's wandering hides so much of it. */
const MOST_DRIFT_SHARE = 0.25;
/** So many of its deviations noise throws a block's mean off at times. */
const IN_NOISE = 4;
/** Levels that differ by less than so many of their own errors are one level. */
const STILL = 10;

interface AsksForHumps {
  /** Whether humps pass in the record, or in a range of its blocks. */
  readonly humpsPassIn: (range?: Range) => boolean;
}

/** @param views the record's course with and without the mains */
export function explain(
  views: readonly Blocks[],
  recorder: Recorder,
  { zeroStated, ...record }: Readonly<Record<'zeroStated' | 'hasFloor', boolean>> & AsksForHumps,
): Explanation[] {
  const { aTurn } = recorder;
  const seen = views.map((blocks) => ({ blocks, ...flatness(blocks, aTurn) }));
  const byLevel = seen.flatMap(({ blocks, calm, flat, tolerance, noise }) => {
    const levels = zeroStated ? [0] : candidateZeros(blocks.mean, flat, aTurn, tolerance);
    const view = { blocks, calm, flat, noise };
    return [
      ...levels.flatMap((zero) => explainBy(zero, view, recorder, zeroStated)),
      ...(zeroStated ? [] : coastingFromFileZero(view, recorder)),
    ];
  });
  const lower = seen.map(({ calm, flat, noise }) => ({
    ...{ course: calm, flat, aTurn, humpsPassIn: record.humpsPassIn },
    // A stated zero is where it is, but for its wandering.
    isNear: (level: number) => !zeroStated || Math.abs(level) <= offReach(Math.abs(median(calm)), noise),
  }));
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

function flatness(blocks: Blocks, aTurn: number) {
  const { mean } = blocks;
  const range = quantile(mean, 0.99) - quantile(mean, 0.01);
  const noise = quantile(blocks.deviation, 0.1) / Math.sqrt(blocks.size);
  const tolerance = Math.max(FLAT_SHARE * range, 6 * noise);
  const calm = withoutSpikes(mean);
  return { range, noise, tolerance, calm, flat: flatBlocks(calm, aTurn, tolerance) };
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

/** Of each value whether it is so; by index, since a long record has many. */
function whichOf(values: Float64Array, isSo: (value: number, i: number) => boolean): boolean[] {
  const which = new Array<boolean>(values.length);
  for (let i = 0; i < values.length; i++) which[i] = isSo(values[i], i);
  return which;
}

/** Median of the values where `off` is as asked for. */
function medianWhere(values: Float64Array, off: readonly boolean[], isOff: boolean): number {
  const chosen = new Float64Array(values.length);
  let count = 0;
  for (let i = 0; i < values.length; i++) if (off[i] === isOff) chosen[count++] = values[i];
  return median(thin(chosen.subarray(0, count), LOOKED_AT));
}

/** A record's course, where it is flat, and the noise of its blocks' means. */
interface View {
  readonly blocks: Blocks;
  /** The blocks' means without spikes. */
  readonly calm: Float64Array;
  readonly flat: readonly boolean[];
  readonly noise: number;
}

/** What flows if the clamp's zero is at a level. */
interface Flow {
  readonly away: Float64Array;
  readonly draw: number;
  readonly sign: 1 | -1;
  /** As near to the zero is off. */
  readonly reach: number;
}

/** @returns undefined where nothing flows to speak of */
function flowFrom(zero: number, { blocks, noise }: View, { stepA }: Recorder): Flow | undefined {
  const away = blocks.mean.map((value) => value - zero);
  const few = thin(away, LOOKED_AT);
  const farthest = quantile(few.map(Math.abs), 0.9);
  if (!(farthest > Math.max(LEAST_DRAW_A, LEAST_STEPS * Math.min(stepA, COARSEST_STEP_A)))) return undefined;
  // Half the usual share at first: the draw isn't known yet.
  const rough = few.filter((value) => Math.abs(value) > OFF_SHARE * farthest);
  if (rough.length < 3) return undefined;
  const middle = median(rough);
  const draw = Math.abs(middle);
  return { away, draw, sign: middle < 0 ? -1 : 1, reach: offReach(draw, noise) };
}

/** Where the pump is off, where it coasts then, and where it rests at its zero; undefined where that can't be. */
function offWhere(zero: number, { away, draw, sign, reach }: Flow, { calm, flat }: View, aTurn: number) {
  const near = whichOf(away, (value) => Math.abs(value) <= reach);
  const back = drivenBack({ current: calm.map((value) => sign * (value - zero)), draw, reach, aTurn });
  const resting = flat.slice();
  for (const { from, to } of back.coasting) {
    near.fill(true, from, to);
    resting.fill(true, from, to);
  }
  const off = stretchesOfOff(near, resting, aTurn);
  const on = off.reduce((count, isOff) => count + (isOff ? 0 : 1), 0);
  if (on === off.length || on < 3) return undefined;
  const may = near.slice();
  for (const { from, to } of back.pulledDown) may.fill(true, from, to);
  const backwards = whichOf(away, (value, i) => !off[i] && !may[i] && sign * value < -reach);
  if (backwards.filter(Boolean).length > WRONG_SIDE * on) return undefined;
  if (rangesWhere(backwards).some(({ from, to }) => to - from > SHORT_OF_A_TURN * aTurn)) return undefined;
  const coasting = back.coasting.filter(({ from }) => off[from]);
  return { off, coasting, rests: whichRest(off, coasting) };
}

/** The record as a pump that is off at `zero` and runs at one side of it; empty where that can't be. */
function explainBy(zero: number, view: View, recorder: Recorder, zeroStated: boolean): Explanation[] {
  const { aTurn, passesSteady } = recorder;
  // Where a level holds that no clamp is off by, none of its like is an off.
  if (passesSteady && Math.abs(zero) > MOST_OFFSET_A) return [];
  const flow = flowFrom(zero, view, recorder);
  const parts = flow && offWhere(zero, flow, view, aTurn);
  if (!parts) return [];
  const { away, draw, sign, reach } = flow;
  const { off, coasting, rests } = parts;
  const showsZero = rests.includes(true);
  // A pump that coasts shows no zero: only the clamp's own can be meant.
  if (zero !== 0 && !showsZero) return [];
  const { deviation } = view.blocks;
  const onActivity = medianWhere(deviation, off, false);
  const offActivity = showsZero ? medianWhere(deviation, rests, true) : 0;
  const calm = offActivity < LIVELY * onActivity;
  // What neither goes below the clamp's own zero nor comes to rest calmer than the run is a pump that draws less for a while.
  const goesBelow = coasting.some(({ from }) => sign * view.calm[from] < -reach);
  if (coasting.length > 0 && !calm && !zeroStated && !goesBelow) return [];
  const turns = onActivity > FAINTEST_HUMPS * draw;
  const mayForget = calm && turns && !passesSteady;
  if (mayForget && hasCalmRun(away, deviation, off, sign * draw, Math.sqrt(offActivity * onActivity), recorder))
    return [];
  const seen = { course: view.calm, sign, draw, noise: view.noise, aTurn };
  const fading = rangesWhere(rests).some((rest) => comesBack(rest, seen));
  const against = (calm ? 0 : 0.5) + (fading ? 1 : 0);
  const logOdds = zeroLog(zero, zeroStated) + drawLog(draw) + signLog(sign) + against * Math.log(RARE);
  return [{ zero, sign, draw, off, coasting, isCalm: calm, logOdds }];
}

/** No other off than a pump that coasts: the zero is whatever the clamp had. */
function coastingFromFileZero(view: View, recorder: Recorder): Explanation[] {
  return explainBy(0, view, recorder, false)
    .filter(({ off, coasting = [] }) => coasting.length > 0 && !whichRest(off, coasting).includes(true))
    .map((one) => ({ ...one, logOdds: one.logOdds + Math.log(RARE) }));
}

/** How near to the zero is off: a clamp's zero may have wandered since, which is much of a small draw, and never most of it. */
function offReach(draw: number, noise: number): number {
  return Math.max(OFF_SHARE * draw, Math.min(DRIFT_A + IN_NOISE * noise, MOST_DRIFT_SHARE * draw));
}

/** The pump runs all through. */
function allOn(
  { mean, deviation }: Blocks,
  recorder: Recorder,
  {
    isStill,
    hasCalmOff,
    hasFloor,
    rests,
    humpsPassIn,
  }: Readonly<Record<'isStill' | 'hasCalmOff' | 'hasFloor' | 'rests', boolean>> & AsksForHumps,
  zeroStated: boolean,
): Explanation[] {
  const level = median(mean);
  const draw = Math.abs(level);
  const { isFast, passesSteady } = recorder;
  if (!(draw > LEAST_DRAW_A) || (rests && !passesSteady)) return [];
  const sign = level < 0 ? -1 : 1;
  const backwards = Array.from(mean).filter((value) => sign * value < -OFF_SHARE * draw).length / mean.length;
  if (backwards > WRONG_SIDE && zeroStated) return [];
  if (throwsUp(mean, sign * draw)) return [];
  // Not even a clamp that was never zeroed.
  const against = rangesWhere(Array.from(mean, (value) => sign * value < -MOST_OFFSET_A));
  if (against.some(({ from, to }) => to - from > SHORT_OF_A_TURN * recorder.aTurn)) return [];
  if (isFast && !passesSteady && forgetsItsLevel(mean, deviation, sign * draw, recorder)) return [];
  const off = Array.from(mean, () => false);
  // Without an off part the zero is whatever the clamp had: as likely as any, but nothing speaks for it either.
  // A clamp's drift or hum moves a level without a hump: asked of levels by which a clamp may be off, and of those whose
  // course stands still, in which faint humps or a driver's pulses may pass all the same.
  const isWithoutHumps = (isStill || draw < MOST_OFFSET_A) && !humpsPassIn();
  const still = isWithoutHumps ? Math.log(RARE) : 0;
  // Nor does a running pump explain why the record begins or ends with something flat, or why it rests on one level again and again.
  const unexplained = [hasCalmOff, hasFloor, rests].filter(Boolean).length * Math.log(RARE);
  return [
    {
      zero: 0,
      sign,
      draw,
      off,
      logOdds:
        drawLog(draw) +
        signLog(sign) +
        still +
        unexplained +
        Math.log(RARE) +
        (backwards > WRONG_SIDE ? Math.log(RARE) : 0),
    },
  ];
}

/** A level that holds runs through, whatever else is seen: for records that nothing explains. */
export function runsThrough({ mean }: Blocks): Explanation {
  const draw = median(mean);
  return { zero: 0, sign: draw < 0 ? -1 : 1, draw: Math.abs(draw), off: Array.from(mean, () => false), logOdds: 0 };
}

/**
 * What the current falls to again and again is nothing, and what rests there for longer than a turn is off. Only where
 * nothing else says so.
 */
export function onFloors(
  floors: readonly Floor[],
  blocks: Blocks,
  { aTurn, passesSteady }: Recorder,
  others: readonly Explanation[],
): Explanation[] {
  if (floors.length === 0) return [];
  const { flat, calm } = flatness(blocks, aTurn);
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

/** So far above its level a run's current is thrown, so often and each time so shortly, only if it isn't the current. */
const THROWN = 2.5;
const DOWN_AGAIN = 1.5;
const OFTEN = 6;
const SHORT_BLOCKS = 30;
/** A start begins below this share of the level, within so many blocks. */
const STARTS_BELOW = 0.5;
const STARTS_FROM = 6;

/**
 * Whether the current jumps up from its level for moments, again and again: no motor does that, while notches seen upside down
 * look so. What jumps up from nothing is a start, as after each bounce of a contact.
 */
function throwsUp(mean: Float64Array, signedDraw: number): boolean {
  let isUp = false;
  // What stays up hovers about any limit.
  const jumps = rangesWhere(Array.from(mean, (value) => (isUp = value / signedDraw > (isUp ? DOWN_AGAIN : THROWN))));
  const isStart = ({ from }: Range) =>
    mean.subarray(Math.max(0, from - STARTS_FROM), from).some((value) => value / signedDraw < STARTS_BELOW);
  return jumps.filter((jump) => jump.to - jump.from < SHORT_BLOCKS && !isStart(jump)).length >= OFTEN;
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

/** Student's t of three degrees: most clamps are near zero, some are far off. */
function zeroLog(zero: number, zeroStated: boolean): number {
  return zeroStated ? 0 : -2 * Math.log1p((zero / ZERO_SCALE_A) ** 2 / 3);
}

function drawLog(draw: number): number {
  return -0.5 * (Math.log(draw / USUAL_DRAW_A) / DRAW_SPREAD) ** 2;
}

function signLog(sign: 1 | -1): number {
  return Math.log(sign < 0 ? BACKWARDS : 1 - BACKWARDS);
}
