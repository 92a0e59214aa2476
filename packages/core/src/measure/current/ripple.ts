import { boxDecimate } from '../../signal/blocks.js';
import { fastNoise } from '../../signal/fast-noise.js';
import { levels, quantile } from '../../signal/levels.js';
import { withoutSpikes } from './ignition-spikes.js';
import { plainPieces, type PlainPiece, type Recorded, type Rotor } from './plain-pieces.js';
import { phaseAt } from './phase-track.js';
import type { Turning } from './turning.js';
import { alternates, type WorkingSignal } from './working-signal.js';

export interface Extremes {
  readonly minA: number;
  readonly maxA: number;
}

/** Up to so much of the draw a clogged filter's uneven load explains; beyond it only the commutator does (common practice), %. */
export const MOST_OF_A_SOUND_PUMP = 40;

/** Above this the noise hides the corners anyway, and the average turn is the better measure. */
const LARGE_NOISE = 0.15;
/** So does a recorder's step of this share: turns that differ, and noise, spread it in the average. */
const LARGE_STEP = 0.2;
/** Samples are averaged until their noise is this small a part of the pattern, or a corner would be rounded off for nothing. */
const SMALL_NOISE = 0.04;
/** More samples show no corner of a hump sharper. */
const ENOUGH_A_HUMP = 150;
/** Pairs of fewer samples a hump would round off its corners. */
const FEWEST_FOR_PAIRS = 20;
/** Without a known turn the pattern is looked at in stretches that hold several humps of any pump. */
const UNKNOWN_TURN_S = 0.02;
/** The average of fewer turns is none. */
const FEWEST_TURNS = 3;

/** Share of normal values that lie within so many deviations. */
const CALMEST = 0.2;
const CALMEST_DEVIATIONS = 0.2533;
/** Samples that show the noise. */
const MOST_HEARD = 65_536;

/**
 * Lowest and highest point of the pump's own ordinary pattern: without the mains in the clamp's lead, ignition's spikes, what a
 * recorder makes of them, and its noise. Each turn's highest and lowest point keep the corners that an average turn rounds off,
 * but carry the noise's own peaks; what noise adds to such a pattern is computed from the average turn and taken off again.
 * @param signal the same part at its working rate
 * @param turning what its humps say of the rotor; without it the pattern counts as two levels
 */
export function ordinaryExtremes(recorded: Recorded, signal: WorkingSignal, turning: Turning | undefined): Extremes {
  const turn = turning?.map?.turn;
  const rough = turn && levels(turn);
  const height = rough ? rough.max - rough.min : 0;
  const rotor = turning?.map && rotorOf(turning, signal);
  const pieces = plainPieces(recorded, signal, rotor);
  const [{ current }] = pieces;
  const samplesAHump = rotor ? recorded.sampleRateHz / rotor.hz / turning.revolution.perRevolution : 0;
  // Where a recorder kept the lowest and the highest by turns; of few samples a hump its own slopes look the same.
  const isPaired = samplesAHump > FEWEST_FOR_PAIRS && alternates(current);
  const noiseOf = (averaged: number) =>
    isPaired && !recorded.hasQuiet ? pairedNoise(current, averaged) : recorded.noiseA(averaged);
  const isNoisy = (averaged: number) => noiseOf(averaged) > SMALL_NOISE * height;
  let factor = Math.max(1, Math.floor(samplesAHump / ENOUGH_A_HUMP));
  // The truth lies between the lowest and the highest of its noise.
  if (factor === 1 && isPaired && isNoisy(1)) factor = 2;
  while (factor < signal.factor && isNoisy(factor)) factor++;
  const noiseA = noiseOf(factor);
  if (rough && (noiseA > LARGE_NOISE * height || signal.stepA > LARGE_STEP * height)) {
    return { minA: rough.min, maxA: rough.max };
  }
  // Rounding adds no peaks: it takes as often as it gives.
  const peaksA = Math.sqrt(Math.max(0, noiseA ** 2 - signal.stepA ** 2 / 12 / factor));
  const points = pointsOf(recorded, rotor ? 1 / rotor.hz : UNKNOWN_TURN_S, factor);
  const seen = extremesOfTurns(pieces, { factor, points, noiseA, signal, rotor });
  if (!(peaksA > 0)) return seen;
  const pattern = Float64Array.from({ length: points }, (_, i) =>
    turn ? turn[Math.floor((i * turn.length) / points)] : i % 2 ? seen.maxA : seen.minA,
  );
  const { min, max } = levels(pattern);
  const lowest = medianHighest(
    pattern.map((value) => -value),
    peaksA,
  );
  return { maxA: seen.maxA - (medianHighest(pattern, peaksA) - max), minA: seen.minA + (lowest + min) };
}

function rotorOf({ line, revolution }: Turning, { factor }: WorkingSignal): Rotor {
  return {
    hz: line.hz / revolution.linePerRevolution,
    turnAt: (sample) => phaseAt(line.track, sample / factor) / revolution.linePerRevolution,
  };
}

/**
 * Noise of a current of which a recorder kept the lowest and the highest by turns, by itself, A. On a hump's flanks they lie apart by
 * its slope as well: so the calmest third differences tell it (gain sqrt 20), a fifth of which lie within a quarter of a deviation.
 */
function pairedNoise(current: Float32Array, averaged: number): number {
  const part = boxDecimate(current, 0, Math.min(current.length, MOST_HEARD), averaged);
  if (averaged > 1) return fastNoise(part);
  const third = Float64Array.from({ length: Math.max(0, part.length - 3) }, (_, i) =>
    Math.abs(part[i + 3] - 3 * part[i + 2] + 3 * part[i + 1] - part[i]),
  );
  return third.length ? quantile(third, CALMEST) / CALMEST_DEVIATIONS / Math.sqrt(20) : 0;
}

/** Points of a turn; of a short record so many that there are a few turns. */
function pointsOf({ range, sampleRateHz }: Recorded, turnS: number, factor: number): number {
  const count = Math.floor((range.to - range.from) / factor);
  return Math.max(4, Math.min(Math.round((turnS * sampleRateHz) / factor), Math.floor(count / FEWEST_TURNS)));
}

interface Looked {
  /** Samples averaged into one. */
  readonly factor: number;
  /** Of a turn. */
  readonly points: number;
  readonly noiseA: number;
  readonly signal: WorkingSignal;
  readonly rotor: Rotor | undefined;
}

/** Usual over turns: the highest and the lowest point of each. */
function extremesOfTurns(pieces: readonly PlainPiece[], { factor, points, noiseA, signal, rotor }: Looked): Extremes {
  const highest: number[] = [];
  const lowest: number[] = [];
  for (const { current, at } of pieces) {
    const values = boxDecimate(current, 0, current.length, factor);
    const turnOf = (i: number) => (rotor ? rotor.turnAt(at + (i + 0.5) * factor) : i / points);
    const angles = new Float64Array(values.length);
    for (let i = 0; i < angles.length; i++) angles[i] = turnOf(i);
    withoutSpikes(values, rotor && angles, Math.max(noiseA, signal.stepA));
    for (let from = 0, i = 0; i < values.length; from = i) {
      let [max, min] = [-Infinity, Infinity];
      for (const end = angles[from] + 1; i < values.length && angles[i] < end; i++) {
        if (values[i] > max) max = values[i];
        if (values[i] < min) min = values[i];
      }
      const isWhole = i < values.length || highest.length === 0;
      if (isWhole && max >= min) {
        highest.push(max);
        lowest.push(min);
      }
    }
  }
  return { maxA: trimmedMean(highest), minA: trimmedMean(lowest) };
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
