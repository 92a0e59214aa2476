import { movingAverage, toBlocks } from '../../signal/blocks.js';
import { levels, median, quantile } from '../../signal/levels.js';
import { rangesOf } from '../../signal/ranges.js';
import { recorderStep } from '../../signal/rounding.js';
import { ACTIVITY_BLOCK_S, LIVELIER, activity } from './activity.js';
import {
  endsAmidRun,
  fallsToNothing,
  offFades,
  readsNothing,
  runForgets,
  SETTLED_S,
  startsAmidRun,
} from './forgets.js';
import { stalledFalls } from './stalled-fall.js';
import { humpsPass, withoutCourse } from './humps-pass.js';
import type { Run, SampleRange, Segments } from './runs.js';
import { thin } from '../../signal/thin.js';

/** A record through a clamp or input that passes no steady current, made upright and given a level that it may have had. */
export interface Coupled {
  readonly samples: Float32Array;
  readonly inverted: boolean;
  readonly runs: readonly Run[];
}

/** As lively as the running pump, or nearly: no off. */
const LIVELY = 0.5;
const FEWEST_OFF = 64;
/** So far below zero no clamp's wandering and no noise on it puts the running current, A. */
const BACKWARDS_A = 0.3;
const BACKWARDS_SHARE = 0.02;
/** Of the swing: what has a mean beyond it at its end is steady current, and the zero is what is wrong. */
const HOLDS_SHARE = 0.2;
/** The run is where it is at least this lively, beside its livelier half; brushes that bounce at random rest in between. */
const RUNS_SHARE = 0.35;
const LIVELY_S = 0.05;
/** Switching throws a block's mean so many of its deviations off its course. */
const SWITCHED = 4;
/** The start is over after this; before the end the course already knows of it (half of its window). */
const START_S = 0.2;
/** Of a short run so much at most goes for its start: a rotor is up to speed after a tenth of a second. */
const START_SHARE = 0.45;
const GUARD_S = 0.06;
const SHORTEST_RUN_S = 0.1;
/** Notches point down; where the far side of the median is this much longer upwards, the clamp sits backwards. */
const SKEWED = 0.35;
/** A pump's usual draw, A (common practice, no published source); deeper dips need a larger one. */
const USUAL_DRAW_A = 5;

/**
 * Whether the record swings about zero instead of standing on it: humps pass where the pump would have to be off, or current
 * would flow backwards. A current clamp does neither; a clamp or an input that passes no steady current does both.
 */
export function isCoupled(samples: Float32Array, sampleRateHz: number, segments: Segments): boolean {
  const { quiet, runs, isUnexplained, passesSteady } = segments;
  if (passesSteady) return false;
  if (isUnexplained) return true;
  const parts = (ranges: readonly SampleRange[]) => ranges.map(({ from, to }) => samples.subarray(from, to));
  const long = runs.filter(({ from, to }) => to - from > SHORTEST_RUN_S * sampleRateHz);
  if (quiet && humpsPass(samples.subarray(quiet.from, quiet.to), sampleRateHz)) {
    // What flows for some milliseconds at the record's begin may be the end of a gap.
    const ran = long.length > 0 ? long : runs;
    const [lively, ...running] = parts([quiet, ...ran]).map((part) => activity(part, sampleRateHz));
    const calmest = Math.min(...parts(between(runs, samples.length)).map((part) => activity(part, sampleRateHz)));
    return running.length === 0 || lively > LIVELY * median(running) || lively > LIVELIER * calmest;
  }
  // Between runs it may be a contact that bounces.
  const [head, tail] = [
    { from: 0, to: runs[0]?.from ?? 0 },
    { from: runs.at(-1)?.to ?? 0, to: samples.length },
  ];
  const offs = parts([head, tail].filter(({ from, to }) => to - from > FEWEST_OFF)).map((part) => ({
    part,
    lively: activity(part, sampleRateHz),
  }));
  // What goes to and fro between two steps of the recorder is as lively as it comes.
  const calmest = Math.max(recorderStep(samples) / Math.sqrt(12), Math.min(...offs.map(({ lively }) => lively)));
  const alive = offs.filter(({ part, lively }) => lively > LIVELIER * calmest && humpsPass(part, sampleRateHz));
  // An input that forgets the level keeps the humps as high as they were; what is all start shows none.
  if (alive.length > 0) {
    const settled = runs.filter(({ from, to }) => to - from > SETTLED_S * sampleRateHz);
    const running = settled.length > 0 ? median(parts(settled).map((part) => activity(part, sampleRateHz))) : 0;
    if (alive.some(({ lively }) => lively > LIVELY * running)) return true;
  }
  if (
    readsNothing(samples, segments) ||
    fallsToNothing(samples, sampleRateHz, segments) ||
    offFades(samples, sampleRateHz, segments) ||
    startsAmidRun(samples, sampleRateHz, segments) ||
    endsAmidRun(samples, sampleRateHz, segments)
  )
    return true;
  if (long.some((run) => stalledFalls(samples, run, sampleRateHz, segments))) return true;
  return parts(long).some((run) => flowsBackwards(run, segments) || runForgets(run, sampleRateHz, segments));
}

