import { LIMITS } from '../../limits/limits.js';
import { toBlocks } from '../../signal/blocks.js';
import { median } from '../../signal/levels.js';
import { rangesOf } from '../../signal/ranges.js';
import type { Run, SampleRange } from './runs.js';
import { thin } from '../../signal/thin.js';

/** A rotor that stands makes no voltage of its own: it draws twice the running current and more; nothing else lasts so long. */
export const STANDS_SHARE = 1.6;
/** More than that over what flows else: then the pump hardly ran before, on few of its bars. */
const MOST_SHARE = 1.5 * LIMITS.inrushMost.value;
const BLOCK_S = 0.005;
const LEAST_S = 0.03;
/** Of a cycle: what a rate that is known to less makes of whole ones. */
const WHOLE = 0.01;
/** Enough to know the usual draw by. */
const MOST_BLOCKS = 8192;
/** The first peak of a start is no stall. */
export const START_S = 0.15;
/** Slowing down and coming back to speed, s. */
const AROUND_S = 0.08;

/** What disturbs a run that has turned. */
export interface Disturbances {
  /** The rotor comes to stand. */
  readonly stalls: readonly SampleRange[];
  /** It draws far less than usual, and not nothing. */
  readonly lows: readonly Low[];
  /** It has lost speed, or its feed, and starts anew. */
  readonly restarts: readonly SampleRange[];
  /** It loses its feed and starts anew, once or again and again. */
  readonly breaks: readonly SampleRange[];
}

export interface Low extends SampleRange {
  /** Of the usual draw. */
  readonly share: number;
}

/** Less than this share of the usual draw for longer than a start takes to come up is no load that varies. */
const LOW_SHARE = 0.75;
const LOW_LEAST_S = 0.05;
/** Crests that come so near to the usual flow between gaps, and at no lower level. */
const UP_SHARE = 0.9;
/** Of the usual draw: what is less is gone, which is a dropout or an off. */
const GONE_SHARE = 0.15;
/** A block with so little of the usual draw holds a gap; with a new start after it, the rotor lost speed meanwhile. */
const BROKEN_SHARE = 0.5;
/** A rotor that starts anew had less before, for at least so long, s. */
const BEFORE_S = 0.02;
/**
 * Or its peak comes at once, within so many blocks, and is down to this share of it in the second half: it comes up to speed, as after
 * a feed that came back or a battery that a starter lets go. A rotor that jams at once stays at its stalled current.
 */
const PEAK_BLOCKS = 2;
const COMES_UP_TO = 0.9;

/**
 * What disturbs a run after its start.
 * @param cycleS of a current that comes and goes: parts of a cycle are no disturbance
 */
export function findDisturbances(
  samples: Float32Array,
  sampleRateHz: number,
  run: Run,
  zero: number,
  inverted: boolean,
  cycleS = BLOCK_S,
): Disturbances {
  const from = run.onset === undefined ? run.from : run.from + Math.round(START_S * sampleRateHz);
  const blockS = Math.ceil(BLOCK_S / cycleS - WHOLE) * cycleS;
  const size = Math.max(8, Math.round(blockS * sampleRateHz));
  if (run.to - from < 4 * size) return { stalls: [], lows: [], restarts: [], breaks: [] };
  const { mean, deviation } = toBlocks(samples.subarray(from, run.to), size);
  const draw = mean.map((value) => (inverted ? zero - value : value - zero));
  const usual = usualDraw(draw, run.onset === undefined ? undefined : firstPeak(samples, run, from, size, zero));
  const inSamples = (range: SampleRange) => ({ from: from + range.from * size, to: from + range.to * size });
  const lasting = (leastS: number, isSo: (share: number, block: number) => boolean) =>
    rangesOf(draw, (value, block) => isSo(value / usual, block)).filter(
      (range) => (range.to - range.from) * size > leastS * sampleRateHz,
    );
  const around = Math.round((AROUND_S * sampleRateHz) / size);
  const before = Math.max(1, Math.round((BEFORE_S * sampleRateHz) / size));
  const comesFromLess = ({ from: block }: SampleRange) =>
    block > 0 && median(draw.subarray(Math.max(0, block - before), block)) < LOW_SHARE * usual;
  const isStart = (range: SampleRange) => comesFromLess(range) || comesUpToSpeed(draw.subarray(range.from, range.to));
  // Among gaps the mean is low, and what flows between them is not.
  const isLow = (share: number, block: number) =>
    share > GONE_SHARE && share < LOW_SHARE && share + deviation[block] / usual < UP_SHARE;
  const high = lasting(LEAST_S, (share) => share > STANDS_SHARE && share < MOST_SHARE);
  const broken = joined(
    lasting(0, (share) => share < BROKEN_SHARE || share > STANDS_SHARE),
    around,
  );
  const [gone, anew] = [BROKEN_SHARE, STANDS_SHARE].map((share) => share * usual);
  const startsAnew = ({ from: first, to }: SampleRange) => {
    const part = draw.subarray(first, to);
    const breaksAt = part.findIndex((value) => value < gone);
    return breaksAt >= 0 && part.subarray(breaksAt).some((value) => value > anew);
  };
  return {
    breaks: broken.filter(startsAnew).map(inSamples),
    stalls: high.filter((range) => !isStart(range)).map(inSamples),
    restarts: high.filter(isStart).map(inSamples),
    lows: joined(lasting(LOW_LEAST_S, isLow), around).map((range) => ({
      ...inSamples(range),
      share: median(draw.subarray(range.from, range.to)) / usual,
    })),
  };
}

