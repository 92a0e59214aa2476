import { median } from './levels.js';

/**
 * What the mains put into a clamp's lead: a steady tone of 50 or 60 Hz with its first harmonics. It comes back to itself as
 * a rotor does, so it has to go before the turn is looked for. A rotor's own lines waver with its speed; the mains' don't.
 */
const MAINS_HZ = [50, 60] as const;
const HARMONICS: readonly number[] = [1, 2, 3, 5];
/** Grids hold their frequency within this (common practice: UCTE and NERC alarm limits, from memory). */
const GRID_SHARE = 0.004;
const STEPS = 8;
/** Tones fitted to noise alone pass this once in a thousand (exponential distribution, over its mean). */
const PRESENT = 6.9;
/** Places beside a tone where nothing of it is left, in widths of the record's resolution. */
const BESIDE = [-7, -5, -3, 3, 5, 7] as const;
/** A lead beside a cable picks up some tenths of an ampere at most (common practice, no published source). */
const MOST_A = 0.5;
const FEWEST_PERIODS = 6;
/** A period takes more than two samples to be seen. */
const FEWEST_SAMPLES = 2.5;

/**
 * Takes mains pick-up out of a signal, in place, where there is any.
 * @param harmonics which of its harmonics; a rotor's own lines lie among the higher ones
 * @returns whether there was any
 */
export function removeMains(signal: Float32Array, sampleRateHz: number, harmonics = HARMONICS): boolean {
  const count = signal.length;
  if (count / sampleRateHz < FEWEST_PERIODS / MAINS_HZ[0] || sampleRateHz < FEWEST_SAMPLES * MAINS_HZ[1]) return false;
  const mean = signal.reduce((sum, value) => sum + value, 0) / count;
  let windowed = underWindow(signal, mean);
  const power = (hz: number) => {
    const { cosine, sine } = project(windowed, hz / sampleRateHz);
    return cosine * cosine + sine * sine;
  };
  const resolution = sampleRateHz / count;
  // The median: a line of the rotor may stand beside it.
  const beside = (tone: number) => median(BESIDE.map((widths) => power(Math.abs(tone + widths * resolution))));
  const bestOf = (mains: number) => {
    // A short record places a tone no better than this, beside a grid's tolerance (two deviations, by Cramer and Rao's bound);
    // farther off than its resolution it is another tone, however faint this one is.
    const reach = GRID_SHARE * mains + resolution * Math.min(1, Math.sqrt(beside(mains) / power(mains)));
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
  const isPresent = (tone: number) => {
    const here = power(tone);
    return here > (PRESENT / Math.LN2) * beside(tone) && here < MOST_A ** 2;
  };
  if (!isPresent(hz)) return false;
  for (const harmonic of harmonics) {
    const tone = harmonic * hz;
    if (tone > 0.4 * sampleRateHz || !isPresent(tone)) continue;
    const { cosine, sine } = project(windowed, tone / sampleRateHz);
    subtract(signal, cosine, sine, tone / sampleRateHz);
    windowed = underWindow(signal, mean);
  }
  return true;
}

/** A signal less its mean under a Hann window, which keeps what is beside a tone out of it. */
function underWindow(samples: Float32Array, mean: number): Float64Array {
  const count = samples.length;
  const [stepRe, stepIm] = [Math.cos((2 * Math.PI) / count), Math.sin((2 * Math.PI) / count)];
  let re = Math.cos(Math.PI / count);
  let im = Math.sin(Math.PI / count);
  const out = new Float64Array(count);
  for (let i = 0; i < count; i++) {
    out[i] = (samples[i] - mean) * (1 - re);
    const next = re * stepRe - im * stepIm;
    im = re * stepIm + im * stepRe;
    re = next;
  }
  return out;
}

/**
 * Amplitudes of a tone. Even and odd samples turn on two rotors of their own, so that neither waits for the other's last
 * product.
 * @param windowed the signal under its window
 * @param cyclesASample its frequency
 */
function project(windowed: Float64Array, cyclesASample: number): { cosine: number; sine: number } {
  const count = windowed.length;
  const turn = 2 * Math.PI * cyclesASample;
  const stepRe = Math.cos(2 * turn);
  const stepIm = Math.sin(2 * turn);
  let [evenRe, evenIm, oddRe, oddIm] = [1, 0, Math.cos(turn), Math.sin(turn)];
  let cosine = 0;
  let sine = 0;
  const pairs = count & ~1;
  for (let i = 0; i < pairs; i += 2) {
    const even = windowed[i];
    const odd = windowed[i + 1];
    cosine += even * evenRe + odd * oddRe;
    sine += even * evenIm + odd * oddIm;
    const nextEven = evenRe * stepRe - evenIm * stepIm;
    evenIm = evenRe * stepIm + evenIm * stepRe;
    evenRe = nextEven;
    const nextOdd = oddRe * stepRe - oddIm * stepIm;
    oddIm = oddRe * stepIm + oddIm * stepRe;
    oddRe = nextOdd;
  }
  if (pairs < count) {
    cosine += windowed[pairs] * evenRe;
    sine += windowed[pairs] * evenIm;
  }
  return { cosine: (2 * cosine) / count, sine: (2 * sine) / count };
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
