import { median, quantile } from '../../signal/levels.js';

/** What took the record. */
export interface Recorder {
  /** Blocks of the slowest turn. */
  readonly aTurn: number;
  /** Blocks a second. */
  readonly blocksHz: number;
  /** It shows the fastest humps. */
  readonly isFast: boolean;
  /** Its step, A. */
  readonly stepA: number;
  /** It holds a level that no clamp is off by, so it forgets none. */
  readonly passesSteady: boolean;
}

/** A rotor that stands draws at least so many times its running current. */
const STALLED = 1.4;
/** In turns of the slowest (1 s): of a level so long ago an input that passes no steady current has less left. */
const HELD_TURNS = 25;
const HELD_SHARE = 0.7;
/** Of the draw: a faint pump's humps, from top to bottom, are lost in such a step. */
const HIDING_STEP = 0.02;
/** Switching is over in so many blocks. */
const EDGE_BLOCKS = 4;
/** An engine that is cranked moves it by so much; a start by more. */
const HELD_WITHIN = 0.5;
/** Share of a turn's blocks that spikes and coarse steps may stir up although it is calm. */
const MOSTLY = 0.8;
/** Share of what is claimed as running that must be calm for a rotor that never turned. */
const ALWAYS = 0.8;

/**
 * Whether something claimed as running is as calm as the off for longer than a turn, and draws no more than the running pump:
 * neither a rotor that turns nor one that stands. So looks an input that forgets its level: head and tail are both off.
 */
export function hasCalmRun(
  away: ArrayLike<number>,
  deviation: Float64Array,
  off: readonly boolean[],
  signedDraw: number,
  calmBelow: number,
  { aTurn, isFast, stepA }: Recorder,
): boolean {
  const isStill = (i: number) => i >= 0 && !off[i] && deviation[i] < calmBelow;
  const still = off.filter((_, i) => isStill(i)).length;
  // All of it, from the first to the last: a rotor that never turned.
  if (still > ALWAYS * off.filter((isOff) => !isOff).length) return false;
  // A coarse or slow recorder hides a pump's humps, and holds its level all the same.
  const hidesHumps = !isFast || stepA > HIDING_STEP * Math.abs(signedDraw);
  const span = HELD_TURNS * aTurn;
  let calm = 0;
  let last = -1;
  const isCalm = (i: number) => isStill(i) && away[i] / signedDraw < STALLED;
  for (let i = 0; i < away.length; i++) {
    calm += (isCalm(i) ? 1 : 0) - (isCalm(i - aTurn) ? 1 : 0);
    if (calm < MOSTLY * aTurn || i < last) continue;
    const isHeld =
      holdsLevelFrom(i, i + span, away, off) || holdsLevelFrom(i - span, i, away, off) || isSwitchedOff(i, away, off);
    if (!hidesHumps || !isHeld) return true;
    last = i + aTurn;
  }
  return false;
}

/** Whether the current flows from one block to another without a rest or a start, and is still what it was. */
function holdsLevelFrom(from: number, to: number, away: ArrayLike<number>, off: readonly boolean[]): boolean {
  if (from < 0 || to >= away.length) return false;
  for (let i = from; i <= to; i++) {
    if (off[i] || Math.abs(away[i] / away[from] - 1) > HELD_WITHIN) return false;
  }
  return away[to] / away[from] > HELD_SHARE;
}

/**
 * Whether the current that flows at a block is there until it is switched off, and what comes then is the zero: a level that an
 * input forgets fades into it, and goes beyond when the pump is switched off, by as much as was forgotten.
 */
function isSwitchedOff(at: number, away: ArrayLike<number>, off: readonly boolean[]): boolean {
  const end = off.indexOf(true, at);
  if (end < 0) return false;
  // The edge itself, and a switch's swing, lie within a few blocks.
  const before = Math.max(at, end - EDGE_BLOCKS);
  return away[before] / away[at] > HELD_SHARE;
}

/** Of the usual activity: what is calmer no longer has humps in it. */
const CALM = 0.5;

/**
 * Whether a record that never shows the pump off is far calmer than usual for longer than a turn, at no more than its draw:
 * that is an off at a level which the input forgot. Not asked of slow records, in which humps may fold to a slow beat.
 */
export function forgetsItsLevel(
  mean: Float64Array,
  deviation: Float64Array,
  signedDraw: number,
  recorder: Recorder,
): boolean {
  const [calmest, usual] = [quantile(deviation, 0.05), median(deviation)];
  const never = Array.from(mean, () => false);
  return calmest < CALM * usual && hasCalmRun(mean, deviation, never, signedDraw, Math.sqrt(calmest * usual), recorder);
}
