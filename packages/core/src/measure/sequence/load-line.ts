import { FASTEST_HUMPS_HZ } from '../current/commutators.js';
import { movingAverage } from '../../signal/blocks.js';
import { levels, meanOf, median, quantile } from '../../signal/levels.js';
import { recorderStep } from '../../signal/rounding.js';
import { findLines, hann, welchSpectrum } from '../../signal/spectrum.js';
import { student95 } from '../../signal/student.js';
import { thin } from '../../signal/thin.js';
import { blockSize, type Courses } from './course.js';

/** What the pump's volts lose for each ampere, ohm, with its 95 % interval. */
export interface LoadLine {
  readonly ohm: number;
  readonly interval: readonly [number, number];
}

/** Volts and amperes of one record, and where the volts are known not to fail by themselves. */
export interface LoadSignals {
  readonly volts: Float32Array;
  readonly amperes: Float32Array;
  readonly courses: Courses;
  readonly sampleRateHz: number;
  /** The clamp's lead picks up the mains. */
  readonly hasMains: boolean;
  /** No engine is cranked: the supply stays where it is for half a second. */
  readonly isCalm: boolean;
  /** Of samples [from, to). */
  readonly isSound: (from: number, to: number) => boolean;
}

/** Long enough for some humps, short enough that the battery stays where it is. */
const WINDOW_S = 0.04;
const FEWEST_SAMPLES_A_WINDOW = 40;
/** So many windows at least share the most weight. */
const NOT_ALONE = 4;
const MOST_WINDOWS = 4000;
/** A current that moves so many times as far within a window as from block to block goes somewhere, and isn't noise or humps. */
const EXCURSION = 5;
/** What moves the current in other windows as well is a sixteenth of the power at most. */
const ABOVE_USUAL = 4;
const USUAL_QUANTILE = 0.25;
/**
 * Where volts fall with amperes this tightly (correlation), nothing else moves either by more than a hundredth of its power: the
 * dead bars of every turn tell the resistance as well as a start.
 */
const TIGHT = 0.99;
/** Enough windows to know what is usual. */
const WINDOWS_LOOKED_AT = 16_384;
const EXCURSIONS_S = [0.03, 0.12, 0.5] as const;
const FEWEST_EXCURSIONS = 2;
/** Half a window's means differ by no more than this share of the draw while nothing but humps passes. */
const LEVEL_SHARE = 0.03;
/** Averaged over so many samples at least, little is left of humps and alternator. */
const SAMPLES_AVERAGED = 4;
const FEWEST_BLOCKS = 8;
/** Periods of 50 and 60 Hz mains, s. */
const MAINS_S = [0.02, 1 / 60] as const;
/** Enough samples to meet every level of a coarse recorder. */
const SAMPLES_FOR_STEP = 8192;
/** Consistent with the standard deviation for normal values, of the difference of two. */
const DIFFERENCE_TO_DEVIATION = 1.4826 / Math.SQRT2;
/** The slowest shaft, Hz. */
const LOWEST_HZ = 90;
const SEGMENTS = 16;
/** Noise throws up nothing like this (exponential distribution: e^-40 a bin). */
const PROMINENT = 40;
/**
 * A recorder's step turns what is smaller than itself into anything: the volts have to swing, rms, by this share of it, which
 * is two steps from top to bottom for humps.
 */
const LEAST_STEPS = 0.7;
/**
 * A quantiser passes a sine whose rms is one step with a gain within a tenth of one, and a larger one the better for it (its
 * describing function, (4/πa)·Σ√(1 − ((2i − 1)/2a)²) for a of a steps' amplitude; e.g. Gelb and Vander Velde, 1968, from memory).
 */
const ROUNDS_SHARE = 0.1;
/** Beyond this a resistance isn't told: its interval is half of itself to either side. */
const WIDEST_SHARE = 0.5;
/** No sound path or fault that leaves a pump running loses more, ohm. */
const MOST_OHM = 10;
/** Enough blocks to know their noise. */
const MOST_LOOKED_AT = 65_536;

