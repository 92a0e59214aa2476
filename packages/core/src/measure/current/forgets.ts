import { toBlocks } from '../../signal/blocks.js';
import { levels, median, quantile, robustDeviation } from '../../signal/levels.js';
import { thin } from '../../signal/thin.js';
import { LIVELIER, activity } from './activity.js';
import { FASTEST_HUMPS_HZ } from './commutators.js';
import { drawLog, signLog, zeroLog } from './explanation.js';
import { humpLines, humpsPass, LEAST_S } from './humps-pass.js';
import type { Segments } from './runs.js';

/** Short beside the windows in which levels are compared, long beside noise. */
const BLOCK_S = 0.001;
/** A first peak is the stalled current, two to six times the running one; beyond this it isn't the pump that fell. */
const MOST_PEAK = 15;
const PEAK_S = 0.1;
/** In so many times of a peak a start is over, and the second half of the run is without it. */
const SETTLES_IN = 2.5;
/** Still falling beyond so many times it is doubtful, and believed if the humps don't fall along. */
const DOUBTFUL_PEAK = 6;
/** A pump has come up to speed by then: its level stays, or its humps go with it. */
export const SETTLED_S = 0.12;
/** Shorter thirds of a run hold too few humps to compare their heights. */
const SHORTEST_THIRD_S = 0.04;
const FALLS_TO = 0.6;
/** A fall to so much shows in a motor's speed. */
const CHANGES_RATE = 0.75;
/** Humps are a share of the current, so their height goes with its level, power 1; an input that forgets keeps it, power 0. */
const KEEPS_HEIGHT = 0.35;
/** Of the rise of speed that goes with a fall of current: the stalled current is more than the peak that was seen. */
const SPEEDS_UP = 0.5;
/** A rotor that stands warms its winding by 150 K in a minute at most, which takes a third of its current (copper, 0.4 %/K). */
const WARMS_TO = 0.5;
/** A level that falls on and on is lower in each of so many parts. */
const FALLS_IN = 6;

/**
 * Whether the level of a recorded start goes on falling as no pump's does: next to nothing is left of it, or it falls and the
 * humps, which are a share of the current, don't, or it falls by half without any humps.
 */
export function runForgets(run: Float32Array, sampleRateHz: number, segments: Segments): boolean {
  const { quietLevel = 0, inverted, quiet } = segments;
  const start = Math.round(PEAK_S * sampleRateHz);
  const settled = run.subarray(Math.round(SETTLED_S * sampleRateHz));
  if (!quiet || settled.length < LEAST_S * sampleRateHz) return false;
  const size = Math.max(8, Math.round(BLOCK_S * sampleRateHz));
  const above = toBlocks(run, size).mean.map((value) => (inverted ? -1 : 1) * (value - quietLevel));
  const peak = above.subarray(0, Math.floor(start / size)).reduce((most, value) => Math.max(most, value), 0);
  const isLost =
    run.length >= SETTLES_IN * start && peak > MOST_PEAK * Math.abs(median(above.subarray(above.length >> 1)));
  if (isLost || fallsAlone(settled, sampleRateHz, peak, segments)) {
    if (humpsPass(run.subarray(run.length >> 1), sampleRateHz)) return true;
  }
  const still = above.subarray(Math.round((SETTLED_S * sampleRateHz) / size));
  const left = fallsTo(still, segments);
  const showsHumps = sampleRateHz > 2 * FASTEST_HUMPS_HZ || (left !== undefined && peak > MOST_PEAK * left);
  return left !== undefined && showsHumps && !humpsPass(settled, sampleRateHz);
}

/** What is left of a level that falls on and on, by half and more, or the noise that hides it; undefined of any other. */
function fallsTo(above: Float64Array, { noise = 0 }: Segments): number | undefined {
  const parts = Array.from({ length: FALLS_IN }, (_, i) =>
    median(above.subarray((i * above.length) / FALLS_IN, ((i + 1) * above.length) / FALLS_IN)),
  );
  const left = Math.max(parts[parts.length - 1], noise);
  const falls = left < WARMS_TO * parts[0] && parts.every((value, i) => i === 0 || value < parts[i - 1]);
  return falls ? left : undefined;
}

