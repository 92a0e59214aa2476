import { movingAverage } from '../../signal/blocks.js';
import { meanOf } from '../../signal/levels.js';
import type { OrderSignal } from './order.js';

/** How well the current at one angle is like that so many cycles of the followed line later. */
export interface Likeness {
  /** Mean correlation at lags of 0, 1, 2 ... cycles; [0] is 1. */
  readonly at: Float64Array;
  /** Standard error of one beside the others: their scatter from stretch to stretch, and what sampling folds into them. */
  readonly error: number;
}

/** One number of cycles that may be a turn, with the logarithm of how well it explains the likenesses. */
export interface TurnEvidence {
  readonly cycles: number;
  readonly log: number;
}

/** What lies beyond half the sample rate and was folded back: the same in every stretch, so that no scatter shows it. */
export interface Folded {
  /** Of the signal's power. */
  readonly share: number;
  /**
   * The harmonic that lies there first, where harmonics of what all pairs of cycles have in common were taken off. The rest is what
   * pairs don't have in common: mostly humps that come a little early or late, which moves the kth harmonic by k times the angle.
   */
  readonly restFrom?: number;
}

/** Of what was made of samples, and never lay between them. */
export const NOTHING_FOLDED: Folded = { share: 0 };

/** Stretches whose scatter is the error; with fewer than the second it says too little. */
const BLOCKS = 10;
const FEWEST_BLOCKS = 4;
/** Lags beyond two of the longest turns say nothing new. */
const LONGEST_TURN = 26;
const MOST_LAGS = 2 * LONGEST_TURN + 2;
/** Neighbouring lags share noise: two of them count as one. */
const INDEPENDENT = 0.5;

/**
 * Correlates a signal, resampled to angle, with itself at whole cycles. In angle a changing speed doesn't smear anything.
 * @returns undefined when the record is too short for its own scatter to be known
 */
export function likenessOf(
  { values, points, cycles }: OrderSignal,
  { share, restFrom }: Folded,
  gaps?: Float64Array,
): Likeness | undefined {
  const lags = Math.min(MOST_LAGS, Math.floor(0.6 * cycles));
  const rows = cycles - lags;
  const blocks = Math.min(BLOCKS, Math.floor(rows / 3));
  if (lags < 6 || blocks < FEWEST_BLOCKS) return undefined;
  const slow = movingAverage(values, Math.round((LONGEST_TURN * points) / 1.5));
  const seen = values.map((_, i) => (gaps && gaps[i] !== 0 ? 0 : 1));
  const x = values.map((value, i) => seen[i] * (value - slow[i]));
  const table = Array.from({ length: blocks }, (_, b) => {
    const from = Math.floor((rows * b) / blocks) * points;
    const to = Math.floor((rows * (b + 1)) / blocks) * points;
    return Float64Array.from({ length: lags + 1 }, (_unused, lag) => correlation(x, seen, from, to, lag * points));
  });
  const at = new Float64Array(lags + 1);
  for (const row of table) row.forEach((value, lag) => (at[lag] += value / blocks));
  // What all lags of a block have in common (a noisier stretch) is no difference between them.
  let squares = 0;
  for (const row of table) {
    let common = 0;
    for (let lag = 1; lag <= lags; lag++) common += (row[lag] - at[lag]) / lags;
    for (let lag = 1; lag <= lags; lag++) squares += (row[lag] - at[lag] - common) ** 2;
  }
  const variance = squares / ((blocks - 1) * lags);
  const pairs = at.filter((_, lag) => lag > 0 && lag % 2 === 0);
  const unlike = Math.max(...pairs) - meanOf(pairs);
  const folded = restFrom === undefined ? share : share * Math.min(1, unlike * restFrom ** 2);
  return { at, error: Math.hypot(Math.sqrt(variance / blocks), folded) + 1e-9 };
}

function correlation(x: Float64Array, seen: Float64Array, from: number, to: number, shift: number): number {
  let product = 0;
  let own = 0;
  let other = 0;
  for (let i = from; i < to; i++) {
    const a = x[i];
    const b = x[i + shift];
    product += a * b;
    own += a * a * seen[i + shift];
    other += b * b * seen[i];
  }
  return product / Math.sqrt(own * other + 1e-30);
}

/**
 * Weighs each number of cycles as the turn. With m cycles a turn the likeness depends on the lag within the turn only, and
 * is the same r cycles before a whole turn as r after one: all lags of a class are one level, scattered by the noise. After
 * whole turns the current is as like itself as it ever is; every other class lies below that by as much as its bars differ,
 * an amount of the size that is seen here (exponential: the simplest distribution that knows a scale).
 * A multiple of the true turn has more classes than it needs: that they are alike is chance to it, and each costs what it is
 * worth (Occam's factor).
 */
export function weighTurns({ at, error }: Likeness, candidates: readonly number[]): TurnEvidence[] {
  const lags = at.length - 1;
  const top = Math.max(...at.subarray(1));
  let below = 0;
  for (let lag = 1; lag <= lags; lag++) below += (top - at[lag]) / lags;
  const scale = Math.max(below, error);
  return candidates
    .filter((cycles) => cycles <= lags)
    .map((cycles) => ({ cycles, log: INDEPENDENT * logLikelihood(at, error, scale, cycles) }));
}

function logLikelihood(at: Float64Array, error: number, scale: number, cycles: number): number {
  const classes = Math.floor(cycles / 2) + 1;
  const sum = new Float64Array(classes);
  const count = new Float64Array(classes);
  const classOf = (lag: number) => Math.min(lag % cycles, cycles - (lag % cycles));
  for (let lag = 1; lag < at.length; lag++) {
    sum[classOf(lag)] += at[lag];
    count[classOf(lag)]++;
  }
  let log = 0;
  for (let lag = 1; lag < at.length; lag++) {
    const r = classOf(lag);
    log += logNormal(at[lag] - sum[r] / count[r], error);
  }
  const level = sum[0] / count[0];
  for (let r = 1; r < classes; r++) {
    if (count[r] === 0) continue;
    // The class mean given its level is normal; over all levels that it might have it is this.
    const own = error / Math.sqrt(count[r]);
    const spread = Math.hypot(own, error / Math.sqrt(count[0]));
    log += logLower(level - sum[r] / count[r], spread, scale) - logNormal(0, own);
  }
  return log;
}

function logNormal(away: number, error: number): number {
  return -0.5 * (away / error) ** 2 - Math.log(error * Math.sqrt(2 * Math.PI));
}

/** An exponential amount below, seen through normal noise (exponentially modified normal distribution). */
function logLower(below: number, error: number, scale: number): number {
  const z = (error / scale - below / error) / Math.SQRT2;
  return Math.log(1 / (2 * scale)) + (error / scale) ** 2 / 2 - below / scale + logErfc(z);
}

/** ln erfc(z) to 1.2e-7 of erfc (W. H. Press and others, Numerical Recipes, 6.2; from memory), which doesn't underflow. */
function logErfc(z: number): number {
  const t = 1 / (1 + 0.5 * Math.abs(z));
  const series =
    -z * z -
    1.26551223 +
    t *
      (1.00002368 +
        t *
          (0.37409196 +
            t *
              (0.09678418 +
                t *
                  (-0.18628806 +
                    t * (0.27886807 + t * (-1.13520398 + t * (1.48851587 + t * (-0.82215223 + t * 0.17087277))))))));
  const positive = Math.log(t) + series;
  return z >= 0 ? positive : Math.log(2 - Math.exp(positive));
}
