import { median } from '../../signal/levels.js';

/** Points of a turn that are compared: enough for twelve bars with twenty points each. */
const POINTS = 256;

/** Two average turns of the pump current on one angle, A by equal steps of a turn. */
export interface AlignedTurns {
  readonly reference: Float64Array;
  readonly other: Float64Array;
}

/**
 * Turns one average turn until it lies best on another: the shift with the largest circular correlation of what is left without
 * the means. Where a record begins its turn is chance, so nothing else may be compared point by point.
 * @param reference A, equal steps of one turn, any number of them
 */
export function alignTurns(reference: ArrayLike<number>, other: ArrayLike<number>): AlignedTurns {
  const [a, b] = [atPoints(reference), atPoints(other)];
  const [flatA, flatB] = [withoutMean(a), withoutMean(b)];
  let best = 0;
  let most = -Infinity;
  for (let shift = 0; shift < POINTS; shift++) {
    let sum = 0;
    for (let i = 0; i < POINTS; i++) sum += flatA[i] * flatB[(i + shift) % POINTS];
    if (sum > most) [most, best] = [sum, shift];
  }
  return { reference: a, other: b.map((_, i) => b[(i + best) % POINTS]) };
}

/** Several turns on one angle: the middle of them, and between what they lie, A by equal steps of a turn. */
export interface TurnEnvelope {
  readonly median: Float64Array;
  readonly least: Float64Array;
  readonly most: Float64Array;
}

/**
 * Lays several turns on the first of them. At one pressure a pump's draw hardly depends on its voltage, so amperes are kept as
 * they are.
 * @param turns one at least; A, equal steps of one turn each
 */
export function turnEnvelope(turns: readonly ArrayLike<number>[]): TurnEnvelope {
  const laid = turns.map((turn) => alignTurns(turns[0], turn).other);
  const over = (of: (values: readonly number[]) => number) =>
    Float64Array.from({ length: POINTS }, (_, i) => of(laid.map((turn) => turn[i])));
  return {
    median: over((values) => median(values)),
    least: over((values) => Math.min(...values)),
    most: over((values) => Math.max(...values)),
  };
}

function atPoints(turn: ArrayLike<number>): Float64Array {
  return Float64Array.from({ length: POINTS }, (_, i) => {
    const place = (i * turn.length) / POINTS;
    const before = Math.floor(place);
    const share = place - before;
    return turn[before] * (1 - share) + turn[(before + 1) % turn.length] * share;
  });
}

function withoutMean(values: Float64Array): Float64Array {
  const mean = values.reduce((sum, value) => sum + value, 0) / values.length;
  return values.map((value) => value - mean);
}