/** Whether the level falls from the first to the last third while its humps keep their height or their rate. */
function fallsAlone(
  settled: Float32Array,
  sampleRateHz: number,
  peak: number,
  { quietLevel = 0, inverted, noise = 0 }: Segments,
): boolean {
  const third = Math.floor(settled.length / 3);
  if (third < SHORTEST_THIRD_S * sampleRateHz) return false;
  const [first, last] = [settled.subarray(0, third), settled.subarray(2 * third)].map((part) => ({
    part,
    level: (inverted ? -1 : 1) * (levels(part).mean - quietLevel),
    height: Math.sqrt(Math.max(0, activity(part, sampleRateHz) ** 2 - noise ** 2)),
  }));
  const falls = last.level / first.level;
  if (!(last.level > 0 && peak > DOUBTFUL_PEAK * last.level && falls < CHANGES_RATE)) return false;
  const keepsHeight = falls < FALLS_TO && last.height > noise && last.height / first.height > falls ** KEEPS_HEIGHT;
  return keepsHeight || keepsRate(first.part, last.part, (first.level - last.level) / peak, sampleRateHz);
}

/**
 * Whether humps pass as fast at the end as at the beginning, although so much of the stalled current is gone: a motor's speed
 * rises by what its current falls, both as shares of the stalled current and the idle speed (torque and back voltage go with
 * the same constant; any textbook of motors).
 */
function keepsRate(first: Float32Array, last: Float32Array, fallen: number, sampleRateHz: number): boolean {
  const [before] = humpLines(first, sampleRateHz);
  return humpLines(last, sampleRateHz).some((hz) => Math.abs(hz / before - 1) < SPEEDS_UP * fallen);
}

/** What a switch and a clamp's own bandwidth do to an edge is over by then. */
const EDGE_S = 0.005;
const SHORTEST_OFF_S = 0.03;
/** Longer ago than this nothing is left to fade. */
const LONGEST_FADE_S = 0.5;
/** A clamp's zero wanders by some tenths of an ampere while it records; faster than this an input forgets, A/s. */
const WANDERS_A_S = 1;
const STANDARD_ERRORS = 6;
const PARTS = 3;
/** What a rotor that coasts feeds back is found where it is more than so much of its draw (`coasting.ts`). */
const GENERATES_SHARE = 0.15;

/**
 * Whether the level of an off comes back towards that of the run before, quickly first: with a clamp that passes steady current
 * nothing flows in an off, but for what a pump drives that coasts.
 */
export function offFades(
  samples: Float32Array,
  sampleRateHz: number,
  { runs, inverted, coasting = [] }: Segments,
): boolean {
  const edge = Math.round(EDGE_S * sampleRateHz);
  return runs.some(({ off }, i) => {
    if (off === undefined) return false;
    const end = i + 1 < runs.length ? runs[i + 1].from - edge : samples.length;
    const from = (coasting.find((one) => one.from < off + 2 * edge && one.to > off)?.to ?? off) + edge;
    const to = Math.min(end, from + Math.round(LONGEST_FADE_S * sampleRateHz));
    const rest = samples.subarray(from, Math.max(from, to));
    if (rest.length < SHORTEST_OFF_S * sampleRateHz) return false;
    const before = samples.subarray(Math.max(0, off - edge - rest.length), off - edge);
    const draw = Math.abs(median(thin(before, LOOKED_AT)) - median(thin(rest, LOOKED_AT)));
    const sign = inverted ? -1 : 1;
    return fades(rest, sampleRateHz, sign, GENERATES_SHARE * draw) && !holdsMeanwhile(before, rest, sign);
  });
}

/** Of what an input that fades as the off does would have to lose of the run. */
const LOSES_SHARE = 0.5;

/**
 * Whether a run held its level for as long as the off after it faded. What an input forgot of the draw is how far below its rest it
 * goes as the pump is switched off, and the rest of the draw is what it still had to forget, at the same rate.
 * @param rest as long as `before`
 */