/** One window's word on the resistance. */
interface Voice {
  readonly ohm: number;
  /** How much its current moves, A²: what else moves the volts matters as much less. */
  readonly weight: number;
  /** How far volts and amperes move, rms. */
  readonly swingV: number;
  readonly swingA: number;
}

/**
 * Source resistance from what the current does anyway: V = E − R·I. Other loads and the alternator move E, and the current
 * along with it, which tilts any plain slope of V on I. So the windows speak in which the current goes furthest: after a start
 * or an interruption it falls by some amperes, and E's own stirring is nothing beside it. Where there are none the humps
 * speak, which only the rotor makes: volts and amperes at their rate alone, in phase with each other, so that noise and
 * inductance stay out. A weighted median of all windows passes over those in which something else happened.
 */
export function loadLine(signals: LoadSignals): LoadLine | undefined {
  const [stepV, stepA] = [stepOf(signals.volts), stepOf(signals.amperes)];
  const isTold = ({ swingV, swingA }: Voice) => swingV >= LEAST_STEPS * stepV && swingA >= LEAST_STEPS * stepA;
  for (const voicesOf of WAYS) {
    const voices = voicesOf(signals).filter(isTold);
    const line = voices.length < FEWEST_EXCURSIONS ? undefined : lineBy(voices, stepV, stepA);
    if (line) return line;
  }
  return undefined;
}

/** What the voices together say; undefined where that is too wide. */
function lineBy(voices: readonly Voice[], stepV: number, stepA: number): LoadLine | undefined {
  const ohm = weightedMedian(voices);
  const away = weightedMedian(voices.map((one) => ({ ...one, ohm: Math.abs(one.ohm - ohm) })));
  // Deviation of a median: 1.2533 times that of a mean.
  const error = (1.2533 * 1.4826 * away) / Math.sqrt(effective(voices));
  const inSteps = (step: number, swingOf: (voice: Voice) => number) => step / median(voices.map(swingOf));
  const rounded = Math.hypot(
    inSteps(stepV, ({ swingV }) => swingV),
    inSteps(stepA, ({ swingA }) => swingA),
  );
  const rounding = ROUNDS_SHARE * rounded * ohm;
  const reach = Math.hypot(student95(voices.length - 1) * error, rounding);
  if (!(ohm > 0 && ohm <= MOST_OHM && reach <= WIDEST_SHARE * ohm)) return undefined;
  return { ohm, interval: [ohm - reach, ohm + reach] };
}

const [QUICK_S, ...SLOWER_S] = EXCURSIONS_S;
const quickly = (signals: LoadSignals) => excursionsOf(signals, QUICK_S);
const slowly = (windowS: number) => (signals: LoadSignals) => (signals.isCalm ? excursionsOf(signals, windowS) : []);
/** From what the least else moves with to few windows of any length, which agree among each other or tell nothing. */
const WAYS: readonly ((signals: LoadSignals) => Voice[])[] = [
  quickly,
  humpsOf,
  ...SLOWER_S.map(slowly),
  (signals) => [...quickly(signals), ...SLOWER_S.flatMap((windowS) => slowly(windowS)(signals))],
];

