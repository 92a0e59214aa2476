import { median, quantile } from '../../signal/levels.js';
import { rangesOf, rangesWhere, type Range } from '../../signal/ranges.js';

/** What a record shows above a zero, the way that the pump's current flows, by blocks and without spikes. */
export interface Forward {
  readonly current: Float64Array;
  /** Draw of the running pump, A. */
  readonly draw: number;
  /** As near to the zero is nothing, A. */
  readonly reach: number;
  /** Blocks of the slowest turn. */
  readonly aTurn: number;
}

/** A switch and the circuit's time constant take a running current away within so much of the slowest turn (12 ms). */
const AT_ONCE_OF_A_TURN = 0.3;
const AT_ONCE_BLOCKS = 3;
const RUNS_SHARE = 0.5;
/**
 * A pump without its feed generates less than it was fed with, into a winding and another consumer: less flows back than its
 * draw was.
 */
const MOST_BACK = 0.8;
/**
 * A feed that falls by a share d, into a pump that loses a share c of its volts in copper, drives (d / c - 1) of its draw back: a
 * starter takes less than half, copper a fifth and more (common practice, no published source).
 */
const MOST_PULLED = 1.5;
/**
 * Of an input that forgets, a run's level fades as fast as the off's; a pump's draw holds, or falls faster as a rotor that stood
 * comes free.
 */
const AS_FAST = 0.5;
/** A start falls faster too, and is over after so many of the slowest turns (0.12 s). */
const START_TURNS = 3;
/** A run's level is looked at so often at most, back from its end. */
const MOST_LOOKS = 9;
/** Too short to tell whether it fades; over before anything else is asked of it. */
const FEWEST_BLOCKS = 8;
/** So much of it fades while it is seen, unless it comes to nothing. */
const LEAST_FADED = 0.03;
/** A dead stretch takes less than the rest of each turn. */
const FLOWS = 0.8;
/** From the least that is seen beside the zero to a tenth of that, as a natural logarithm. */
const FADES_OUT = Math.log(10);
/** An edge takes so many. */
const EDGE_BLOCKS = 3;

/**
 * Blocks in which an off rests at the zero: without those in which a pump that coasts drives a current, and without what lies before
 * them in the same off, since a pump coasts from the moment that its feed is cut.
 */
export function whichRest(off: readonly boolean[], coasting: readonly Range[]): boolean[] {
  const rests = off.slice();
  for (const { from, to } of coasting) rests.fill(false, from, to);
  const isEdge = (rest: Range) =>
    coasting.some(({ from, to }) => from === rest.to || (to === rest.from && rest.to - rest.from <= EDGE_BLOCKS));
  for (const { from, to } of rangesWhere(rests).filter(isEdge)) rests.fill(false, from, to);
  return rests;
}

/** Where a current flows backwards. */
interface DrivenBack {
  /** The feed is cut and the pump coasts. */
  readonly coasting: readonly Range[];
  /** The feed is pulled down below what the pump generates, as by a starter, and comes up again by and by. */
  readonly pulledDown: readonly Range[];
}

/**
 * Where the pump drives its current backwards, through another consumer behind the same contact while it coasts, or into a feed
 * that is pulled down. It begins as the running current goes at once, and fades from the other side.
 */
export function drivenBack(forward: Forward): DrivenBack {
  const { current, reach, draw, aTurn } = forward;
  const edge = edgeOf(aTurn);
  const fading: (Range & Fade & { readonly cut: number })[] = [];
  const pulledDown: Range[] = [];
  let until = 0;
  for (const { from } of rangesOf(current, (value) => value < -reach)) {
    if (from < until) continue;
    until = firstAbove(reach, from, current);
    const cut = lastWhere(from, from - edge, (i) => current[i] > RUNS_SHARE * draw);
    if (cut === undefined) continue;
    const to = (lastWhere(until, from, (i) => current[i] < -reach) ?? from) + 1;
    if (comesUp(until, forward)) {
      if (depthOf(current.subarray(from, to)) < MOST_PULLED * draw) pulledDown.push({ from, to });
      continue;
    }
    const fade = fadeOf({ from, to }, cut, forward);
    if (fade) fading.push({ ...fade, cut, from, to: Math.min(until, to + Math.ceil(FADES_OUT / fade.rate)) });
  }
  if (fading.every(({ isTold }) => isTold)) return { coasting: fading, pulledDown };
  const last = current[current.length - 1] > RUNS_SHARE * draw ? [current.length] : [];
  const fall = usualFall([...fading.map(({ cut }) => cut), ...last], forward);
  return { coasting: fading.filter(({ isTold, rate }) => isTold || fall < AS_FAST * rate), pulledDown };
}

