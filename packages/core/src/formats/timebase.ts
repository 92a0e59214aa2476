import { InputError } from '../errors.js';
import { refuseRate } from './bounds.js';

/** Where a capture's clock came from and what was wrong with it. */
export interface Timebase {
  readonly sampleRateHz: number;
  readonly startS: number;
  /** Present when the stamps are uneven: signals must be interpolated onto this many even steps. */
  readonly resampleTo?: number;
  readonly notes: readonly string[];
}

/** More than this many even steps per stamp would be inventing data. */
const LARGEST_STRETCH = 8;

/**
 * Judges a column of time stamps.
 * Stamps that stay within one step (or one unit of their own printed resolution) of a straight line are even:
 * printing too few digits repeats them, which is reported and harmless.
 * @param stampS time of each row in seconds
 * @throws InputError when time runs backwards or stands still, or moves at no recorder's pace
 */
export function judgeTimebase(stampS: Float64Array): Timebase {
  const count = stampS.length;
  const spanS = stampS[count - 1] - stampS[0];
  let repeated = 0;
  let smallestStepS = Infinity;
  for (let i = 1; i < count; i++) {
    const step = stampS[i] - stampS[i - 1];
    if (step < 0) {
      throw new InputError(
        `Time runs backwards at row ${i + 1} of the numbers. Export one record only, in time order.`,
      );
    }
    if (step === 0) repeated++;
    else if (step < smallestStepS) smallestStepS = step;
  }
  if (!(spanS > 0)) {
    throw new InputError(
      'The time column never moves. Export the capture with its time stamps, or without a time column and give the sample rate.',
      { code: 'rate-unknown' },
    );
  }
  const meanStepS = spanS / (count - 1);
  const notes: string[] = [];
  if (repeated > 0)
    notes.push(
      `${repeated} time stamps repeat the one before; rows are taken as evenly spaced between first and last.`,
    );
  if (largestDeviation(stampS, meanStepS) <= Math.max(meanStepS, smallestStepS) * 1.01) {
    return { sampleRateHz: refuseRate(1 / meanStepS), startS: stampS[0], notes };
  }
  const stepS = medianStep(stampS);
  const resampleTo = Math.floor(spanS / stepS + 1e-6) + 1;
  if (resampleTo > count * LARGEST_STRETCH) {
    throw new InputError(
      'The time stamps are too uneven to be one recording (long gaps). Export one continuous record.',
    );
  }
  return {
    sampleRateHz: refuseRate(1 / stepS),
    startS: stampS[0],
    resampleTo,
    notes: [`Time stamps are uneven; signals were interpolated onto even steps of ${(stepS * 1e3).toPrecision(4)} ms.`],
  };
}

/** Linear interpolation of values at uneven stamps onto even steps. */
export function resampleEvenly(stampS: Float64Array, values: Float32Array, timebase: Timebase): Float32Array {
  const count = timebase.resampleTo ?? values.length;
  const out = new Float32Array(count);
  let right = 1;
  for (let i = 0; i < count; i++) {
    const time = timebase.startS + i / timebase.sampleRateHz;
    while (right < stampS.length - 1 && stampS[right] < time) right++;
    const gap = stampS[right] - stampS[right - 1];
    const part = gap > 0 ? Math.min(1, Math.max(0, (time - stampS[right - 1]) / gap)) : 1;
    out[i] = values[right - 1] + part * (values[right] - values[right - 1]);
  }
  return out;
}

function largestDeviation(stampS: Float64Array, meanStepS: number): number {
  let largest = 0;
  for (let i = 0; i < stampS.length; i++) {
    largest = Math.max(largest, Math.abs(stampS[i] - stampS[0] - i * meanStepS));
  }
  return largest;
}

/** Median of up to 4096 non-zero steps spread over the record. */
function medianStep(stampS: Float64Array): number {
  const steps: number[] = [];
  const stride = Math.max(1, Math.floor(stampS.length / 4096));
  for (let i = 1; i < stampS.length; i += stride) {
    const step = stampS[i] - stampS[i - 1];
    if (step > 0) steps.push(step);
  }
  steps.sort((a, b) => a - b);
  return steps[steps.length >> 1];
}
