import { median } from './levels.js';
import { hann } from './spectrum.js';
import { toneSum } from './tone.js';

/**
 * What the mains put into a clamp's lead: a steady tone of 50 or 60 Hz with its first harmonics. It comes back to itself as
 * a rotor does, so it has to go before the turn is looked for. A rotor's own lines waver with its speed; the mains' don't.
 */
export const MAINS_HZ = [50, 60] as const;
export const MAINS_HIGHEST_HZ = Math.max(...MAINS_HZ);
export const MAINS_HARMONICS: readonly number[] = [1, 2, 3, 5];
/** Of a rotor's notch, which comes as often as the mains, all multiples are alike; no pick-up has these by so much of its own lines. */
const NOTCH_HARMONICS = [4, 6, 7] as const;
const NOTCH_SHARE = 0.5;
/** Grids hold their frequency within this (common practice: UCTE and NERC alarm limits, from memory). */
const GRID_SHARE = 0.004;
const STEPS = 8;
/** Tones fitted to noise alone pass this once in a thousand (exponential distribution, over its mean). */
const PRESENT = 6.9;
/** Places beside a tone where nothing of it is left, in widths of the record's resolution. */
const BESIDE = [-7, -5, -3, 3, 5, 7] as const;
const FARTHEST = Math.max(...BESIDE);
/** A tone beside another turns by so much of a turn within a piece at most: its power comes out less by (pi / 32)^2 / 3, a third of a percent. */
const OF_A_TURN = 1 / 32;
/** A lead beside a cable picks up some tenths of an ampere at most (common practice, no published source). */
export const MAINS_MOST_A = 0.5;
const FEWEST_PERIODS = 6;
/** Of the sampling rate: beyond this a tone is looked for no more. */
const HIGHEST_TONE = 0.4;
/** A period takes more than two samples to be seen. */
const FEWEST_SAMPLES = 2.5;

/** How far mains pick-up moves a signal either way, in its own unit; 0 where there is none. */
export function mainsSwing(signal: Float32Array, sampleRateHz: number): number {
  const without = signal.slice();
  if (!removeMains(without, sampleRateHz)) return 0;
  return signal.reduce((most, value, i) => Math.max(most, Math.abs(value - without[i])), 0);
}

/**
 * Whether a tone can't be told from the mains' within so many seconds.
 * @param hz its frequency, or the lowest and the highest that it had
 */
export function mayBeMains(hz: number | readonly [lowest: number, highest: number], durationS: number): boolean {
  const [lowest, highest] = typeof hz === 'number' ? [hz, hz] : hz;
  return MAINS_HZ.some((mains) => mains > lowest - 1 / durationS && mains < highest + 1 / durationS);
}

/**
 * Takes mains pick-up out of a signal, in place, where there is any.
 * @param harmonics which of its harmonics; a rotor's own lines lie among the higher ones
 * @returns whether there was any
 */