/** Windows in which the current goes far, by its course without humps. */
function excursionsOf(
  { volts, amperes, courses, sampleRateHz, hasMains, isSound }: LoadSignals,
  windowS: number,
): Voice[] {
  const size = Math.max(SAMPLES_AVERAGED, blockSize(sampleRateHz, amperes.length));
  // What holds between volts and amperes holds between their averages too, and a period's average knows nothing of the mains.
  const even = (values: Float64Array) =>
    hasMains ? MAINS_S.reduce((of, s) => movingAverage(of, Math.round((s * sampleRateHz) / size / 2)), values) : values;
  const v = even(courses.of(volts, size));
  const a = even(courses.of(amperes, size));
  const reach = hasMains ? Math.round((MAINS_S[0] + MAINS_S[1]) * 0.5 * sampleRateHz) : 0;
  const length = Math.max(FEWEST_BLOCKS, Math.round((windowS * sampleRateHz) / size));
  const swings: number[] = [];
  for (let from = 0; from + length <= a.length; from += length >> 1) {
    swings.push(levels(a, from, from + length).deviation);
  }
  // Most windows hold nothing but pick-up, other loads and what the humps beat with: an excursion stands far above that.
  const usual = quantile(thin(Float32Array.from(swings), WINDOWS_LOOKED_AT), USUAL_QUANTILE);
  const stepA = stepOf(amperes);
  const leastA = Math.max(EXCURSION * stirringOf(a), ABOVE_USUAL * usual, stepA);
  const leastV = EXCURSION * stirringOf(v);
  const voices: Voice[] = [];
  for (let from = 0; from + length <= a.length; from += length >> 1) {
    const current = levels(a, from, from + length);
    if (current.deviation < stepA || !isSound(from * size - reach, (from + length) * size + reach)) continue;
    const voltage = levels(v, from, from + length);
    let cross = 0;
    for (let i = from; i < from + length; i++) cross += (v[i] - voltage.mean) * (a[i] - current.mean);
    cross /= length - 1;
    const [swingV, swingA] = [voltage.deviation, current.deviation];
    if (!hasMains && cross < -TIGHT * swingV * swingA) {
      // What noise is left in either, a slope of one on the other would take for its own.
      voices.push({ ohm: swingV / swingA, weight: swingA ** 2, swingV, swingA });
    } else if (swingA >= leastA && swingV >= leastV) {
      const weight = swingA ** 2 - usual ** 2;
      voices.push({ ohm: -cross / weight, weight, swingV, swingA });
    }
  }
  return capped(voices);
}

/** The recorder's step, by samples from all over the record. */
function stepOf(samples: Float32Array): number {
  return recorderStep(thin(samples, SAMPLES_FOR_STEP));
}

/** How far blocks are from their neighbours, as a deviation of one: noise, and what the average leaves of humps. */
function stirringOf(values: Float64Array): number {
  if (values.length < 2) return 0;
  const step = Math.max(1, Math.ceil(values.length / MOST_LOOKED_AT));
  const away = new Float64Array(Math.floor((values.length - 2) / step) + 1);
  for (let i = 0; i < away.length; i++) away[i] = Math.abs(values[i * step + 1] - values[i * step]);
  return DIFFERENCE_TO_DEVIATION * median(away);
}

/** Windows of steady running, by the strongest line that the rotor makes. */
function humpsOf({ volts, amperes, sampleRateHz, isSound }: LoadSignals): Voice[] {
  const size = Math.max(FEWEST_SAMPLES_A_WINDOW, Math.round(WINDOW_S * sampleRateHz));
  const room = amperes.length - size;
  if (room < 0) return [];
  const count = Math.min(MOST_WINDOWS, Math.floor((2 * room) / size) + 1);
  const stride = room / Math.max(1, count - 1);
  const least = LEVEL_SHARE * Math.abs(meanOf(amperes));
  const starts = Array.from({ length: count }, (_, w) => Math.round(w * stride)).filter(
    (from) => isSound(from, from + size) && isLevel(amperes, from, size, least),
  );
  const hz = strongestLine(amperes, starts, size, sampleRateHz);
  if (hz === undefined) return [];
  const wave = waveOf(hz / sampleRateHz, size);
  const voices: Voice[] = [];
  for (const from of starts) {
    const v = along(volts, from, wave);
    const a = along(amperes, from, wave);
    const weight = a.re * a.re + a.im * a.im;
    if (!(weight > 0)) continue;
    const ohm = -(v.re * a.re + v.im * a.im) / weight;
    const [swingV, swingA] = [volts, amperes].map((samples) => levels(samples, from, from + size).deviation);
    voices.push({ ohm, weight, swingV, swingA });
  }
  return capped(voices);
}

