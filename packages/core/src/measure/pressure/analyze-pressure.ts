import type { CannotTell } from '../../errors.js';
import type { HoldRecord } from './hold-record.js';
import { movingAverage, toBlocks } from '../../signal/blocks.js';
import { median, quantile } from '../../signal/levels.js';
import { fitHold, type HoldFit } from './hold.js';

/** What a recorded rail pressure tells. Seconds from the start of the capture, Pa gauge. */
export interface PressureResult {
  readonly startPa: number;
  /** Level reached after the rise; absent when it never rises. */
  readonly primePa?: number;
  readonly onsetS?: number;
  /** 10 to 90 % of the rise (IEEE Std 181-2011, reference levels). */
  readonly riseTimeS?: number;
  readonly highestPa: number;
  /** Median and lowest level, after the rise where there is one. */
  readonly levelPa: number;
  readonly lowestPa: number;
  /** From the record's highest point on, where it then falls for long enough. */
  readonly hold?: HoldFit;
  /** What that was fitted to, as a hold record of its own. */
  readonly holdRecord?: HoldRecord;
}

const BLOCKS = 2000;
/** The level before anything happens. */
const START_S = 0.3;
const LEAST_RISE_PA = 20e3;
/** The pump's prime lasts about this long; what comes later is another state. */
const PRIME_S = 3;
const LEAST_HOLD_S = 20;
const HOLD_POINTS = 120;

/** Rise, level and hold of a pressure signal. @param samples Pa */
export function analyzePressure(
  samples: Float32Array,
  sampleRateHz: number,
  startS: number,
): { readonly pressure: PressureResult; readonly cannotTell: readonly CannotTell[] } {
  const size = Math.max(1, Math.floor(samples.length / BLOCKS));
  const { mean } = toBlocks(samples, size);
  const at = (block: number) => startS + ((block + 0.5) * size) / sampleRateHz;
  const startPa = median(mean.subarray(0, Math.max(3, Math.round((START_S * sampleRateHz) / size))));
  const highestPa = quantile(mean, 0.995);
  const rest = { startPa, highestPa, ...levelsOf(mean), ...holdAfterPeak(mean, size / sampleRateHz) };
  const climb = highestPa - startPa;
  if (climb < LEAST_RISE_PA) {
    const because =
      'the pressure does not rise in this record; start it before key-on, or check the transducer’s scale';
    return { pressure: rest, cannotTell: [{ what: 'primePa', because }] };
  }
  const onset = mean.findIndex((value) => value > startPa + 0.1 * climb);
  const primeBlocks = Math.max(3, Math.round((PRIME_S * sampleRateHz) / size));
  const primePa = quantile(mean.subarray(onset, onset + primeBlocks), 0.9);
  const rise = riseAt(samples, sampleRateHz, { from: onset * size, startPa, primePa });
  if (!rise) {
    const because = 'the pressure is under way to its level as the record begins; start it before key-on';
    return { pressure: { ...rest, primePa }, cannotTell: [{ what: 'riseTimeS', because }] };
  }
  return {
    pressure: {
      ...rest,
      primePa,
      onsetS: at(onset),
      riseTimeS: rise.top - rise.bottom,
      ...levelsOf(mean.subarray(Math.floor((rise.top * sampleRateHz) / size))),
    },
    cannotTell: [],
  };
}

function levelsOf(blocks: Float64Array): Pick<PressureResult, 'levelPa' | 'lowestPa'> {
  return { levelPa: median(blocks), lowestPa: quantile(blocks, 0.005) };
}

/** Crossings of 10 and 90 % are looked for in the samples, averaged over this time so that noise doesn't cross first. */
const SMOOTH_S = 0.02;
const BEFORE_S = 1;

/** @returns undefined where the record doesn't show both crossings, one after the other */
function riseAt(
  samples: Float32Array,
  sampleRateHz: number,
  { from, startPa, primePa }: { from: number; startPa: number; primePa: number },
): { readonly bottom: number; readonly top: number } | undefined {
  const begin = Math.max(0, from - Math.round(BEFORE_S * sampleRateHz));
  const end = Math.min(samples.length, from + Math.round((PRIME_S + BEFORE_S) * sampleRateHz));
  const smooth = movingAverage(samples.subarray(begin, end), Math.floor((SMOOTH_S * sampleRateHz) / 2));
  const [bottom, top] = [0.1, 0.9].map((share) => {
    const level = startPa + share * (primePa - startPa);
    const i = smooth.findIndex((value) => value >= level);
    return i < 1 ? NaN : (begin + i - (smooth[i] - level) / (smooth[i] - smooth[i - 1])) / sampleRateHz;
  });
  return bottom < top ? { bottom, top } : undefined;
}

function holdAfterPeak(mean: Float64Array, blockS: number): Pick<PressureResult, 'hold' | 'holdRecord'> {
  let peak = 0;
  for (let i = 0; i < mean.length; i++) if (mean[i] >= mean[peak]) peak = i;
  const falling = mean.subarray(peak);
  if (falling.length * blockS < LEAST_HOLD_S) return {};
  const stride = Math.max(1, Math.floor(falling.length / HOLD_POINTS));
  const points = Array.from(
    { length: Math.floor(falling.length / stride) },
    (_, i) => [i * stride * blockS, falling[i * stride]] as const,
  );
  const result = fitHold({ points });
  return 'fit' in result ? { hold: result.fit, holdRecord: { points, blocked: 'none' } } : {};
}