export function removeMains(signal: Float32Array, sampleRateHz: number, harmonics = MAINS_HARMONICS): boolean {
  const count = signal.length;
  if (count / sampleRateHz < FEWEST_PERIODS / MAINS_HZ[0] || sampleRateHz < FEWEST_SAMPLES * MAINS_HZ[1]) return false;
  const mean = signal.reduce((sum, value) => sum + value, 0) / count;
  const window = hann(count);
  // The mean would leak into the tones.
  let level = signal.map((value) => value - mean);
  const resolution = sampleRateHz / count;
  const bestOf = (mains: number) => {
    const widest = GRID_SHARE * mains + resolution;
    const power = powersNear(level, window, sampleRateHz, mains, Math.max(2 * widest, FARTHEST * resolution));
    // A short record places a tone no better than this, beside a grid's tolerance (two deviations, by Cramer and Rao's bound);
    // farther off than its resolution it is another tone, however faint this one is.
    const doubt = Math.sqrt(besideOf(power, mains, resolution) / power(mains));
    const reach = GRID_SHARE * mains + resolution * Math.min(1, doubt);
    let best = { hz: mains, power: 0, step: 0 };
    for (let step = -STEPS; step <= STEPS; step++) {
      const hz = mains + (reach * step) / STEPS;
      const here = power(hz);
      if (here > best.power) best = { hz, power: here, step };
    }
    // Still rising beyond that: the tone is another one's, beside it.
    const beyond = Math.abs(best.step) === STEPS ? power(mains + 2 * reach * Math.sign(best.step)) : 0;
    return beyond > best.power ? { hz: mains, power: 0 } : best;
  };
  const [a, b] = MAINS_HZ.map(bestOf);
  const { hz, power: strongest } = a.power > b.power ? a : b;
  if (strongest === 0) return false;
  const near = (tone: number) => powersNear(level, window, sampleRateHz, tone, FARTHEST * resolution);
  const isNotch = (of: number) => {
    if (NOTCH_HARMONICS.some((harmonic) => harmonic * of > HIGHEST_TONE * sampleRateHz)) return false;
    const powerOf = (harmonic: number) => near(harmonic * of)(harmonic * of);
    const own = Math.max(...MAINS_HARMONICS.map(powerOf));
    return NOTCH_HARMONICS.every((harmonic) => powerOf(harmonic) > NOTCH_SHARE ** 2 * own);
  };
  const isPresent = (tone: number) => {
    const power = near(tone);
    const here = power(tone);
    return here > (PRESENT / Math.LN2) * besideOf(power, tone, resolution) && here < MAINS_MOST_A ** 2;
  };
  if (!isPresent(hz) || isNotch(hz)) return false;
  for (const harmonic of harmonics) {
    const tone = harmonic * hz;
    if (tone > HIGHEST_TONE * sampleRateHz || !isPresent(tone)) continue;
    const { cosine, sine } = project(level, window, tone / sampleRateHz);
    subtract(signal, cosine, sine, tone / sampleRateHz);
    level = signal.map((value) => value - mean);
  }
  return true;
}

/**
 * Powers of tones near one, which are asked for by the dozen: the signal is turned against that one once, piece by piece, and
 * the pieces are turned by what another differs by.
 * @param farthest that another may lie from it, Hz
 */
function powersNear(
  samples: Float32Array,
  window: Float64Array,
  sampleRateHz: number,
  hz: number,
  farthest: number,
): (hz: number) => number {
  const count = samples.length;
  const size = Math.max(1, Math.floor((OF_A_TURN * sampleRateHz) / farthest));
  const pieces = Math.ceil(count / size);
  const re = new Float64Array(pieces);
  const im = new Float64Array(pieces);
  for (let k = 0; k < pieces; k++) {
    const from = k * size;
    const sum = toneSum(samples, from, window.subarray(from, Math.min(count, from + size)), hz / sampleRateHz);
    const angle = (-2 * Math.PI * hz * from) / sampleRateHz;
    const [cosine, sine] = [Math.cos(angle), Math.sin(angle)];
    re[k] = sum.re * cosine - sum.im * sine;
    im[k] = sum.re * sine + sum.im * cosine;
  }
  return (other) => {
    let [real, imaginary] = [0, 0];
    for (let k = 0; k < pieces; k++) {
      const angle = (-2 * Math.PI * (other - hz) * (k + 0.5) * size) / sampleRateHz;
      const [cosine, sine] = [Math.cos(angle), Math.sin(angle)];
      real += re[k] * cosine - im[k] * sine;
      imaginary += re[k] * sine + im[k] * cosine;
    }
    return (4 / count) ** 2 * (real * real + imaginary * imaginary);
  };
}

/** The median beside a tone: a line of the rotor may stand there. */
function besideOf(power: (hz: number) => number, tone: number, resolution: number): number {
  return median(BESIDE.map((widths) => power(Math.abs(tone + widths * resolution))));
}

/** Amplitudes of a tone under a Hann window, which keeps what is beside it out. @param cyclesASample its frequency */
function project(samples: Float32Array, window: Float64Array, cyclesASample: number): { cosine: number; sine: number } {
  const { re, im } = toneSum(samples, 0, window, cyclesASample);
  return { cosine: (4 * re) / samples.length, sine: (-4 * im) / samples.length };
}

function subtract(samples: Float32Array, cosine: number, sine: number, cyclesASample: number): void {
  const turn = 2 * Math.PI * cyclesASample;
  const [stepRe, stepIm] = [Math.cos(turn), Math.sin(turn)];
  let [re, im] = [1, 0];
  for (let i = 0; i < samples.length; i++) {
    samples[i] -= cosine * re + sine * im;
    [re, im] = [re * stepRe - im * stepIm, re * stepIm + im * stepRe];
  }
}