/** What lies before, between and after the runs, where it is long enough to be looked at. */
function between(runs: readonly SampleRange[], length: number): SampleRange[] {
  const ends = [0, ...runs.map(({ to }) => to)];
  const begins = [...runs.map(({ from }) => from), length];
  return ends.map((from, i) => ({ from, to: begins[i] })).filter(({ from, to }) => to - from > FEWEST_OFF);
}

function flowsBackwards(run: Float32Array, { quietLevel, inverted, noise }: Segments): boolean {
  const few = thin(run, 65_536);
  const sign = inverted ? -1 : 1;
  const zero = quietLevel ?? 0;
  const least = BACKWARDS_A + 5 * (noise ?? 0);
  const below = few.reduce((count, value) => count + (sign * (value - zero) < -least ? 1 : 0), 0);
  return below > BACKWARDS_SHARE * few.length && !holdsLevel(run);
}

/** Whether a run still has a mean in its last third: an input that passes no steady current has forgotten it by then. */
function holdsLevel(run: Float32Array): boolean {
  const end = run.subarray(Math.floor((2 / 3) * run.length));
  const few = thin(end, 65_536);
  return Math.abs(levels(end).mean) > HOLDS_SHARE * (quantile(few, 0.99) - quantile(few, 0.01));
}

/**
 * Brings such a record into the form of any other: without the slow course that the input made, and with the least level that
 * lets its dips be dips of a current. Nothing of that level may be reported.
 */
export function levelled(samples: Float32Array, sampleRateHz: number): Coupled {
  const fast = withoutCourse(samples, sampleRateHz);
  const size = Math.max(8, Math.round(ACTIVITY_BLOCK_S * sampleRateHz));
  const { mean, deviation } = toBlocks(fast, size);
  const lively = movingAverage(deviation, Math.round(LIVELY_S / (2 * ACTIVITY_BLOCK_S)));
  const usual = quantile(lively, 0.75);
  const least = RUNS_SHARE * usual;
  // Dead stretches of a slow turn throw the blocks' means about as well, again and again.
  const swings = median(Array.from(mean, Math.abs).filter((_, b) => lively[b] > least));
  const most = SWITCHED * Math.hypot(usual, swings || 0);
  const stretches = rangesOf(lively, (value, b) => value > least && Math.abs(mean[b]) < most)
    .map(({ from, to }) => ({ from: from * size, to: Math.min(samples.length, to * size) }))
    .filter(({ from, to }) => to - from > SHORTEST_RUN_S * sampleRateHz);
  const runs = stretches
    .map(({ from, to }): SampleRange => ({
      from: from > 2 * size ? from + Math.round(Math.min(START_S * sampleRateHz, START_SHARE * (to - from))) : from,
      to: to < samples.length - 2 * size ? to - Math.round(GUARD_S * sampleRateHz) : to,
    }))
    .filter(({ from, to }) => to - from > SHORTEST_RUN_S * sampleRateHz);
  const inverted = runs.length > 0 && isBackwards(fast, runs[0], stretches[0], samples, sampleRateHz);
  const sign = inverted ? -1 : 1;
  const deepest = Math.max(
    0,
    ...runs.map(
      ({ from, to }) =>
        -quantile(
          thin(fast.subarray(from, to), 32_768).map((v) => sign * v),
          0.01,
        ),
    ),
  );
  const level = Math.max(USUAL_DRAW_A, deepest);
  // In place: of a long record there is no room for one more.
  for (let i = 0; i < fast.length; i++) fast[i] = sign * fast[i] + level;
  return { samples: fast, inverted, runs };
}

/** Switching on throws the level off its course for so long that the run, as it is looked for, begins after it, s. */
const SURGE_BEFORE_S = 0.25;
const SURGE_BLOCK_S = 0.01;

/**
 * By the start's surge where one was recorded, which goes furthest from what was before: a stalled current, several times the
 * running one, from nothing. What the input makes of it afterwards swings the other way. By the notches else.
 */
function isBackwards(
  fast: Float32Array,
  run: SampleRange,
  stretch: SampleRange,
  samples: Float32Array,
  sampleRateHz: number,
): boolean {
  const size = Math.max(1, Math.round(SURGE_BLOCK_S * sampleRateHz));
  if (stretch.from > 6 * size) {
    const begin = Math.max(0, stretch.from - Math.round(SURGE_BEFORE_S * sampleRateHz));
    const { mean } = toBlocks(samples.subarray(begin, stretch.from + 3 * size), size);
    const calm = median(mean.subarray(0, 3));
    return mean.reduce((most, value) => (Math.abs(value - calm) > Math.abs(most) ? value - calm : most), 0) < 0;
  }
  const few = thin(fast.subarray(run.from, run.to), 32_768);
  const [low, middle, high] = [quantile(few, 0.01), median(few), quantile(few, 0.99)];
  return high - middle - (middle - low) > SKEWED * (high - low);
}
