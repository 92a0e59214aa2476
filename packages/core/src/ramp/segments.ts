import { toBlocks, type Blocks } from '../signal/blocks.js';
import { levels, median, robustDeviation } from '../signal/levels.js';

/** Half-open range of samples. */
export interface SampleRange {
  readonly from: number;
  readonly to: number;
}

/** Where the pump is off and where it runs, with the zero and polarity that follow from it. */
export interface Segments {
  /** Level of the quiet part in the clamp's own reading; absent when nothing in the record is quiet. */
  readonly quietLevel?: number;
  /** Sample-to-sample noise of the quiet part. */
  readonly noise?: number;
  /** Running current reads below the quiet part (or below zero): the clamp is the wrong way round. */
  readonly inverted: boolean;
  /** The stretch in which the pump is powered; absent when no current flows at all. */
  readonly run?: SampleRange;
  /** First sample of rising current, if its start was recorded. */
  readonly onset?: number;
  /** First sample after the current went, if its end was recorded. */
  readonly off?: number;
}

const BLOCK_S = 0.002;
const FEWEST_BLOCKS = 40;
/** Longer records get longer blocks, so that sorting levels stays cheap. */
const MOST_BLOCKS = 20_000;
/** A shorter loss of current is a dropout within a run, a longer one ends it. */
const LONGEST_DROPOUT_S = 0.5;
/**
 * The off level is no livelier than the running current, but the recorder's steps may chop the noise differently at each
 * level, and a locked rotor runs as smoothly as none; humps make a run at least twice as lively.
 */
const CALM = 1.5;
const CALM_SHARE = 0.01;
/** Smaller steps than this are no pump starting. */
const LEAST_STEP_A = 0.25;

/** Splits a raw clamp record into off and run. No smoothing, so edges stay where they are. */
export function findSegments(samples: Float32Array, sampleRateHz: number): Segments {
  const usual = Math.max(Math.round(BLOCK_S * sampleRateHz), Math.ceil(samples.length / MOST_BLOCKS));
  const size = Math.max(2, Math.min(usual, Math.floor(samples.length / FEWEST_BLOCKS)));
  const blocks = toBlocks(samples, size);
  const quiet = findQuietLevel(blocks);
  if (!quiet) return withoutQuiet(samples, blocks);
  const { level, noise, step } = quiet;
  const tolerance = Math.max(0.12 * Math.abs(step), (4 * noise) / Math.sqrt(size));
  const running = Array.from(blocks.mean, (mean) => Math.abs(mean - level) > tolerance);
  const stretch = longestStretch(running, Math.round((LONGEST_DROPOUT_S * sampleRateHz) / size));
  const inverted = step < 0;
  const threshold = Math.max(5 * noise, 0.1 * Math.abs(step));
  const above = (i: number) => (inverted ? level - samples[i] : samples[i] - level) > threshold;
  const onset = stretch.from > 0 ? firstAbove(above, (stretch.from - 1) * size, (stretch.from + 1) * size) : undefined;
  const ended = stretch.to < running.length;
  const off = ended
    ? lastAbove(above, (stretch.to - 1) * size, Math.min(samples.length, (stretch.to + 1) * size))
    : undefined;
  return {
    quietLevel: level,
    noise,
    inverted,
    run: { from: onset ?? stretch.from * size, to: off ?? samples.length },
    ...(onset !== undefined && { onset }),
    ...(off !== undefined && { off }),
  };
}

/** Without a quiet part the record is all run or all off; only a clear level tells. */
function withoutQuiet(samples: Float32Array, blocks: Blocks): Segments {
  const center = median(blocks.mean);
  const whole = levels(samples);
  const flows = Math.abs(center) > LEAST_STEP_A || whole.deviation > LEAST_STEP_A;
  return {
    inverted: center < -LEAST_STEP_A,
    ...(flows && { run: { from: 0, to: samples.length } }),
  };
}

interface QuietLevel {
  level: number;
  noise: number;
  /** Signed distance from the quiet level to the running level. */
  step: number;
}

