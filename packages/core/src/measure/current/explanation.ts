import type { Range } from '../../signal/ranges.js';
import type { Floor } from './floor.js';

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

/** What is this near to the zero, as a share of the draw, is off. */
export const OFF_SHARE = 0.12;
/** A clamp that wasn't zeroed is off by some tenths of an ampere (common practice, no published source). */
const ZERO_SCALE_A = 0.3;
/** Pumps draw 5 A, give or take a factor of two and a half (common practice, no published source). */
const USUAL_DRAW_A = 5;
const DRAW_SPREAD = 0.9;
/** One clamp in ten is fitted backwards. */
const BACKWARDS = 0.1;
/** A running pump without any ripple is as rare as this; so is an off that is as lively as the running pump. */
export const RARE = 0.01;
/** Share of a running pump's samples that may lie on the wrong side of zero. */
export const WRONG_SIDE = 0.02;
export const LEAST_DRAW_A = 0.1;
/** A clamp's own zero may wander so far within a record (common practice, no published source). */
export const DRIFT_A = 0.3;
/** No clamp is off by as much as half a usual draw. */
export const MOST_OFFSET_A = USUAL_DRAW_A / 2;
/** Of the draw: no clamp's wandering hides so much of it. */
const MOST_DRIFT_SHARE = 0.25;
/** So many of its deviations noise throws a block's mean off at times. */
export const IN_NOISE = 4;

/** How near to the zero is off: a clamp's zero may have wandered since, which is much of a small draw, and never most of it. */
export function offReach(draw: number, noise: number): number {
  return Math.max(OFF_SHARE * draw, Math.min(DRIFT_A + IN_NOISE * noise, MOST_DRIFT_SHARE * draw));
}

/** Student's t of three degrees: most clamps are near zero, some are far off. */
export function zeroLog(zero: number, zeroStated: boolean): number {
  return zeroStated ? 0 : -2 * Math.log1p((zero / ZERO_SCALE_A) ** 2 / 3);
}

export function drawLog(draw: number): number {
  return -0.5 * (Math.log(draw / USUAL_DRAW_A) / DRAW_SPREAD) ** 2;
}

export function signLog(sign: 1 | -1): number {
  return Math.log(sign < 0 ? BACKWARDS : 1 - BACKWARDS);
}