function holdsMeanwhile(before: Float32Array, rest: Float32Array, sign: 1 | -1): boolean {
  const third = Math.floor(before.length / PARTS);
  const part = (of: Float32Array, i: number) => sign * median(thin(of.subarray(i * third, (i + 1) * third), LOOKED_AT));
  const [first, middle, last] = [part(rest, 0), part(rest, 1), part(rest, 2)];
  // What is left of the way to its rest after a third of the time; an exponential leaves the same share each time.
  const left = (last - middle) / (middle - first);
  if (!(left > 0 && left < 1)) return false;
  const resting = last + ((last - middle) * left) / (1 - left);
  const [early, late] = [part(before, 0) - resting, part(before, 2) - resting];
  return late > resting - first && early - late < LOSES_SHARE * early * (1 - left * left);
}

/** One input in a hundred passes no steady current (common practice, no published source). */
const INPUT_FORGETS = 0.01;
/** A draw that no pump has is a clamp's scale that wasn't set, one time in thirty (common practice, no published source). */
const WRONG_SCALE = Math.log(1 / 30);

/**
 * Whether the running pump reads nothing and the off, or what the current falls to within turns or cycles, what flows, the other way
 * round: a clamp would have to be off by just the draw, while an input that forgets comes to its own zero in every run, and goes as
 * far below when nothing flows. Either zero is as likely as a clamp is off by it.
 */
export function readsNothing(samples: Float32Array, { quiet, quietLevel = 0, inverted, runs }: Segments): boolean {
  if (runs.length === 0) return false;
  const { mean } = levels(thin(secondHalf(samples, runs), LOOKED_AT));
  // A floor shows no off, by which an input that forgets would give itself away: there sign and draw count as well.
  const ofFloor = quiet ? 0 : signLog(inverted ? -1 : 1) + Math.max(WRONG_SCALE, drawLog(Math.abs(mean - quietLevel)));
  return Math.log(INPUT_FORGETS) + zeroLog(mean, false) > zeroLog(quietLevel, false) + ofFloor;
}

/**
 * Whether what runs the longest draws next to nothing beside the peak of a start, though humps pass in it: the level that a run
 * seems to end with is what an input forgot.
 */
export function fallsToNothing(samples: Float32Array, sampleRateHz: number, segments: Segments): boolean {
  const { quietLevel = 0, inverted, quiet, runs } = segments;
  if (!quiet || runs.length < 2) return false;
  const size = Math.max(8, Math.round(BLOCK_S * sampleRateHz));
  const above = (value: number) => (inverted ? -1 : 1) * (value - quietLevel);
  const peaks = runs.map(({ from, to }) =>
    toBlocks(samples.subarray(from, Math.min(to, from + Math.round(PEAK_S * sampleRateHz))), size).mean.reduce(
      (most, value) => Math.max(most, above(value)),
      0,
    ),
  );
  const settled = secondHalf(samples, runs);
  const level = Math.abs(above(median(thin(settled, LOOKED_AT))));
  return Math.max(...peaks) > MOST_PEAK * level && humpsPass(settled, sampleRateHz);
}

/** Of the longest run. */
function secondHalf(samples: Float32Array, runs: Segments['runs']): Float32Array {
  const { from, to } = runs.reduce((a, b) => (b.to - b.from > a.to - a.from ? b : a));
  return samples.subarray((from + to) >> 1, to);
}

/** Over its whole period the mains' pick-up leaves a median where it is; whose mains it is nobody knows, s. */
const MAINS_PERIODS_S = [1 / 50, 1 / 60] as const;

/** A level that fades does so quickly at first: halfway it is half of the way and more, less what is left of hum; a slow start's toe is not. */
const QUICKLY_FIRST = 0.25;

