import { movingAverage } from '../signal/blocks.js';
import type { OrderSignal } from './order.js';

/** The repeating pattern found in an order signal. */
export interface Signature {
  /** Smallest number of cycles after which the pattern repeats. */
  readonly period: number;
  /** Standard scores of the pattern against chance, and against the best period that isn't a multiple of it. */
  readonly significance: number;
  readonly margin: number;
  /** Share of the signal's variance that the whole pattern explains, 0..1. */
  readonly explained: number;
}

export const LONGEST_PERIOD = 24;
/** Blocks compared with one another; what doesn't repeat between them is noise. */
const BLOCKS = 6;
/** Scores a pattern must reach to be believed, alone and over its rivals. */
const BELIEVED = 6;
const LEAST_MARGIN = 4;
/** The finer part of a pattern is kept above the upper score and dropped below the lower; between them nobody can tell. */
const FINER = 4.5;
const COARSER = 2.5;
/** Lead of one possible multiple over the others, in standard errors. */
const LEAST_LEAD = 2.5;

/** The period that was settled on; with its lead over other multiples where the pattern alone left it open. */
interface Found {
  readonly fold: Fold;
  readonly lead?: number;
}

interface Fold {
  readonly period: number;
  /** Estimated power of the between-cycle pattern a point, free of noise. */
  readonly power: number;
  readonly error: number;
  /** Block folds, `blocks` rows of period*points. */
  readonly rows: readonly Float64Array[];
}

/**
 * Finds the revolution as the smallest period whose fold shows a significant difference between bars.
 * The record is cut into blocks; a real pattern is the same in each. The mean product of different blocks' folds
 * estimates its power without the noise (variance between bars against variance within, taken between blocks so that
 * slow, coloured noise counts as noise).
 * @param isTurn whether so many cycles can be a turn of a motor at all; settles what the pattern alone leaves open
 * @returns undefined when no pattern is significant
 */
export function findSignature(order: OrderSignal, isTurn?: (period: number) => boolean): Signature | undefined {
  const detrended = detrend(order);
  const folds: Fold[] = [];
  for (let period = 2; period <= LONGEST_PERIOD; period++) {
    const fold = foldBlocks(detrended, order, period);
    if (fold) folds.push(fold);
  }
  const score = (fold: Fold) => fold.power - 2 * fold.error;
  const best = folds.reduce<Fold | undefined>((a, b) => (!a || score(b) > score(a) ? b : a), undefined);
  if (!best || best.power < BELIEVED * best.error) return undefined;
  const found = simplest(best, folds, order.points, isTurn);
  if (!found) return undefined;
  const { fold: chosen } = found;
  const rival = folds
    .filter((fold) => fold.period % chosen.period !== 0 && chosen.period % fold.period !== 0)
    .reduce((most, fold) => Math.max(most, fold.power), 0);
  const significance = chosen.power / chosen.error;
  const margin = found.lead ?? (chosen.power - rival) / chosen.error;
  if (significance < BELIEVED || margin < (found.lead === undefined ? LEAST_MARGIN : LEAST_LEAD)) return undefined;
  return { period: chosen.period, significance, margin, explained: explainedShare(detrended, order, chosen) };
}

/** Takes out changes slower than the longest revolution. */
function detrend({ values, points }: OrderSignal): Float64Array {
  const slow = movingAverage(values, Math.round((LONGEST_PERIOD * points) / 1.5));
  return values.map((value, i) => value - slow[i]);
}

/** Folds each block over `period` cycles and takes out what every cycle has in common. */
function foldBlocks(values: Float64Array, { points, cycles }: OrderSignal, period: number): Fold | undefined {
  const revolutions = Math.floor(cycles / period);
  const blocks = Math.min(BLOCKS, revolutions);
  if (blocks < 3) return undefined;
  const width = period * points;
  const rows: Float64Array[] = [];
  for (let b = 0; b < blocks; b++) {
    const from = Math.floor((revolutions * b) / blocks);
    const to = Math.floor((revolutions * (b + 1)) / blocks);
    const row = new Float64Array(width);
    for (let i = from * width, p = 0; i < to * width; i++) {
      row[p] += values[i];
      if (++p === width) p = 0;
    }
    for (let p = 0; p < width; p++) row[p] /= to - from;
    rows.push(withoutCommon(row, points));
  }
  return { period, ...crossPower(rows), rows };
}

