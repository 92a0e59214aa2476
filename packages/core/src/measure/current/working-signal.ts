import { boxDecimate } from '../../signal/blocks.js';
import { asItIs, between, type CurrentView } from './current-view.js';
import { median, quantile } from '../../signal/levels.js';
import { thin } from '../../signal/thin.js';
import type { SampleRange } from './runs.js';

/** The steady current at a rate that just serves the humps; long fast captures shrink to a fraction. */
export interface WorkingSignal {
  readonly sampleRateHz: number;
  /** Samples of the record averaged into one. */
  readonly factor: number;
  /** Zeroed, upright, A. */
  readonly current: Float32Array;
  /** The same with dropouts and spikes cut off at a fence, for finding and following the humps. */
  readonly fenced: CurrentView;
  /** Typical level, A. */
  readonly level: number;
  /** The recorder's step, A. */
  readonly stepA: number;
}

/** Twelve samples on the fastest humps expected (22 a turn at 10 000 rpm). */
export const WORKING_RATE_HZ = 44_000;
/** A run of many minutes needs no more to be known by: it is taken slower, down to five samples on those humps. */
const ENOUGH_SAMPLES = 10_000_000;
const SLOWEST_RATE_HZ = 20_000;
const FENCE_DEVIATIONS = 4;
/** Of a normal distribution's 10 to 90 % spread; unlike the median deviation it survives coarse recorder steps. */
const SPREAD_TO_DEVIATION = 1 / 2.563;
const QUANTILE_SAMPLES = 32_768;

/** Averages the raw record of a range down to the working rate and applies zero and polarity. */
export function makeWorkingSignal(
  samples: Float32Array,
  sampleRateHz: number,
  range: SampleRange,
  zero: number,
  inverted: boolean,
  stepA: number,
): WorkingSignal {
  const factor = decimation(sampleRateHz, range.to - range.from);
  const current = boxDecimate(samples, range.from, range.to, factor);
  if (alternates(current)) smoothPairs(current);
  const sign = inverted ? -1 : 1;
  const sample = thin(current, QUANTILE_SAMPLES).map((value) => sign * (value - zero));
  const level = median(sample);
  const fence = FENCE_DEVIATIONS * (quantile(sample, 0.9) - quantile(sample, 0.1)) * SPREAD_TO_DEVIATION;
  const floor = level - fence;
  const ceiling = level + fence;
  let isWithin = true;
  for (let i = 0; i < current.length; i++) {
    current[i] = sign * (current[i] - zero);
    isWithin &&= current[i] >= floor && current[i] <= ceiling;
  }
  const fenced = isWithin ? asItIs(current) : between(current, floor, ceiling);
  return {
    sampleRateHz: sampleRateHz / factor,
    factor,
    current,
    fenced,
    level,
    stepA,
  };
}

function decimation(sampleRateHz: number, samples: number): number {
  const forHumps = Math.floor(sampleRateHz / WORKING_RATE_HZ);
  const forLength = Math.min(Math.ceil(samples / ENOUGH_SAMPLES), Math.floor(sampleRateHz / SLOWEST_RATE_HZ));
  return Math.max(1, forHumps, forLength);
}

/** Chance leaves the mean of alternate differences within so many of its own errors. */
const BY_CHANCE = 6;
const MOST_PAIRS = 65_536;

/** Whether a recorder kept the lowest and the highest of what it saw by turns, so that neighbours lie apart by its noise. */
export function alternates(values: Float32Array): boolean {
  let sum = 0;
  let squares = 0;
  const pairs = Math.min(MOST_PAIRS, Math.floor((values.length - 1) / 2));
  for (let i = 0; i < pairs; i++) {
    const apart = values[2 * i] - 0.5 * (values[2 * i + 1] + values[Math.max(0, 2 * i - 1)]);
    sum += apart;
    squares += apart * apart;
  }
  return Math.abs(sum) > BY_CHANCE * Math.sqrt(squares);
}

/** Weights of 1, 2, 1 take out what alternates, and nothing slower to speak of. */
function smoothPairs(values: Float32Array): void {
  let before = values[0];
  for (let i = 1; i + 1 < values.length; i++) {
    const here = values[i];
    values[i] = 0.25 * before + 0.5 * here + 0.25 * values[i + 1];
    before = here;
  }
}
