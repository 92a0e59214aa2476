import { toBlocks } from '../../signal/blocks.js';
import type { Run, SampleRange } from './runs.js';
import type { RampResult } from './types.js';

/** A start's peak comes within some winding and rotor time constants, tens of milliseconds each. */
const INRUSH_WITHIN_S = 0.15;
/** What rises at a start has risen by then; a block is longer than a hump or a spike, s. */
const RISEN_S = 0.005;
const BLOCK_S = 0.004;

/** Highest point after the start, averaged over a few samples so that a noise spike isn't the peak. */
export function inrush(
  samples: Float32Array,
  sampleRateHz: number,
  run: Run,
  zero: number,
  inverted: boolean,
  at: (sample: number) => number,
): Pick<RampResult, 'inrushPeakA' | 'inrushPeakS'> {
  if (run.onset === undefined) return {};
  const half = Math.min(8, Math.floor(sampleRateHz / 40_000));
  const sign = inverted ? -1 : 1;
  const end = Math.min(run.to, run.onset + Math.round(INRUSH_WITHIN_S * sampleRateHz)) - half;
  let peak = -Infinity;
  let place = run.onset;
  for (let i = run.onset + half; i < end; i++) {
    let sum = 0;
    for (let k = i - half; k <= i + half; k++) sum += samples[k];
    const value = sign * (sum / (2 * half + 1) - zero);
    if (value > peak) {
      peak = value;
      place = i;
    }
  }
  return peak > 0 ? { inrushPeakA: peak, inrushPeakS: at(place) } : {};
}

export function startOf({ from, to }: SampleRange, sampleRateHz: number): SampleRange {
  return { from, to: Math.min(to, from + Math.round(INRUSH_WITHIN_S * sampleRateHz)) };
}

/** Lowest course of a run once its start has risen, A. */
export function leastOf(
  samples: Float32Array,
  sampleRateHz: number,
  { from, to }: SampleRange,
  zero: number,
  inverted: boolean,
): number {
  const risen = Math.min(to, from + Math.round(RISEN_S * sampleRateHz));
  const { mean } = toBlocks(samples.subarray(risen, to), Math.max(1, Math.round(BLOCK_S * sampleRateHz)));
  return mean.reduce((least, value) => Math.min(least, inverted ? zero - value : value - zero), Infinity);
}