/**
 * The off level is flat, lies at an edge of all levels, is no livelier than the rest and is left abruptly.
 * Looked for at the head, at the tail, then at the lowest and highest levels.
 */
function findQuietLevel(blocks: Blocks): QuietLevel | undefined {
  const count = blocks.mean.length;
  const order = Array.from(blocks.mean.keys()).sort((a, b) => blocks.mean[a] - blocks.mean[b]);
  const few = Math.max(2, Math.min(5, Math.floor(count / 40)));
  const all = [...blocks.mean.keys()];
  const candidates = [all.slice(0, few), all.slice(-few), order.slice(0, few), order.slice(-few)];
  for (const members of candidates) {
    const quiet = judgeQuiet(blocks, members);
    if (quiet) return quiet;
  }
  return undefined;
}

function judgeQuiet({ mean, deviation, size }: Blocks, members: readonly number[]): QuietLevel | undefined {
  const start = median(members.map((i) => mean[i]));
  const startNoise = median(members.map((i) => deviation[i]));
  let farthest = 0;
  for (const value of mean) if (Math.abs(value - start) > Math.abs(farthest)) farthest = value - start;
  if (Math.abs(farthest) < LEAST_STEP_A) return undefined;
  const near = Math.max(0.05 * Math.abs(farthest), (4 * startNoise) / Math.sqrt(size));
  const inside: number[] = [];
  const outside: number[] = [];
  for (let i = 0; i < mean.length; i++) (Math.abs(mean[i] - start) <= near ? inside : outside).push(i);
  if (inside.length < 2 || outside.length < 4) return undefined;
  const level = median(inside.map((i) => mean[i]));
  const noise = median(inside.map((i) => deviation[i]));
  const step = median(outside.map((i) => mean[i])) - level;
  const otherSide = outside.filter((i) => Math.sign(mean[i] - level) !== Math.sign(step)).length;
  const spread = robustDeviation(
    inside.map((i) => mean[i]),
    level,
  );
  const flat = spread < 0.02 * Math.abs(step) + (3 * noise) / Math.sqrt(size);
  const lively = median(outside.map((i) => deviation[i]));
  const enough = Math.abs(step) > Math.max(LEAST_STEP_A, (8 * noise) / Math.sqrt(size));
  const edge = otherSide <= 0.02 * outside.length;
  const calm = noise <= Math.max(CALM * lively, CALM_SHARE * Math.abs(step));
  if (!(enough && edge && flat && calm)) return undefined;
  return leftAbruptly(mean, inside, step) ? { level, noise, step } : undefined;
}

/** Some neighbouring blocks, at most two apart, must differ by half the step or more. */
function leftAbruptly(mean: Float64Array, inside: readonly number[], step: number): boolean {
  const half = 0.5 * Math.abs(step);
  return inside.some((i) =>
    [i - 2, i - 1, i + 1, i + 2].some((j) => j >= 0 && j < mean.length && Math.abs(mean[j] - mean[i]) > half),
  );
}

function longestStretch(running: readonly boolean[], bridge: number): SampleRange {
  let best = { from: 0, to: 0 };
  let from = -1;
  let last = -1;
  for (let i = 0; i <= running.length; i++) {
    if (i < running.length && running[i]) {
      if (from < 0) from = i;
      last = i;
    } else if (from >= 0 && (i === running.length || i - last > bridge)) {
      if (last + 1 - from > best.to - best.from) best = { from, to: last + 1 };
      from = -1;
    }
  }
  return best;
}

function firstAbove(above: (i: number) => boolean, from: number, to: number): number {
  for (let i = Math.max(0, from); i < to; i++) if (above(i) && above(i + 1) && above(i + 2)) return i;
  return Math.max(0, from);
}

function lastAbove(above: (i: number) => boolean, from: number, to: number): number {
  for (let i = to - 1; i > Math.max(2, from); i--) if (above(i) && above(i - 1) && above(i - 2)) return i + 1;
  return to;
}
