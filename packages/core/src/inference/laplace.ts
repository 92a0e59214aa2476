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
  const { size, count, slopes, places, ends, off, sd, gross, any, share } = packed(rows, unknowns);
  let x: Float64Array = new Float64Array(size);
  let logDeterminant = 0;
  const matrix = new Float64Array(size * size);
  const right = new Float64Array(size);
  for (let round = 0; round < ROUNDS; round++) {
    matrix.fill(0);
    right.fill(0);
    for (let k = 0; k < size; k++) matrix[k * size + k] = 1;
    for (let i = 0, from = 0; i < count; from = ends[i++]) {
      const end = ends[i];
      let foreseen = 0;
      let own = 0;
      for (let n = from; n < end; n++) {
        const slope = slopes[n];
        foreseen += slope * x[places[n]];
        own += slope * slope;
      }
      const variance = sd[i] * sd[i];
      // In the first round nothing is known of the unknowns: a row may be as far off as they let it.
      const wide = round === 0 ? Math.sqrt(variance + own) : sd[i];
      const z = (off[i] - foreseen) / wide;
      const density = ((1 - gross[i]) * Math.exp(-0.5 * z * z - LOG_ROOT_2_PI)) / wide;
      const weight = (share[i] * density) / ((density + any[i]) * variance);
      if (weight === 0) continue;
      // The lower half of the matrix is enough: places rise within a row.
      for (let n = from; n < end; n++) {
        const scaled = weight * slopes[n];
        const line = places[n] * size;
        right[places[n]] += scaled * off[i];
        for (let m = from; m <= n; m++) matrix[line + places[m]] += scaled * slopes[m];
      }
    }
    const solved = solveSymmetric(matrix, right, size);
    logDeterminant = solved.logDeterminant;
    let farthest = 0;
    for (let k = 0; k < size; k++) farthest = Math.max(farthest, Math.abs(solved.solution[k] - x[k]));
    x = solved.solution;
    if (round > 0 && farthest <= SETTLED) break;
  }
  const logs = new Float64Array(count);
  const slips = new Float64Array(count);
  let log = -0.5 * logDeterminant;
  for (let k = 0; k < size; k++) log -= 0.5 * x[k] * x[k];
  for (let i = 0, from = 0; i < count; from = ends[i++]) {
    let left = off[i];
    for (let n = from; n < ends[i]; n++) left -= slopes[n] * x[places[n]];
    const z = left / sd[i];
    const density = ((1 - gross[i]) * Math.exp(-0.5 * z * z - LOG_ROOT_2_PI)) / sd[i];
    logs[i] = share[i] * Math.log(density + any[i]);
    slips[i] = any[i] / (density + any[i]);
    log += logs[i];
  }
  return { log, rows: logs, slips };
}

/**
 * A slope of less than this share of its row's own noise is left out: thirty of them would widen it by a hundredth, and a row
 * follows most unknowns only so faintly, through the current.
 */
const FAINT = 0.05;

/**
 * The rows side by side, for the rounds to run over: of each what is left to explain, its noise, its chance of being anything,
 * its share; and the slopes that count, row after row, each with the place of its unknown among those that count anywhere
 * (the others stay at their usual value and take no part).
 */
function packed(rows: readonly WeighedRow[], unknowns: number) {
  const count = rows.length;
  const placeOf = new Int32Array(unknowns).fill(-1);
  let most = 0;
  for (let i = 0; i < count; i++) {
    const { slope, sd } = rows[i].row;
    const faint = FAINT * sd;
    for (let k = 0; k < unknowns; k++) {
      if (Math.abs(slope[k]) <= faint) continue;
      placeOf[k] = 0;
      most++;
    }
  }
  let size = 0;
  for (let k = 0; k < unknowns; k++) if (placeOf[k] === 0) placeOf[k] = size++;
  const slopes = new Float64Array(most);
  const places = new Int32Array(most);
  const ends = new Int32Array(count);
  const [off, sd, gross, any, share] = Array.from({ length: 5 }, () => new Float64Array(count));
  let next = 0;
  for (let i = 0; i < count; i++) {
    const { row, gross: slips, share: counts } = rows[i];
    off[i] = row.value - row.mean;
    sd[i] = row.sd;
    gross[i] = slips;
    any[i] = slips / row.range;
    share[i] = counts;
    const faint = FAINT * row.sd;
    for (let k = 0; k < unknowns; k++) {
      const slope = row.slope[k];
      if (Math.abs(slope) <= faint) continue;
      slopes[next] = slope;
      places[next++] = placeOf[k];
    }
    ends[i] = next;
  }
  return { size, count, slopes, places, ends, off, sd, gross, any, share };
}
