import type { Blocks } from '../../signal/blocks.js';
import { median, quantile } from '../../signal/levels.js';
import { rangesWhere, type Range } from '../../signal/ranges.js';
import { thin } from '../../signal/thin.js';
import { hasCalmRun, type Recorder } from './calm-runs.js';
import { drivenBack, whichRest } from './coasting.js';
import {
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
import { isSwitchedOff, type Lower } from './faltering.js';
import { SHORT_OF_A_TURN, stretchesOfOff } from './off-stretches.js';
import { comesBack } from './resting-level.js';

/** Of its draw: a pump flows for most of the time that it runs, or is dead for half of each turn. */
const FLOWS_SHARE = 0.25;
/** Livelier than this share of the running current is no off. */
const LIVELY = 0.8;
/** Levels nearer to each other than this, in steps of the recorder, may be one that lies between two steps. */
const LEAST_STEPS = 2;
/** Of the draw: what comes back by less may be the end of a faint coasting, and its level is the zero's or nearly. */
const FADES_SHARE = 0.04;
/**
 * Twice what a clamp that wasn't zeroed is off by. What flows on for a while by more than that, between two runs only, may as well be
 * what a weak contact lets through: then nobody knows the zero, and it is the clamp's own.
 */
const MOST_AMID_A = 0.6;
/** A range of 60 A either way by eight bits; what steps further is no recorder's doing. */
const COARSEST_STEP_A = 0.5;
/** Root mean square of the faintest humps, 1.5 % of the draw from top to bottom: with less, what flows through stands. */
const FAINTEST_HUMPS = 0.015 / (2 * Math.SQRT2);
/**
 * A running pump that scatters by less than this, in what rounding usually does, leaves nothing for an off to be calmer than: a level
 * midway between two steps is written as either, which scatters twice as much, and a little noise beside.
 */
const MOSTLY_ROUNDING = 2.1;
/** Root mean square of usual humps, 4 % of the draw from top to bottom and more: noise in which they drown hides them in any run. */
const USUAL_HUMPS = 0.04 / (2 * Math.SQRT2);
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
export interface View {
  readonly blocks: Blocks;
  /** The blocks' means without spikes. */
  readonly calm: Float64Array;
  readonly flat: readonly boolean[];
  /** The course without the mains where the record begins or ends flat: hum moves no off away from its zero. */
  readonly settled: Float64Array;
  readonly noise: number;
  /** What moves by less is flat, A. */
  readonly tolerance: number;
  readonly humpsPassIn: Lower['humpsPassIn'];
}

/** What flows if the clamp's zero is at a level. */
interface Flow {
  readonly zero: number;
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
  return { zero, away, draw, sign: middle < 0 ? -1 : 1, reach: offReach(draw, noise) };
}

/** Where the pump is off, where it coasts then, and where it rests at its zero; undefined where that can't be. */
function offWhere({ zero, away, draw, sign, reach }: Flow, { calm, flat, settled }: View, aTurn: number) {
  const near = whichOf(
    away,
    (value, i) => Math.abs(value) <= reach || (flat[i] && Math.abs(settled[i] - zero) <= reach),
  );
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

/** Less than so much of the draw, flat and calm for a turn and more, is no running pump. */
const LOW_SHARE = 0.5;

/** Whether a record begins or ends with a rest that is none by this zero. */
function leavesRest(
  { away, draw, sign, zero }: Flow,
  off: readonly boolean[],
  { flat, calm, tolerance, humpsPassIn, blocks: { deviation } }: View,
  calmBelow: number,
  aTurn: number,
): boolean {
  const isLow = (i: number) => !off[i] && Math.abs(away[i]) < LOW_SHARE * draw;
  const isCalm = ({ from, to }: Range) => median(deviation.subarray(from, to)) < calmBelow;
  const isSwitched = (range: Range) =>
    isSwitchedOff(range, zero + sign * draw, { course: calm, flat, aTurn, humpsPassIn });
  const isLong = ({ from, to }: Range) => to - from >= aTurn;
  const flatRests = edgesOf(whichOf(away, (_, i) => flat[i] && isLow(i))).filter(isLong);
  if (flatRests.some((rest) => isCalm(rest) || isSwitched(rest))) return true;
  const low = whichOf(away, (_, i) => isLow(i));
  const longestInside = rangesWhere(low).reduce(
    (most, { from, to }) => (from > 0 && to < low.length ? Math.max(most, to - from) : most),
    0,
  );
  // Shorter than a turn, as `stretchesOfOff` takes it: dead stretches and notches come back, an off doesn't.
  const isFlat = ({ from, to }: Range) =>
    quantile(calm.subarray(from, to), 1) - quantile(calm.subarray(from, to), 0) <= tolerance;
  return edgesOf(low).some((rest) => {
    const length = rest.to - rest.from;
    return (
      length > SHORT_OF_A_TURN * aTurn && length > 2 * longestInside && isFlat(rest) && isCalm(rest) && isSwitched(rest)
    );
  });
}

/** Of stretches that hold, those at a record's begin and end. */
function edgesOf(holds: readonly boolean[]): Range[] {
  return rangesWhere(holds).filter(({ from, to }) => from === 0 || to === holds.length);
}

/** Whether the pump rests at the record's begin or end. */
const touchesEdge = (rests: readonly boolean[]) => rests[0] || rests[rests.length - 1];

/** The record as a pump that is off at `zero` and runs at one side of it; empty where that can't be. */
export function offAt(zero: number, view: View, recorder: Recorder, zeroStated: boolean): Explanation[] {
  const { aTurn, passesSteady } = recorder;
  // Where a level holds that no clamp is off by, none of its like is an off.
  if (passesSteady && Math.abs(zero) > MOST_OFFSET_A) return [];
  const flow = flowFrom(zero, view, recorder);
  const parts = flow && offWhere(flow, view, aTurn);
  if (!parts) return [];
  const { away, draw, sign, reach } = flow;
  const { off, coasting, rests } = parts;
  const showsZero = rests.includes(true);
  // A pump that coasts shows no zero: only the clamp's own can be meant.
  if (zero !== 0 && !showsZero) return [];
  if (passesSteady && !zeroStated && sign * zero > MOST_AMID_A && !touchesEdge(rests)) return [];
  const { deviation } = view.blocks;
  const onActivity = medianWhere(deviation, off, false);
  const offActivity = showsZero ? medianWhere(deviation, rests, true) : 0;
  const calm = offActivity < LIVELY * onActivity;
  // What flows for moments only, between times that are as lively, is no pump's.
  if (!calm && sign * medianWhere(away, off, false) < FLOWS_SHARE * draw) return [];
  // What neither goes below the clamp's own zero nor comes to rest calmer than the run is a pump that draws less for a while, unless
  // the record begins at that rest.
  const goesBelow = coasting.some(({ from }) => sign * view.calm[from] < -reach);
  if (coasting.length > 0 && !calm && !zeroStated && !goesBelow && !rests[0]) return [];
  const turns = onActivity > FAINTEST_HUMPS * draw;
  const mayForget = calm && turns && !passesSteady;
  if (mayForget && hasCalmRun(away, deviation, off, sign * draw, Math.sqrt(offActivity * onActivity), recorder))
    return [];
  const seen = { course: view.calm, sign, draw, noise: view.noise, aTurn };
  const fading = !zeroStated && rangesWhere(rests).some((rest) => comesBack(rest, seen, FADES_SHARE));
  const leftOver = leavesRest(flow, off, view, LIVELY * onActivity, aTurn);
  const isRounding = onActivity < (MOSTLY_ROUNDING * recorder.stepA) / Math.sqrt(12);
  const drowns = offActivity < onActivity && offActivity * Math.sqrt(1 / LIVELY ** 2 - 1) > USUAL_HUMPS * draw;
  const saysNothing = isRounding || drowns;
  const against = (calm || saysNothing ? 0 : 0.5) + (fading ? 1 : 0) + (leftOver ? 1 : 0);
  const logOdds = zeroLog(zero, zeroStated) + drawLog(draw) + signLog(sign) + against * Math.log(RARE);
  return [{ zero, sign, draw, off, coasting, isCalm: calm, logOdds }];
}

/** No other off than a pump that coasts: the zero is whatever the clamp had. */
export function coastingFromFileZero(view: View, recorder: Recorder): Explanation[] {
  return offAt(0, view, recorder, false)
    .filter(({ off, coasting = [] }) => coasting.length > 0 && !whichRest(off, coasting).includes(true))
    .map((one) => ({ ...one, logOdds: one.logOdds + Math.log(RARE) }));
}
