import { meanCycle, POINTS } from './fold.js';

/** Engines have two to twelve cylinders; those of seven, nine and eleven aren't in cars. */
const CYLINDERS = [2, 3, 4, 5, 6, 8, 10, 12] as const;
/** Harmonics looked at: two of the most cylinders. */
const HARMONICS = 24;
/**
 * Where every cylinder takes the same, all power is in multiples of their number; one of four that takes nothing leaves three
 * quarters there, once each harmonic is weighed as a row of equal steps has it. Twice the number keeps no more than a half.
 */
const IN_MULTIPLES = 0.6;

/**
 * How many times a cycle the pressure dips alike: the largest number that most of the power comes in multiples of.
 * @param rows cycles; the scatter between them is what chance puts into a harmonic
 */
export function countDips(rows: readonly Float64Array[]): number | undefined {
  const mean = meanCycle(rows);
  const power = Array.from({ length: HARMONICS + 1 }, (_, h) => {
    if (h === 0) return 0;
    const chance = rows.reduce((sum, row) => sum + powerOf(row, h), 0) / rows.length ** 2;
    // A row of steps has harmonics that fall with their order.
    return h * h * Math.max(0, powerOf(mean, h) - chance);
  });
  const all = power.reduce((sum, value) => sum + value, 0);
  const share = (n: number) => power.reduce((sum, value, h) => sum + (h % n === 0 ? value : 0), 0) / all;
  return all > 0 ? CYLINDERS.findLast((n) => share(n) >= IN_MULTIPLES) : undefined;
}

function powerOf(row: Float64Array, harmonic: number): number {
  let [re, im] = [0, 0];
  row.forEach((value, p) => {
    const angle = (2 * Math.PI * harmonic * p) / POINTS;
    re += value * Math.cos(angle);
    im += value * Math.sin(angle);
  });
  return (re * re + im * im) / POINTS ** 2;
}

/** Where in a cylinder's part of the cycle the pressure falls, and what comes back meanwhile. Positions in points. */
export interface Fall {
  readonly from: number;
  readonly to: number;
  /** What pump and regulator put back a point. */
  readonly refill: number;
}

/** The fall that all cylinders have in common: from the highest point of their mean to the lowest after it. */
export function commonFall(mean: Float64Array, cylinders: number): Fall {
  const part = POINTS / cylinders;
  const shape = Float64Array.from({ length: part }, (_, p) => {
    let sum = 0;
    for (let c = 0; c < cylinders; c++) sum += mean[c * part + p];
    return sum / cylinders;
  });
  const [highest, lowest] = [indexOf(shape, 1), indexOf(shape, -1)];
  const length = (lowest - highest + part) % part || 1;
  const rises = Math.max(1, part - length);
  // The first fall is that of the cylinder whose injector is on the record: the nearest to its opening.
  const from = highest > part / 2 ? highest - part : highest;
  return { from, to: from + length, refill: (shape[highest] - shape[lowest]) / rises };
}

function indexOf(shape: Float64Array, sign: 1 | -1): number {
  return shape.reduce((best, value, p) => (sign * value > sign * shape[best] ? p : best), 0);
}

/** Points about either end of a fall that are averaged: one of many is noise. */
const AROUND = 1;

/** What each injection of a cycle took, in the signal's unit: the fall, and what came back meanwhile. */
export function takenIn(row: Float64Array, cylinders: number, { from, to, refill }: Fall): Float64Array {
  const part = POINTS / cylinders;
  const level = (at: number) => {
    let sum = 0;
    for (let p = at - AROUND; p <= at + AROUND; p++) sum += row[(p + POINTS) % POINTS];
    return sum / (2 * AROUND + 1);
  };
  return Float64Array.from(
    { length: cylinders },
    (_, c) => level(c * part + from) - level(c * part + to) + refill * (to - from),
  );
}
