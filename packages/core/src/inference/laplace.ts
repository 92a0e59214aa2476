import { solveSymmetric } from './cholesky.js';

/** A number that was read, beside what a hypothesis foresees of it. */
export interface Row {
  readonly value: number;
  readonly mean: number;
  readonly sd: number;
  readonly range: number;
  /** How it moves with each unknown, a spread of each. */
  readonly slope: Float64Array;
}

/** A row with the share of gross error that its reading may have. */
export interface WeighedRow {
  readonly row: Row;
  readonly gross: number;
  /** What the reading counts: less when a repeat of it was taken. */
  readonly share: number;
}

export interface Evidence {
  /** Natural logarithm of the likelihood of all rows, the unknowns averaged out. */
  readonly log: number;
  /** Of each row by itself, at the likeliest unknowns. */
  readonly rows: Float64Array;
  /** Probability of each row being a gross error, there. */
  readonly slips: Float64Array;
}

const ROUNDS = 4;
/** Spreads by which the unknowns may still move from round to round when they count as found. */
const SETTLED = 0.02;
const LOG_ROOT_2_PI = 0.5 * Math.log(2 * Math.PI);

/**
 * Likelihood of all that was read under one hypothesis. Rows share unknowns (the battery, each contact's own resistance, the
 * pump's own friction), each standard normal in its own spread; a row follows them linearly and has its own noise, or is a
 * gross error and may be anything. The unknowns are found by iteratively reweighted least squares, then averaged out by
 * Laplace's approximation: log Z = sum log p(row | x) - x'x / 2 - log det(I + J'WJ) / 2 (MacKay, Information Theory, 27).
 */
export function weighRows(rows: readonly WeighedRow[], unknowns: number): Evidence {
  const active = activeUnknowns(rows, unknowns);
  const size = active.length;
  const count = rows.length;
  const { slopes, places, ends } = sparse(rows, active);
  let x: Float64Array = new Float64Array(size);
  let logDeterminant = 0;
  const matrix = new Float64Array(size * size);
  const right = new Float64Array(size);
  for (let round = 0; round < ROUNDS; round++) {
    matrix.fill(0);
    right.fill(0);
    for (let k = 0; k < size; k++) matrix[k * size + k] = 1;
    for (let i = 0; i < count; i++) {
      const { row, gross, share } = rows[i];
      const from = i === 0 ? 0 : ends[i - 1];
      const end = ends[i];
      const off = row.value - row.mean;
      let foreseen = 0;
      let own = 0;
      for (let n = from; n < end; n++) {
        const slope = slopes[n];
        foreseen += slope * x[places[n]];
        own += slope * slope;
      }
      // In the first round nothing is known of the unknowns: a row may be as far off as they let it.
      const sd = round === 0 ? Math.sqrt(row.sd * row.sd + own) : row.sd;
      const z = (off - foreseen) / sd;
      const density = ((1 - gross) * Math.exp(-0.5 * z * z - LOG_ROOT_2_PI)) / sd;
      const believed = density / (density + gross / row.range);
      const weight = (share * believed) / (row.sd * row.sd);
      if (weight === 0) continue;
      // The lower half of the matrix is enough: places rise within a row.
      for (let n = from; n < end; n++) {
        const scaled = weight * slopes[n];
        const line = places[n] * size;
        right[places[n]] += scaled * off;
        for (let m = from; m <= n; m++) matrix[line + places[m]] += scaled * slopes[m];
      }
    }
    const solved = solveSymmetric(matrix, right, size);
    logDeterminant = solved.logDeterminant;
    const moved = solved.solution.some((value, k) => Math.abs(value - x[k]) > SETTLED);
    x = solved.solution;
    if (round > 0 && !moved) break;
  }
  const logs = new Float64Array(count);
  const slips = new Float64Array(count);
  let log = -0.5 * logDeterminant;
  for (let k = 0; k < size; k++) log -= 0.5 * x[k] * x[k];
  for (let i = 0; i < count; i++) {
    const { row, gross, share } = rows[i];
    let foreseen = row.mean;
    for (let n = i === 0 ? 0 : ends[i - 1]; n < ends[i]; n++) foreseen += slopes[n] * x[places[n]];
    const z = (row.value - foreseen) / row.sd;
    const density = ((1 - gross) * Math.exp(-0.5 * z * z - LOG_ROOT_2_PI)) / row.sd;
    const any = gross / row.range;
    logs[i] = share * Math.log(density + any);
    slips[i] = any / (density + any);
    log += logs[i];
  }
  return { log, rows: logs, slips };
}

/**
 * A slope of less than this share of its row's own noise is left out: thirty of them would widen it by a hundredth, and a row
 * follows most unknowns only so faintly, through the current.
 */
const FAINT = 0.05;

/** The slopes that count, row after row: each with the place of its unknown, and where each row ends. */
function sparse(rows: readonly WeighedRow[], active: readonly number[]) {
  const slopes = new Float64Array(rows.length * active.length);
  const places = new Int32Array(rows.length * active.length);
  const ends = new Int32Array(rows.length);
  let next = 0;
  rows.forEach(({ row }, i) => {
    const faint = FAINT * row.sd;
    for (let k = 0; k < active.length; k++) {
      const slope = row.slope[active[k]];
      if (Math.abs(slope) <= faint) continue;
      slopes[next] = slope;
      places[next++] = k;
    }
    ends[i] = next;
  });
  return { slopes, places, ends };
}

/** Unknowns that move a row at all: the others stay at their usual value and take no part. */
function activeUnknowns(rows: readonly WeighedRow[], unknowns: number): readonly number[] {
  const active: number[] = [];
  for (let k = 0; k < unknowns; k++) if (rows.some(({ row }) => row.slope[k] !== 0)) active.push(k);
  return active;
}
