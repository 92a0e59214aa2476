import { movingAverage, movingAverageInto, toBlocks } from '../../signal/blocks.js';
import { levels, median, quantile, robustDeviation } from '../../signal/levels.js';
import { rangesWhere } from '../../signal/ranges.js';
import { findLines, welchSpectrum } from '../../signal/spectrum.js';
import { removeMains } from '../../signal/mains.js';
import { recorderStep } from '../../signal/rounding.js';
import { FASTEST_HUMPS_HZ } from './commutators.js';
import type { Run, SampleRange, Segments } from './segments.js';
import { thin } from '../../signal/thin.js';

/** A record through a clamp or input that passes no steady current, made upright and given a level that it may have had. */
export interface Coupled {
  readonly samples: Float32Array;
  readonly inverted: boolean;
  readonly runs: readonly Run[];
}

/** The slowest shaft, Hz; a second of it is enough. */
const LOWEST_HZ = 90;
const LOOKED_AT_S = 1;
const LEAST_S = 0.06;
const SEGMENT_S = 0.1;
/** Noise throws up nothing like this in a second (exponential distribution: e^-40 a bin). */
const PROMINENT = 40;
/** So near to a multiple of the mains it is the mains, whose harmonics a coarse recorder's steps multiply. */
const MAINS_SHARE = 0.004;
const MAINS_HZ = 3;
const MOST_HARMONICS = 20;
/**
 * Without noise a step of the recorder makes harmonics of hum without end, but no more of them all than half a step: 1 / sqrt(12)
 * of it is rounding (uniform), the rest noise and what is left of spikes.
 */
const ROUNDED = 0.5;
/** As lively as the running pump, or nearly: no off. */
const LIVELY = 0.5;
/** Nothing flows in an off, so one is as calm as another. */
const LIVELIER = 1.7;
const FEWEST_OFF = 64;
/** So far below zero no noise and no clamp's offset puts the running current, A and in its own noise. */
const BACKWARDS_A = 0.3;
const BACKWARDS_SHARE = 0.02;
/** Two and a half of the slowest turns: keeps every turn whole and follows how the input forgets a level. */
const COURSE_S = 0.1;
const BLOCK_S = 0.005;
/** The run is where it is at least this lively, beside its livelier half; brushes that bounce at random rest in between. */
const RUNS_SHARE = 0.35;
const LIVELY_S = 0.05;
/** Switching throws a block's mean so many of its deviations off its course. */
const SWITCHED = 4;
/** The start is over after this; before the end the course already knows of it (half of its window). */
const START_S = 0.2;
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
  const { quiet, runs, isUnexplained } = segments;
  if (isUnexplained) return true;
  const parts = (ranges: readonly SampleRange[]) => ranges.map(({ from, to }) => samples.subarray(from, to));
  if (quiet && humpsPass(samples.subarray(quiet.from, quiet.to), sampleRateHz)) {
    const [lively, ...running] = parts([quiet, ...runs]).map((part) => activity(part, sampleRateHz));
    const calmest = Math.min(...parts(between(runs, samples.length)).map((part) => activity(part, sampleRateHz)));
    return running.length === 0 || lively > LIVELY * median(running) || lively > LIVELIER * calmest;
  }
  return parts(runs).some((run) => flowsBackwards(run, segments) || forgets(run, sampleRateHz, segments));
}

/** What lies before, between and after the runs, where it is long enough to be looked at. */
function between(runs: readonly SampleRange[], length: number): SampleRange[] {
  const ends = [0, ...runs.map(({ to }) => to)];
  const begins = [...runs.map(({ from }) => from), length];
  return ends.map((from, i) => ({ from, to: begins[i] })).filter(({ from, to }) => to - from > FEWEST_OFF);
}