function withoutCommon(row: Float64Array, points: number): Float64Array {
  const period = row.length / points;
  for (let p = 0; p < points; p++) {
    let sum = 0;
    for (let c = 0; c < period; c++) sum += row[c * points + p];
    for (let c = 0; c < period; c++) row[c * points + p] -= sum / period;
  }
  return row;
}

/** Mean product of different rows a point, and its standard error from the rows' scatter. */
function crossPower(rows: readonly Float64Array[]): { power: number; error: number } {
  const blocks = rows.length;
  const width = rows[0].length;
  let squaredSums = 0;
  let sumsOfSquares = 0;
  for (let p = 0; p < width; p++) {
    let sum = 0;
    let squares = 0;
    for (const row of rows) {
      sum += row[p];
      squares += row[p] * row[p];
    }
    squaredSums += sum * sum;
    sumsOfSquares += squares;
  }
  const pairs = blocks * (blocks - 1);
  const power = (squaredSums - sumsOfSquares) / pairs / width;
  const scatter = Math.max(0, sumsOfSquares - squaredSums / blocks) / ((blocks - 1) * width);
  // Neighbouring points of one hump are correlated: about half of them count as independent.
  const independent = Math.max(1, width / 2);
  const error =
    Math.sqrt(2 / (pairs * independent)) * scatter +
    Math.sqrt((4 * Math.max(0, power) * scatter) / (blocks * independent));
  return { power, error: Math.max(error, 1e-15) };
}

/**
 * The smallest divisor of the best period beyond which nothing significant is left to explain.
 * @returns undefined when it can't be told whether the finer part is real
 */
function simplest(
  best: Fold,
  folds: readonly Fold[],
  points: number,
  isTurn: ((period: number) => boolean) | undefined,
): Found | undefined {
  for (const fold of folds) {
    if (best.period % fold.period !== 0 || fold.period === best.period) continue;
    const finer = crossPower(best.rows.map((row) => withoutPeriod(row, fold.period * points)));
    if (finer.power < COARSER * finer.error) return { fold };
    if (finer.power < FINER * finer.error) {
      return isTurn && !isTurn(fold.period) ? likeliestMultiple(fold, folds, points, isTurn) : undefined;
    }
  }
  return { fold: best };
}

/**
 * A pattern that is no whole turn of any motor must go on to a multiple that is: the one with the most left to explain,
 * if it leads over every other.
 */
function likeliestMultiple(
  part: Fold,
  folds: readonly Fold[],
  points: number,
  isTurn: (period: number) => boolean,
): Found | undefined {
  const scored = folds
    .filter(({ period }) => period > part.period && period % part.period === 0 && isTurn(period))
    .map((fold) => {
      const finer = crossPower(fold.rows.map((row) => withoutPeriod(row, part.period * points)));
      return { fold, score: finer.power / finer.error };
    })
    .sort((a, b) => b.score - a.score);
  if (scored.length === 0) return undefined;
  const [{ fold, score }, ...others] = scored;
  const rival = others.find(({ fold: { period } }) => period % fold.period !== 0 && fold.period % period !== 0);
  const lead = score - Math.max(0, rival?.score ?? 0);
  return score >= COARSER ? { fold, lead } : undefined;
}

/** What remains of a fold after its own average over a shorter period is taken out. */
function withoutPeriod(row: Float64Array, width: number): Float64Array {
  return withoutCommon(row.slice(), width);
}

function explainedShare(values: Float64Array, { points }: OrderSignal, fold: Fold): number {
  let total = 0;
  for (const value of values) total += value * value;
  const width = fold.period * points;
  const mean = new Float64Array(width);
  const revolutions = Math.floor(values.length / width);
  for (let i = 0; i < revolutions * width; i++) mean[i % width] += values[i] / revolutions;
  let pattern = 0;
  for (const value of mean) pattern += value * value;
  return total > 0 ? Math.min(1, (pattern / width) * (values.length / total)) : 0;
}
