import { levels, median } from '../../signal/levels.js';
import type { SampleRange } from './runs.js';

/** Long enough to hold a hundred periods and that humps average out of them, short enough to follow the driver's clock, s. */
const WINDOW_S = 0.5;
/** Fewer samples a period show nothing of what a driver makes of it. */
const FEWEST_A_PERIOD = 4;
const MOST_BINS = 64;
const FEWEST_PERIODS = 8;
/** Of the current's own stirring: less of the driver's hides no hump. */
const LEAST_SHARE = 0.2;

/** The driver's part of a current is that of one that has started; it is taken off the start as well. */
const STARTED_S = 0.15;

/**
 * The current without what comes back with the driver that switches its feed: the winding lets it rise and fall in each of the driver's
 * periods, though never to nothing. The driver's clock is known from its own line, so what most periods have at a phase is the driver's;
 * humps pass at every phase alike and stay.
 *
 * @param samples raw, whichever way the clamp sits
 * @param drivenHz of the driver's clock
 * @param runs in which the current flows
 * @returns undefined where the driver stirs the current by little beside what else does, or switches too fast for the record
 */
export function withoutDriver(
  samples: Float32Array,
  sampleRateHz: number,
  drivenHz: number,
  runs: readonly SampleRange[],
): Float32Array | undefined {
  const period = sampleRateHz / drivenHz;
  if (period < FEWEST_A_PERIOD) return undefined;
  const size = Math.round(Math.max(WINDOW_S * sampleRateHz, FEWEST_PERIODS * period));
  const out = samples.slice();
  const shares: number[] = [];
  for (const { from, to } of runs) {
    const started = Math.min(to, from + Math.round(STARTED_S * sampleRateHz));
    const count = Math.floor((to - started) / size);
    for (let w = 0; w < count; w++) {
      const window = { from: started + w * size, to: w === count - 1 ? to : started + (w + 1) * size };
      const pattern = foldOf(samples, window, period);
      shares.push(levels(pattern).deviation / levels(samples, window.from, window.to).deviation);
      take(out, w === 0 ? { from, to: window.to } : window, pattern, period);
    }
  }
  return shares.length > 0 && median(shares) > LEAST_SHARE ? out : undefined;
}

/** Where in a pattern of so many values a sample lies, from the middle of the first on. */
const placeOf = (i: number, period: number, bins: number) => (((i / period) % 1) * bins + bins - 0.5) % bins;

/** What comes back with a period, by its phase, about its mean. */
function foldOf(samples: Float32Array, { from, to }: SampleRange, period: number): Float64Array {
  const bins = Math.min(MOST_BINS, Math.floor(period));
  const sums = new Float64Array(bins);
  const counts = new Float64Array(bins);
  // Each sample counts for the two values that it lies between, by its nearness.
  for (let i = from; i < to; i++) {
    const place = placeOf(i, period, bins);
    const first = Math.floor(place);
    const second = (first + 1) % bins;
    const share = place - first;
    sums[first] += (1 - share) * samples[i];
    counts[first] += 1 - share;
    sums[second] += share * samples[i];
    counts[second] += share;
  }
  const pattern = sums.map((sum, bin) => sum / counts[bin]);
  const { mean } = levels(pattern);
  return pattern.map((value) => value - mean);
}

function take(samples: Float32Array, { from, to }: SampleRange, pattern: Float64Array, period: number): void {
  for (let i = from; i < to; i++) {
    const place = placeOf(i, period, pattern.length);
    const first = Math.floor(place);
    const share = place - first;
    samples[i] -= (1 - share) * pattern[first] + share * pattern[(first + 1) % pattern.length];
  }
}