function fades(rest: Float32Array, sampleRateHz: number, sign: 1 | -1, leastA: number): boolean {
  const size = Math.max(4, Math.round(BLOCK_S * sampleRateHz));
  const course = toBlocks(rest, size).mean.map((value) => sign * value);
  const blockS = size / sampleRateHz;
  const noise = robustDeviation(course.subarray(1).map((value, i) => value - course[i])) / Math.SQRT2;
  return MAINS_PERIODS_S.every((periodS) => {
    const width = Math.round(periodS / blockS);
    const apart = course.length - width;
    const at = (from: number) => median(course.subarray(from, from + width));
    const [first, middle, last] = [at(0), at(apart >> 1), at(apart)];
    const error = (STANDARD_ERRORS * noise) / Math.sqrt(width);
    const moved = last - first;
    return (
      moved > Math.max(leastA, WANDERS_A_S * apart * blockS + error) && middle - first > QUICKLY_FIRST * moved - error
    );
  });
}

/** So many blocks show the range of all. */
const LOOKED_AT = 4096;
/** A start goes up by so much of all that the record shows, within so many blocks. */
const STARTS_BY = 0.5;
const STARTS_WITHIN = 5;
/** And by so many times what moves before it. */
const STANDS_OUT = 4;
const SHORTEST_HEAD_S = 0.06;

/**
 * Whether a record that seems to begin in the run has a start in it, before which no humps pass: what looks like one level before
 * and after is what the input came back to.
 */
export function startsAmidRun(samples: Float32Array, sampleRateHz: number, { quiet, runs }: Segments): boolean {
  if (quiet?.from === 0 || runs[0]?.from !== 0) return false;
  const size = Math.max(4, Math.round(BLOCK_S * sampleRateHz));
  const { mean } = toBlocks(samples, size);
  const rise = STARTS_BY * rangeOf(mean);
  const start = mean.findIndex((value, i) => Math.abs(value - mean[Math.max(0, i - STARTS_WITHIN)]) > rise);
  const calm = mean.subarray(0, Math.max(0, start - STARTS_WITHIN));
  if (calm.length * size < SHORTEST_HEAD_S * sampleRateHz || rangeOf(calm) > rise / STANDS_OUT) return false;
  const settled = samples.subarray(start * size + Math.round(SETTLED_S * sampleRateHz));
  return !humpsPass(samples.subarray(0, calm.length * size), sampleRateHz) && humpsPass(settled, sampleRateHz);
}

/** Shorter rests hold too little to say that nothing moves in them. */
const SHORTEST_REST_S = 0.04;
/** Of the edge: what comes back by half is no rotor that stands. */
const COMES_BACK = 0.5;

/**
 * Whether a record that seems to end in the run has an off in it, and the run is what seems to be none: an edge, and after it a
 * level that comes back by half while nothing stirs. A rotor that turns stirs the current, and one that stands holds it.
 */
export function endsAmidRun(samples: Float32Array, sampleRateHz: number, { runs }: Segments): boolean {
  const last = runs.at(-1);
  if (!last || last.off !== undefined || last.to < samples.length) return false;
  const size = Math.max(4, Math.round(BLOCK_S * sampleRateHz));
  const { mean } = toBlocks(samples, size);
  const edgeOf = (i: number) => mean[i] - mean[Math.max(0, i - STARTS_WITHIN)];
  // The last of its like: dead stretches of each turn have edges as high.
  const least = STARTS_BY * rangeOf(mean);
  const end = mean.findLastIndex((_, i) => Math.abs(edgeOf(i)) >= least);
  const rest = samples.subarray((end + STARTS_WITHIN) * size);
  const run = samples.subarray(0, Math.max(0, end - STARTS_WITHIN) * size);
  if (end < 0 || rest.length < SHORTEST_REST_S * sampleRateHz) return false;
  if (run.length < SHORTEST_HEAD_S * sampleRateHz) return false;
  const left = (median(mean.subarray(-STARTS_WITHIN)) - median(mean.subarray(0, end - STARTS_WITHIN))) / edgeOf(end);
  const isStill = LIVELIER * activity(rest, sampleRateHz) < activity(run, sampleRateHz);
  return Math.abs(left) < COMES_BACK && isStill && fades(rest, sampleRateHz, edgeOf(end) > 0 ? -1 : 1, 0);
}

function rangeOf(values: Float64Array): number {
  const few = thin(values, LOOKED_AT);
  return quantile(few, 1) - quantile(few, 0);
}