/** Whether nothing but humps moves the current in a window. */
function isLevel(amperes: Float32Array, from: number, size: number, least: number): boolean {
  const half = from + (size >> 1);
  return Math.abs(levels(amperes, from, half).mean - levels(amperes, half, from + size).mean) < least;
}

/** The rate at which the current moves most, by the windows' spectra together. */
function strongestLine(
  amperes: Float32Array,
  starts: readonly number[],
  size: number,
  sampleRateHz: number,
): number | undefined {
  if (starts.length === 0) return undefined;
  const step = Math.max(1, Math.floor(starts.length / SEGMENTS));
  const pieces = starts.filter((_, i) => i % step === 0).slice(0, SEGMENTS);
  const joined = new Float32Array(pieces.length * size);
  pieces.forEach((from, i) => {
    const { mean } = levels(amperes, from, from + size);
    for (let k = 0; k < size; k++) joined[i * size + k] = amperes[from + k] - mean;
  });
  const spectrum = welchSpectrum(joined, sampleRateHz, size, pieces.length);
  const highest = Math.min(FASTEST_HUMPS_HZ, 0.47 * sampleRateHz);
  const [line] = findLines(spectrum, LOWEST_HZ, highest, 400);
  return line !== undefined && line.prominence > PROMINENT ? line.hz : undefined;
}

interface Wave {
  readonly re: Float64Array;
  readonly im: Float64Array;
}

/** A windowed wave that is blind to what stands still. */
function waveOf(cyclesASample: number, size: number): Wave {
  const window = hann(size);
  const total = window.reduce((sum, value) => sum + value, 0);
  const angle = (i: number) => 2 * Math.PI * cyclesASample * i;
  const of = (part: (angle: number) => number) => {
    const values = window.map((value, i) => (value / total) * part(angle(i)));
    const level = values.reduce((sum, value) => sum + value, 0);
    return values.map((value, i) => value - (level * window[i]) / total);
  };
  return { re: of(Math.cos), im: of(Math.sin) };
}

function along(samples: Float32Array, from: number, { re, im }: Wave): { re: number; im: number } {
  let [real, imaginary] = [0, 0];
  for (let i = 0; i < re.length; i++) {
    real += samples[from + i] * re[i];
    imaginary += samples[from + i] * im[i];
  }
  return { re: real, im: imaginary };
}

/** No window weighs more than the fifth: one alone may hold something else that happened. */
function capped(voices: readonly Voice[]): Voice[] {
  const sorted = voices.map(({ weight }) => weight).sort((x, y) => y - x);
  const most = sorted[Math.min(NOT_ALONE, sorted.length - 1)];
  return voices.map((voice) => ({ ...voice, weight: Math.min(voice.weight, most) }));
}

/** Halfway between the last voice of the lower half and the first of the upper: of two it is their mean, and their scatter shows. */
function weightedMedian(voices: readonly Voice[]): number {
  const sorted = [...voices].sort((a, b) => a.ohm - b.ohm);
  const half = sorted.reduce((sum, { weight }) => sum + weight, 0) / 2;
  const upTo = (isReached: (seen: number) => boolean) => {
    let seen = 0;
    return sorted.find(({ weight }) => isReached((seen += weight)))?.ohm ?? sorted[sorted.length - 1].ohm;
  };
  return (upTo((seen) => seen >= half) + upTo((seen) => seen > half)) / 2;
}

/** How many equal voices weigh as much as these. */
function effective(voices: readonly Voice[]): number {
  const sum = voices.reduce((total, { weight }) => total + weight, 0);
  const squares = voices.reduce((total, { weight }) => total + weight * weight, 0);
  return squares > 0 ? (sum * sum) / squares : 0;
}
