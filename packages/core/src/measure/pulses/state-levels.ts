import type { SampleSource } from '../../capture/source.js';
import { chunksOf } from '../../capture/source.js';

/** The levels between which a line is switched, V. */
export interface StateLevels {
  readonly lowV: number;
  readonly highV: number;
  /** How far samples lie about their state, rms, V. */
  readonly noiseV: number;
}

/** A line that stays at one level, V. */
export interface OneLevel {
  readonly levelV: number;
}

/** Finer than the steps of any recorder's 12 bits over its range. */
const BINS = 4096;
/** Share of the samples at either end that may be spikes: a state that is held for less of the record isn't looked for. */
const TAIL = 0.0005;
/** Half the width, as a share of the amplitude, in which samples belong to a state's most frequent level. */
const MODE_SHARE = 0.05;
/** … of which those belong to the level itself that its noise explains, deviations. */
const LEVEL_DEVIATIONS = 3;
/** No receiver tells states from each other that lie closer: half a volt is far inside the gap of TTL levels (0.8 and 2.0 V). */
const LEAST_AMPLITUDE_V = 0.5;
/**
 * States part by so many times the scatter about them. Split in the middle, a ramp gives 3.5 and a sine 4.1 (the distance of
 * the halves' means over their deviation); the scatter taken here is a robust one, which puts them no higher.
 */
const LEAST_PARTING = 6;
/** Consistent with the standard deviation for normal values. */
const MAD_TO_DEVIATION = 1.4826;

/**
 * State levels by histogram: split in the middle of its range, the most frequent level of each half (IEEE Std 181-2011,
 * 5.2, from memory). Spikes are left out of the range first.
 */
export function stateLevels(source: SampleSource): StateLevels | OneLevel {
  const full = countIn(source, rangeOf(source));
  const width = (full.high - full.low) / BINS;
  const range = { low: quantileOf(full, TAIL) - width, high: quantileOf(full, 1 - TAIL) + width };
  const middle = median(full);
  if (!(range.high - range.low >= LEAST_AMPLITUDE_V)) return { levelV: middle };
  const histogram = countIn(source, range);
  const lower = stateIn(histogram, 0, BINS / 2);
  const upper = stateIn(histogram, BINS / 2, BINS);
  const noiseV = Math.max(lower.deviation, upper.deviation);
  const amplitude = upper.level - lower.level;
  if (amplitude < LEAST_AMPLITUDE_V || amplitude < LEAST_PARTING * noiseV) return { levelV: middle };
  return { lowV: lower.level, highV: upper.level, noiseV };
}

interface Range {
  readonly low: number;
  readonly high: number;
}

interface Histogram extends Range {
  readonly counts: Float64Array;
  /** Sums of the samples of each bin: coarse bins keep exact means. */
  readonly sums: Float64Array;
}

function rangeOf(source: SampleSource): Range {
  let [low, high] = [Infinity, -Infinity];
  for (const chunk of chunksOf(source)) {
    for (const value of chunk) {
      if (value < low) low = value;
      if (value > high) high = value;
    }
  }
  return { low, high };
}

/** Samples within the range by bin; those outside are left out. */
function countIn(source: SampleSource, { low, high }: Range): Histogram {
  const counts = new Float64Array(BINS);
  const sums = new Float64Array(BINS);
  const scale = high > low ? BINS / (high - low) : 0;
  for (const chunk of chunksOf(source)) {
    for (const value of chunk) {
      if (value < low || value > high) continue;
      const bin = Math.min(BINS - 1, Math.floor((value - low) * scale));
      counts[bin]++;
      sums[bin] += value;
    }
  }
  return { low, high, counts, sums };
}

function quantileOf({ low, high, counts }: Histogram, share: number): number {
  const wanted = share * counts.reduce((sum, count) => sum + count, 0);
  let seen = 0;
  const bin = counts.findIndex((count) => (seen += count) >= wanted);
  return low + ((Math.max(0, bin) + 0.5) / BINS) * (high - low);
}

const median = (histogram: Histogram) => quantileOf(histogram, 0.5);

/** Most frequent level among bins [from, to), and the robust scatter of that half's samples about it. */
function stateIn(histogram: Histogram, from: number, to: number) {
  const { low, high, counts } = histogram;
  const half = Math.round(MODE_SHARE * BINS);
  let best = from;
  let most = -1;
  let near = 0;
  for (let bin = from; bin < Math.min(to, from + half); bin++) near += counts[bin];
  for (let bin = from; bin < to; bin++) {
    if (bin + half < to) near += counts[bin + half];
    if (bin - half - 1 >= from) near -= counts[bin - half - 1];
    if (near > most) [most, best] = [near, bin];
  }
  const within = (middle: number, reach: number) =>
    meanOf(histogram, Math.max(from, middle - reach), Math.min(to - 1, middle + reach));
  const first = within(best, half);
  const deviation = scatterAbout(first, histogram, from, to);
  // Edges lie about it as well: only what noise explains belongs to the level itself.
  const width = (high - low) / BINS;
  const middle = modeBin(histogram, Math.max(from, best - half), Math.min(to - 1, best + half));
  return { level: within(middle, Math.ceil((LEVEL_DEVIATIONS * deviation) / width) + 1), deviation };
}

function meanOf({ low, counts, sums }: Histogram, first: number, last: number): number {
  let [count, sum] = [0, 0];
  for (let bin = first; bin <= last; bin++) {
    count += counts[bin];
    sum += sums[bin];
  }
  return count > 0 ? sum / count : low;
}

function modeBin({ counts }: Histogram, first: number, last: number): number {
  let best = first;
  for (let bin = first; bin <= last; bin++) if (counts[bin] > counts[best]) best = bin;
  return best;
}

/** Median distance from a level, as a deviation; by growing outwards from its bin. */
function scatterAbout(level: number, { low, high, counts }: Histogram, from: number, to: number): number {
  const width = (high - low) / BINS;
  let total = 0;
  for (let bin = from; bin < to; bin++) total += counts[bin];
  const home = Math.min(to - 1, Math.max(from, Math.floor((level - low) / width)));
  let within = counts[home];
  let reach = 0;
  while (within < total / 2 && reach < to - from) {
    reach++;
    if (home - reach >= from) within += counts[home - reach];
    if (home + reach < to) within += counts[home + reach];
  }
  return MAD_TO_DEVIATION * reach * width;
}
