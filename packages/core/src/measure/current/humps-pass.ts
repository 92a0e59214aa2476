import { boxDecimate, movingAverageInto } from '../../signal/blocks.js';
import { levels, median, robustDeviation } from '../../signal/levels.js';
import { MAINS_MOST_A, removeMains } from '../../signal/mains.js';
import { recorderStep } from '../../signal/rounding.js';
import { findLines, welchSpectrum } from '../../signal/spectrum.js';
import { thin } from '../../signal/thin.js';
import { FASTEST_HUMPS_HZ } from './commutators.js';
import { WORKING_RATE_HZ } from './working-signal.js';

/** The slowest shaft, Hz; a second of it is enough. */
const LOWEST_HZ = 90;
const LOOKED_AT_S = 1;
/** Humps show in no less. */
export const LEAST_S = 0.06;
const SEGMENT_S = 0.1;
/** Noise throws up nothing like this in a second (exponential distribution: e^-40 a bin). */
const PROMINENT = 40;
/** The world's mains, Hz. */
const MAINS = [50, 60] as const;
/** One line in five is near to some multiple; that so many are to those of one mains is no chance. */
const NO_CHANCE = 4;
/** So near to a multiple of the mains it is the mains, whose harmonics a coarse recorder's steps multiply. */
const MAINS_SHARE = 0.004;
const MAINS_HZ = 3;
/** A stretch of T seconds places a line to so much of 1 / T. */
const PLACED = 0.5;
const MOST_HARMONICS = 20;
/** Rectifiers and saturated cores make these strong (common practice, no published source). */
const FIRST_HARMONICS = 6;
/**
 * Without noise a step of the recorder makes harmonics of hum without end, but no more of them all than half a step: 1 / sqrt(12)
 * of it is rounding (uniform), the rest noise and what is left of spikes.
 */
const ROUNDED = 0.5;
/** Two and a half of the slowest turns: keeps every turn whole and follows how the input forgets a level. */
const COURSE_S = 0.1;

/** Whether humps pass in the middle of a stretch. */
export function humpsPass(stretch: Float32Array, sampleRateHz: number): boolean {
  return stretch.length >= LEAST_S * sampleRateHz && humpLines(stretch, sampleRateHz).length > 0;
}

/** Lines that stand out of the noise in the middle of a stretch and aren't the mains', Hz, the strongest first. */
export function humpLines(stretch: Float32Array, recordedHz: number): number[] {
  const recorded = Math.min(stretch.length, Math.round(LOOKED_AT_S * recordedHz));
  const from = Math.floor((stretch.length - recorded) / 2);
  const factor = Math.max(1, Math.floor(recordedHz / WORKING_RATE_HZ));
  const sampleRateHz = recordedHz / factor;
  const level = withoutCourse(boxDecimate(stretch, from, from + recorded, factor), sampleRateHz);
  const { length } = level;
  // Before the spikes are cut: a tone whose tops were cut with them has harmonics of its own.
  const hums = removeMains(level, sampleRateHz);
  const stepA = recorderStep(stretch);
  const part = withoutSpikes(level);
  const onlyRounds = hums && levels(part).deviation < ROUNDED * stepA;
  const segment = Math.min(length, Math.round(SEGMENT_S * sampleRateHz));
  const spectrum = welchSpectrum(part, sampleRateHz, segment, 16);
  const lines = findLines(spectrum, LOWEST_HZ, Math.min(FASTEST_HUMPS_HZ, 0.45 * sampleRateHz), 400)
    .filter(({ prominence }) => prominence > PROMINENT)
    .map(({ hz, power }) => ({ hz, amplitude: Math.sqrt(power / spectrum.tonePower) }));
  const placedHz = Math.max(MAINS_HZ, (PLACED * sampleRateHz) / length);
  const isOf = (hz: number, mains: number) =>
    Math.abs(hz - Math.round(hz / mains) * mains) < Math.max(placedHz, MAINS_SHARE * hz);
  const isHum = MAINS.some((mains) => lines.length >= NO_CHANCE && lines.every(({ hz }) => isOf(hz, mains)));
  const most = isHum || onlyRounds ? Infinity : MOST_HARMONICS;
  const isMains = ({ hz, amplitude }: HumpLine, mains: number) =>
    hz < (most + 0.5) * mains &&
    isOf(hz, mains) &&
    amplitude <= Math.max(MAINS_MOST_A / overtone(hz / mains), stepA / 2);
  return lines.filter((line) => !MAINS.some((mains) => isMains(line, mains))).map(({ hz }) => hz);
}

interface HumpLine {
  readonly hz: number;
  /** A */
  readonly amplitude: number;
}

/** Of pick-up the first harmonics may be about as strong as itself; beyond them they fall as those of anything without jumps, or faster. */
const overtone = (harmonic: number) => (harmonic < FIRST_HARMONICS ? 1 : harmonic);

/** Beyond so many robust deviations lie ignition's spikes, and hardly anything of humps or of a recorder's rounding. */
const SPIKE = 5;

/** Ignition's spikes are narrow: cut at what the rest reaches, hardly anything of them is left in any line. */
function withoutSpikes(samples: Float32Array): Float32Array {
  const few = thin(samples, 32_768);
  const middle = median(few);
  const reach = SPIKE * robustDeviation(few, middle);
  return samples.map((value) => Math.min(middle + reach, Math.max(middle - reach, value)));
}

/** Without the slow course of its level. */
export function withoutCourse(samples: Float32Array, sampleRateHz: number): Float32Array {
  const out = movingAverageInto(new Float32Array(samples.length), samples, Math.round((COURSE_S * sampleRateHz) / 2));
  for (let i = 0; i < out.length; i++) out[i] = samples[i] - out[i];
  return out;
}