/** A first peak is the stalled current, two to six times the running one; beyond this it isn't the pump that fell. */
const MOST_PEAK = 15;
const PEAK_S = 0.1;
/** Still falling beyond so many times it is doubtful, and believed if the humps don't fall along. */
const DOUBTFUL_PEAK = 6;
/** A pump has come up to speed by then: its level stays, or its humps go with it. */
const SETTLED_S = 0.12;
const FALLS_TO = 0.6;
/** Humps are a share of the current, so their height goes with its level, power 1; an input that forgets keeps it, power 0. */
const KEEPS_HEIGHT = 0.35;

/**
 * Whether the level of a recorded start goes on falling although humps pass: the input forgot it, not the pump. Either next to
 * nothing is left of it, or it falls and the humps, which are a share of the current, don't.
 */
function forgets(run: Float32Array, sampleRateHz: number, segments: Segments): boolean {
  const { quietLevel = 0, inverted, quiet } = segments;
  const start = Math.round(PEAK_S * sampleRateHz);
  if (!quiet || run.length < 2 * start) return false;
  const size = Math.max(8, Math.round(0.001 * sampleRateHz));
  const above = toBlocks(run, size).mean.map((value) => (inverted ? -1 : 1) * (value - quietLevel));
  const peak = above.subarray(0, Math.floor(start / size)).reduce((most, value) => Math.max(most, value), 0);
  const isLost = run.length >= 4 * start && peak > MOST_PEAK * Math.abs(median(above.subarray(above.length >> 1)));
  const settled = run.subarray(Math.round(SETTLED_S * sampleRateHz));
  return (
    (isLost || fallsAlone(settled, sampleRateHz, peak, segments)) &&
    humpsPass(run.subarray(run.length >> 1), sampleRateHz)
  );
}

/** Whether the level falls from the first to the last third while its humps keep their height. */
function fallsAlone(
  settled: Float32Array,
  sampleRateHz: number,
  peak: number,
  { quietLevel = 0, inverted, noise = 0 }: Segments,
): boolean {
  const third = Math.floor(settled.length / 3);
  if (third < (PEAK_S / 2) * sampleRateHz) return false;
  const [first, last] = [settled.subarray(0, third), settled.subarray(2 * third)].map((part) => ({
    level: (inverted ? -1 : 1) * (levels(part).mean - quietLevel),
    height: Math.sqrt(Math.max(0, activity(part, sampleRateHz) ** 2 - noise ** 2)),
  }));
  const falls = last.level / first.level;
  return (
    last.level > 0 &&
    peak > DOUBTFUL_PEAK * last.level &&
    falls < FALLS_TO &&
    last.height > noise &&
    last.height / first.height > falls ** KEEPS_HEIGHT
  );
}

/** Root of the median power in short blocks, without the slow course. */
function activity(samples: Float32Array, sampleRateHz: number): number {
  return median(toBlocks(samples, Math.max(8, Math.round(BLOCK_S * sampleRateHz))).deviation);
}

export function humpsPass(stretch: Float32Array, sampleRateHz: number): boolean {
  const length = Math.min(stretch.length, Math.round(LOOKED_AT_S * sampleRateHz));
  if (length < LEAST_S * sampleRateHz) return false;
  const from = Math.floor((stretch.length - length) / 2);
  const level = withoutCourse(stretch.subarray(from, from + length), sampleRateHz);
  // Before the spikes are cut: a tone whose tops were cut with them has harmonics of its own.
  const hums = removeMains(level, sampleRateHz);
  const part = withoutSpikes(level);
  const onlyRounds = hums && levels(part).deviation < ROUNDED * recorderStep(stretch);
  const segment = Math.min(length, Math.round(SEGMENT_S * sampleRateHz));
  const spectrum = welchSpectrum(part, sampleRateHz, segment, 16);
  return findLines(spectrum, LOWEST_HZ, Math.min(FASTEST_HUMPS_HZ, 0.45 * sampleRateHz), 400).some(
    ({ hz, prominence }) => prominence > PROMINENT && !isMains(hz, onlyRounds ? Infinity : MOST_HARMONICS),
  );
}

