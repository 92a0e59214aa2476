import { levels } from '../../signal/levels.js';
import type { SampleRange } from './runs.js';

export interface Extremes {
  readonly minA: number;
  readonly maxA: number;
}

/** Up to so much of the draw a clogged filter's uneven load explains; beyond it only the commutator does (common practice), %. */
export const MOST_OF_A_SOUND_PUMP = 40;

/** The steady part as it was recorded, with what makes amperes of it. */
export interface Recorded {
  readonly samples: Float32Array;
  readonly sampleRateHz: number;
  readonly range: SampleRange;
  readonly zero: number;
  readonly inverted: boolean;
  /** Noise of the mean of `factor` neighbouring samples, A. */
  noiseA(factor: number): number;
}

/** An average of fewer turns is none. */
const FEWEST_TURNS = 3;
/** Turns looked at in a long record, spread evenly. */
const MOST_SAMPLES = 1_000_000;
/** Samples are averaged until their noise is this small a part of the pattern, or a corner would be rounded off for nothing. */
const SMALL_NOISE = 0.04;
/** Above this the noise hides the corners anyway, and the average turn is the better measure. */
const LARGE_NOISE = 0.15;

/**
 * Lowest and highest point of the ordinary pattern, free of the recorder's noise.
 * Each turn's highest and lowest point keep the corners that an average turn rounds off, but carry the noise's own peaks;
 * what noise adds to such a pattern is computed from the average turn and taken off again.
 * @param turnS one revolution, or as long a stretch as holds the whole pattern
 * @param turn the average turn, evenly by angle, A; without one the pattern counts as two levels
 * @param coarsest samples that may be averaged into one
 */
export function ordinaryExtremes(
  recorded: Recorded,
  turnS: number,
  turn: ArrayLike<number> | undefined,
  coarsest: number,
): Extremes {
  const rough = turn && levels(turn);
  const height = rough ? rough.max - rough.min : 0;
  let factor = 1;
  while (factor < coarsest && recorded.noiseA(factor) > SMALL_NOISE * height) factor++;
  if (rough && recorded.noiseA(factor) > LARGE_NOISE * height) return { minA: rough.min, maxA: rough.max };
  const seen = extremesOfTurns(recorded, turnS, factor);
  const noiseA = recorded.noiseA(factor);
  if (!(noiseA > 0)) return seen;
  const pattern = Float64Array.from({ length: seen.points }, (_, i) =>
    turn ? turn[Math.floor((i * turn.length) / seen.points)] : i % 2 ? seen.maxA : seen.minA,
  );
  const { min, max } = levels(pattern);
  return {
    maxA: seen.maxA - (medianHighest(pattern, noiseA) - max),
    minA:
      seen.minA +
      (medianHighest(
        pattern.map((value) => -value),
        noiseA,
      ) +
        min),
  };
}

/** Usual over turns: of the highest and lowest point, and how many points a turn has. */
function extremesOfTurns({ samples, sampleRateHz, range, zero, inverted }: Recorded, turnS: number, factor: number) {
  const count = Math.floor((range.to - range.from) / factor);
  const points = Math.max(4, Math.min(Math.round((turnS * sampleRateHz) / factor), Math.floor(count / FEWEST_TURNS)));
  const all = Math.max(1, Math.floor(count / points));
  const stride = Math.ceil((all * points * factor) / MOST_SAMPLES);
  const highest: number[] = [];
  const lowest: number[] = [];
  for (let t = 0; t < all; t += stride) {
    let max = -Infinity;
    let min = Infinity;
    for (let p = 0, at = range.from + t * points * factor; p < points; p++) {
      let sum = 0;
      for (const end = at + factor; at < end; at++) sum += samples[at];
      if (sum > max) max = sum;
      if (sum < min) min = sum;
    }
    highest.push((inverted ? -min : max) / factor);
    lowest.push((inverted ? -max : min) / factor);
  }
  const offset = inverted ? zero : -zero;
  return { maxA: trimmedMean(highest) + offset, minA: trimmedMean(lowest) + offset, points };
}

/** Share left out at either end, so that dropouts don't count. */
const TRIM = 0.2;

/** Mean of the middle: unlike a median it isn't held to a coarse recorder's steps, and dropouts don't move it. */
function trimmedMean(values: readonly number[]): number {
  const cut = Math.floor(values.length * TRIM);
  const middle = [...values].sort((a, b) => a - b).slice(cut, values.length - cut);
  return middle.reduce((sum, value) => sum + value, 0) / middle.length;
}

/** Of nine deviations: down to a five-hundredth of one. */
const HALVINGS = 12;

/**
 * Median of the highest of independent normals about the pattern's points: where the product of their distribution
 * functions is one half.
 */
function medianHighest(pattern: Float64Array, noiseA: number): number {
  let low = levels(pattern).max - noiseA;
  let high = low + 8 * noiseA;
  for (let halving = 0; halving < HALVINGS; halving++) {
    const middle = (low + high) / 2;
    let logShare = 0;
    for (let i = 0; i < pattern.length; i++) {
      const z = (middle - pattern[i]) / noiseA;
      if (z < 6) logShare += Math.log(normalBelow(z));
    }
    if (logShare < -Math.LN2) low = middle;
    else high = middle;
  }
  return (low + high) / 2;
}

/** Standard normal distribution function to 7.5e-8 (Abramowitz and Stegun 26.2.17, from memory). */
function normalBelow(z: number): number {
  const t = 1 / (1 + 0.2316419 * Math.abs(z));
  const series = t * (0.31938153 + t * (-0.356563782 + t * (1.781477937 + t * (-1.821255978 + t * 1.330274429))));
  const tail = (Math.exp((-z * z) / 2) / Math.sqrt(2 * Math.PI)) * series;
  return z < 0 ? tail : 1 - tail;
}
