import type { Blocks } from '../../signal/blocks.js';
import { median } from '../../signal/levels.js';
import { rangesOf, type Range } from '../../signal/ranges.js';
import { forgetsItsLevel, type Recorder } from './calm-runs.js';
import {
  drawLog,
  LEAST_DRAW_A,
  MOST_OFFSET_A,
  OFF_SHARE,
  RARE,
  signLog,
  WRONG_SIDE,
  type Explanation,
} from './explanation.js';
import { SHORT_OF_A_TURN } from './off-stretches.js';

export interface AsksForHumps {
  /** Whether humps pass in the record, or in a range of its blocks. */
  readonly humpsPassIn: (range?: Range) => boolean;
}

/** The pump runs all through. */
export function allOn(
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
  const against = rangesOf(mean, (value) => sign * value < -MOST_OFFSET_A);
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
  const jumps = rangesOf(mean, (value) => (isUp = value / signedDraw > (isUp ? DOWN_AGAIN : THROWN)));
  const isStart = ({ from }: Range) =>
    mean.subarray(Math.max(0, from - STARTS_FROM), from).some((value) => value / signedDraw < STARTS_BELOW);
  return jumps.filter((jump) => jump.to - jump.from < SHORT_BLOCKS && !isStart(jump)).length >= OFTEN;
}