function isMains(hz: number, mostHarmonics: number): boolean {
  return [50, 60].some((mains) => {
    const order = Math.round(hz / mains);
    return order <= mostHarmonics && Math.abs(hz - order * mains) < Math.max(MAINS_HZ, MAINS_SHARE * hz);
  });
}

/** Beyond so many robust deviations lie ignition's spikes, and hardly anything of humps or of a recorder's rounding. */
const SPIKE = 5;

/** Ignition's spikes are narrow: cut at what the rest reaches, hardly anything of them is left in any line. */
function withoutSpikes(samples: Float32Array): Float32Array {
  const few = thin(samples, 32_768);
  const middle = median(few);
  const reach = SPIKE * robustDeviation(few, middle);
  return samples.map((value) => Math.min(middle + reach, Math.max(middle - reach, value)));
}

function withoutCourse(samples: Float32Array, sampleRateHz: number): Float32Array {
  const out = movingAverageInto(new Float32Array(samples.length), samples, Math.round((COURSE_S * sampleRateHz) / 2));
  for (let i = 0; i < out.length; i++) out[i] = samples[i] - out[i];
  return out;
}

function flowsBackwards(run: Float32Array, { quietLevel, inverted, noise }: Segments): boolean {
  const few = thin(run, 65_536);
  const sign = inverted ? -1 : 1;
  const zero = quietLevel ?? 0;
  const least = Math.max(BACKWARDS_A, 5 * (noise ?? 0));
  const below = few.reduce((count, value) => count + (sign * (value - zero) < -least ? 1 : 0), 0);
  return below > BACKWARDS_SHARE * few.length;
}

/**
 * Brings such a record into the form of any other: without the slow course that the input made, and with the least level that
 * lets its dips be dips of a current. Nothing of that level may be reported.
 */
export function levelled(samples: Float32Array, sampleRateHz: number): Coupled {
  const fast = withoutCourse(samples, sampleRateHz);
  const size = Math.max(8, Math.round(BLOCK_S * sampleRateHz));
  const { mean, deviation } = toBlocks(fast, size);
  const lively = movingAverage(deviation, Math.round(LIVELY_S / (2 * BLOCK_S)));
  const usual = quantile(lively, 0.75);
  const least = RUNS_SHARE * usual;
  // Dead stretches of a slow turn throw the blocks' means about as well, again and again.
  const swings = median(Array.from(mean, Math.abs).filter((_, b) => lively[b] > least));
  const most = SWITCHED * Math.hypot(usual, swings || 0);
  const stretches = rangesWhere(Array.from(lively, (value, b) => value > least && Math.abs(mean[b]) < most))
    .map(({ from, to }) => ({ from: from * size, to: Math.min(samples.length, to * size) }))
    .filter(({ from, to }) => to - from > SHORTEST_RUN_S * sampleRateHz);
  const runs = stretches
    .map(({ from, to }): SampleRange => ({
      from: from > 2 * size ? from + Math.round(START_S * sampleRateHz) : from,
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

/** By the start's surge where one was recorded; by the notches else. */
function isBackwards(
  fast: Float32Array,
  run: SampleRange,
  stretch: SampleRange,
  samples: Float32Array,
  sampleRateHz: number,
): boolean {
  const around = Math.round(0.03 * sampleRateHz);
  if (stretch.from > 2 * around) {
    const before = levels(samples, stretch.from - 2 * around, stretch.from - around).mean;
    const after = levels(samples, stretch.from, stretch.from + around).mean;
    return after < before;
  }
  const few = thin(fast.subarray(run.from, run.to), 32_768);
  const [low, middle, high] = [quantile(few, 0.01), median(few), quantile(few, 0.99)];
  return high - middle - (middle - low) > SKEWED * (high - low);
}