/** A rotor that comes to stand draws what it drew as it stood at first, which a block's mean doesn't quite show. */
const STALLED_SHARE = 0.65;
const FEWEST_BLOCKS = 4;

/**
 * What a run usually draws: its median, but for blocks that draw as much as its first peak. In a short run a rotor that stands may
 * do so for more than half of it.
 */
function usualDraw(draw: Float64Array, peak: number | undefined): number {
  const all = thin(draw, MOST_BLOCKS);
  const turns = peak === undefined ? all : all.filter((value) => value < STALLED_SHARE * peak);
  return median(turns.length < FEWEST_BLOCKS ? all : turns);
}

/** The highest block of a run's start, A. */
function firstPeak(samples: Float32Array, run: Run, until: number, size: number, zero: number): number {
  const { mean } = toBlocks(samples.subarray(run.from, until), size);
  return mean.reduce((most, value) => Math.max(most, Math.abs(value - zero)), 0);
}

/** Whether a current that is high for a while peaks at once and falls, as when a feed comes back, and doesn't stay as a stalled one does. */
function comesUpToSpeed(high: Float64Array): boolean {
  const peak = high.reduce((most, value) => Math.max(most, value), 0);
  return high.indexOf(peak) < PEAK_BLOCKS && median(high.subarray(high.length >> 1)) < COMES_UP_TO * peak;
}

/** Ranges that lie nearer to each other than `apart`, as one. */
function joined(ranges: readonly SampleRange[], apart: number): SampleRange[] {
  const out: SampleRange[] = [];
  for (const range of ranges) {
    const last = out.at(-1);
    if (last && range.from - last.to < apart) out[out.length - 1] = { from: last.from, to: range.to };
    else out.push(range);
  }
  return out;
}

/** The longest part of a run beside what disturbed its turning: stalls, an engine that was cranked. */
export function turningPart(run: Run, disturbing: readonly SampleRange[], sampleRateHz: number): Run {
  if (disturbing.length === 0) return run;
  const around = Math.round(AROUND_S * sampleRateHz);
  const sorted = [...disturbing].sort((a, b) => a.from - b.from);
  const parts: Run[] = [];
  // What disturbs may overlap.
  let calmFrom = run.from;
  for (const next of [...sorted, { from: run.to + around, to: run.to }]) {
    const onset = parts.length === 0 ? run.onset : undefined;
    parts.push({
      from: calmFrom,
      to: Math.max(calmFrom, Math.min(run.to, next.from - around)),
      ...(onset !== undefined && { onset }),
      ...(parts.length > 0 && { settles: true as const }),
    });
    calmFrom = Math.max(calmFrom, next.to + around);
  }
  return parts.reduce((a, b) => (b.to - b.from > a.to - a.from ? b : a));
}
