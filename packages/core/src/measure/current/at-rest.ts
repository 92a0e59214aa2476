import { axesOf, beside, dot, unit } from '../../signal/axes.js';
import { toBlocks } from '../../signal/blocks.js';
import { fastNoise } from '../../signal/fast-noise.js';
import { median } from '../../signal/levels.js';
import { MAINS_HZ } from '../../signal/mains.js';
import { recorderStep } from '../../signal/rounding.js';
import { withoutSpikes } from '../../signal/spikes.js';
import { thin } from '../../signal/thin.js';
import { DRIFT_A } from './explanation.js';
import type { Run, SampleRange, Segments } from './runs.js';

/** Short beside a fade, long beside noise. */
const BLOCK_S = 0.001;
const FEWEST_SAMPLES = 4;
/** What a switch and a clamp's own bandwidth do to an edge is over by then. */
const EDGE_S = 0.005;
/** An off is looked at by its end: whether it rests there is asked. */
const END_S = 0.1;
/** Level, slope and two tones of two amplitudes each are fitted; as many again are left to tell the noise. */
const FITTED = 6;
/** Of its own error: chance moves nothing so far. */
const STANDARD_ERRORS = 6;
/** Of the draw: the mean is wrong by about as much as the end of an off has still to go, and this is none of it. */
const LEAST_SHARE = 0.005;
/**
 * Of the draw, root mean square: what stirs an off by more than this, than noise in blocks and than rounding (step over the square root
 * of twelve) are humps of a rotor that still turns. Beside the mains' own tones their pick-up's harmonics are less, on a usual draw.
 */
const STIRS_SHARE = 0.015;
const STIRS_BEYOND_NOISE = 3;
/** Enough to know a run's level. */
const LOOKED_AT = 4096;

/** Half of the slowest turn, which is a period of the mains or more: of shorter offs none tells a level. */
const SHORTEST_OFF_S = 0.02;
/** Of an off, at either end: the switching. */
const EDGE_SHARE = 0.08;

/**
 * The segments with a zero that rests: their own, or, where that is an off which still comes back, that of the off before any run, or
 * of the longest other one that rests; without a zero where there is none.
 */
export function restingZero(samples: Float32Array, sampleRateHz: number, segments: Segments): Segments {
  if (isAtRest(samples, sampleRateHz, segments)) return segments;
  const { runs, quietLevel: _, ...others } = segments;
  const offs = [0, ...runs.map(({ to }) => to)]
    .map((from, i) => ({ from, to: runs[i]?.from ?? samples.length }))
    .filter(({ from, to }) => to - from >= SHORTEST_OFF_S * sampleRateHz)
    .map((quiet) => ({ ...segments, quiet, quietLevel: restOf(samples, quiet) }))
    .filter((one) => isAtRest(samples, sampleRateHz, one));
  const length = ({ quiet: { from, to } }: (typeof offs)[number]) => (from === 0 ? Infinity : to - from);
  return offs.length > 0 ? offs.reduce((a, b) => (length(b) > length(a) ? b : a)) : { runs, ...others };
}

function restOf(samples: Float32Array, { from, to }: SampleRange): number {
  const edge = Math.round(EDGE_SHARE * (to - from));
  return median(thin(samples.subarray(from + edge, to - edge), LOOKED_AT));
}

/**
 * How soon after a run the off ends that alone shows the clamp's zero, s; undefined where it lasts for long enough to see a pump that
 * still coasts, or where none ran before it. What a slowing rotor drives back goes with its speed, over a tenth of a second and more:
 * in less, its slope drowns in noise and in the mains, and the zero may be short by it.
 */
export function soonAfterRunS(sampleRateHz: number, segments: Segments): number | undefined {
  const { quiet, quietLevel, runs } = segments;
  const before = runBefore(sampleRateHz, segments);
  if (!quiet || quietLevel === undefined || !before || runs[0].from >= SHORTEST_OFF_S * sampleRateHz) return undefined;
  const lastsS = (quiet.to - before.to) / sampleRateHz;
  return lastsS < END_S ? lastsS : undefined;
}

/**
 * Whether what shows the clamp's zero is at rest as it ends. A pump that coasts drives its current backwards through another consumer,
 * less and less, in humps as it turns: an off after a run that still comes back, or in which they still pass, is short of the zero by
 * what nobody has seen. Its slope is fitted beside the mains' two possible tones, which a short off holds too few periods of to be
 * averaged out.
 */
function isAtRest(samples: Float32Array, sampleRateHz: number, segments: Segments): boolean {
  const { quiet, quietLevel = 0 } = segments;
  const before = runBefore(sampleRateHz, segments);
  if (!quiet || !before) return true;
  const end = quiet.to - (quiet.to < samples.length ? Math.round(EDGE_S * sampleRateHz) : 0);
  const from = Math.max(before.to + Math.round(EDGE_S * sampleRateHz), end - Math.round(END_S * sampleRateHz));
  const size = Math.max(FEWEST_SAMPLES, Math.round(BLOCK_S * sampleRateHz));
  const last = samples.subarray(from, Math.max(from, end));
  const course = withoutSpikes(toBlocks(last, size).mean);
  if (course.length < 2 * FITTED) return true;
  const towards = levelOf(samples, before) - quietLevel;
  const wanders = (DRIFT_A * (end - from)) / samples.length;
  const { backA, stirsA } = endOf(course, size / sampleRateHz, Math.sign(towards));
  const noise = (STIRS_BEYOND_NOISE * fastNoise(last)) / Math.sqrt(size);
  if (backA >= Math.max(LEAST_SHARE * Math.abs(towards), wanders)) return false;
  return stirsA < Math.max(STIRS_SHARE * Math.abs(towards), noise) || stirsA < recorderStep(samples) / Math.sqrt(12);
}

/** The run after which the off comes that shows the zero. */
function runBefore(sampleRateHz: number, { quiet, runs }: Segments): Run | undefined {
  return quiet && runs.findLast(({ to }) => to <= quiet.from + EDGE_S * sampleRateHz);
}

function levelOf(samples: Float32Array, { from, to }: Run): number {
  return median(thin(samples.subarray((from + to) >> 1, to), LOOKED_AT));
}

/** How an off ends: how far its course goes one way, 0 where that may be chance, and what moves it beside that and any mains. */
function endOf(course: Float64Array, blockS: number, sign: number) {
  const at = (value: (seconds: number) => number) => course.map((_, i) => value(i * blockS));
  const tones = MAINS_HZ.flatMap((hz) => [
    at((t) => Math.cos(2 * Math.PI * hz * t)),
    at((t) => Math.sin(2 * Math.PI * hz * t)),
  ]);
  const others = axesOf([at(() => 1), ...tones]);
  const slope = beside(
    at((t) => t),
    others,
  );
  const along = unit(slope);
  const rest = beside(course, [...others, along]);
  const stirsA = Math.sqrt(dot(rest, rest) / (course.length - FITTED));
  const moved = sign * dot(course, along);
  const backA = (moved / Math.sqrt(dot(slope, slope))) * (course.length - 1) * blockS;
  return { backA: moved < STANDARD_ERRORS * stirsA ? 0 : backA, stirsA };
}