/** How fast the level of runs that end at these blocks usually falls: an input that forgets one forgets all, all the time. */
function usualFall(ends: readonly number[], forward: Forward): number {
  const apart = Math.round(1.5 * forward.aTurn);
  const looks = ends.flatMap((end) => Array.from({ length: MOST_LOOKS }, (_, k) => end - k * apart));
  const falls = looks.filter((end) => end > 0 && isOnceStarted(end, forward)).map((end) => fallRate(end, forward));
  return falls.length > 0 ? median(falls) : Infinity;
}

const edgeOf = (aTurn: number) => Math.max(AT_ONCE_BLOCKS, Math.round(AT_ONCE_OF_A_TURN * aTurn));

/** The first block from one on at which the current is above a level; the length where there is none. */
function firstAbove(level: number, from: number, current: Float64Array): number {
  for (let i = from; i < current.length; i++) if (current[i] > level) return i;
  return current.length;
}

function lastWhere(before: number, from: number, holds: (i: number) => boolean): number | undefined {
  for (let i = before - 1; i >= Math.max(0, from); i--) if (holds(i)) return i;
  return undefined;
}

/** How what flows back fades. */
interface Fade {
  /** By as much a block, as a natural logarithm; infinite for what is too short to show it. */
  readonly rate: number;
  /** Whether the end of the run before shows that it is no input that forgets. */
  readonly isTold: boolean;
}

/** @returns undefined for what is no pump that coasts, whatever the run before it was like */
function fadeOf({ from, to }: Range, cut: number, forward: Forward): Fade | undefined {
  const { current, draw } = forward;
  const quarter = Math.ceil((to - from) / 4);
  const first = depthOf(current.subarray(from, from + quarter));
  if (first > MOST_BACK * draw) return undefined;
  if (to - from < FEWEST_BLOCKS) return { rate: Infinity, isTold: true };
  const last = depthOf(current.subarray(to - quarter, to));
  if (!(last < (1 - LEAST_FADED) * first)) return undefined;
  const rate = Math.log(first / Math.max(last, LEAST_FADED * first)) / (to - from - quarter);
  const fall = fallRate(cut, forward);
  return { rate, isTold: fall < AS_FAST * rate || (isOnceStarted(cut, forward) && AS_FAST * fall > rate) };
}

/** Whether a run that ends at a block has been running for longer than a start takes. */
function isOnceStarted(end: number, { current, reach, aTurn }: Forward): boolean {
  const started = lastWhere(end, 0, (i) => current[i] < reach) ?? -1;
  return end - started > (START_TURNS + 1) * aTurn;
}

/** Whether the current that flows forward again from a block on comes by and by, without a start. */
function comesUp(from: number, { current, draw, aTurn }: Forward): boolean {
  const runs = firstAbove(RUNS_SHARE * draw, from, current);
  return runs < current.length && runs - from > edgeOf(aTurn);
}

/** Of a rotor with a dead stretch: what flows when anything does. */
const heightOf = (part: Float64Array) => quantile(part, FLOWS);
const depthOf = (part: Float64Array) => -quantile(part, 1 - FLOWS);

/** How fast the run's level falls before it is cut, as a share a block; 0 of a run that is too short to tell. */
function fallRate(cut: number, { current, reach, aTurn }: Forward): number {
  const width = Math.round(aTurn / 2);
  const begin = (lastWhere(cut, 0, (i) => current[i] < -reach) ?? -1) + 1;
  const apart = Math.min(2 * width, cut - begin - width);
  if (apart < width) return 0;
  const late = heightOf(current.subarray(cut - width, cut));
  const early = heightOf(current.subarray(cut - width - apart, cut - apart));
  return Math.log(Math.max(early / late, Number.MIN_VALUE)) / apart;
}
