import type { Material } from '../analyser.js';
import { analyzeRamp, type ClampSignal } from './analyze-ramp.js';
import type { RampAnalysis, RampResult } from './types.js';

/** Shorter than this a stretch holds too few turns to be worth more than the whole, s. */
const SHORTEST_S = 0.2;

/**
 * Measures the draw where nothing else happened. Where the volts beside it show that the feed failed, or the pump opened,
 * dragged or ran dry for a while, its usual draw, ripple and turn are those of the longest stretch without any of it; what
 * the whole record shows (zero, switch-on and off, runs) stays.
 */
export function analyzeUndisturbed(
  clamp: ClampSignal,
  { sampleRateHz, startS, bars, disturbed }: Pick<Material, 'sampleRateHz' | 'startS' | 'bars' | 'disturbed'>,
): RampAnalysis {
  const options = bars === undefined ? {} : { bars };
  const whole = analyzeRamp(clamp, sampleRateHz, startS, options);
  const sound = longestBetween(disturbed, sampleRateHz, startS, clamp.samples.length);
  if (disturbed.length === 0 || sound.to - sound.from < SHORTEST_S * sampleRateHz) return whole;
  const { zeroOffsetA } = whole.ramp;
  const zero = clamp.zeroStated ? undefined : zeroOffsetA;
  const part = clamp.samples.subarray(sound.from, sound.to);
  const samples = zero === undefined ? part : part.map((value) => value - zero);
  const within = { samples, zeroStated: clamp.zeroStated || zero !== undefined };
  const usual = analyzeRamp(within, sampleRateHz, startS + sound.from / sampleRateHz, options);
  return { ...usual, ramp: { ...usual.ramp, ...seenInWhole(whole.ramp), dropouts: dropoutsOf(whole, usual) } };
}

/** The longest stretch that no disturbance touches, samples. */
function longestBetween(
  disturbed: readonly (readonly [number, number])[],
  sampleRateHz: number,
  startS: number,
  length: number,
): { from: number; to: number } {
  const at = (seconds: number) => Math.min(length, Math.max(0, Math.round((seconds - startS) * sampleRateHz)));
  const sorted = disturbed.map(([from, to]) => ({ from: at(from), to: at(to) })).sort((a, b) => a.from - b.from);
  let best = { from: 0, to: 0 };
  let from = 0;
  for (const next of [...sorted, { from: length, to: length }]) {
    if (next.from - from > best.to - best.from) best = { from, to: next.from };
    from = Math.max(from, next.to);
  }
  return best;
}

/** Without a steady part the whole record passed for one through an AC-coupled clamp, and says nothing of levels. */
function seenInWhole({ zeroOffsetA, onsetS, offS, inrushPeakA, inrushPeakS, runs, steady }: RampResult) {
  if (!steady) return {};
  return {
    ...(zeroOffsetA !== undefined && { zeroOffsetA }),
    ...(onsetS !== undefined && { onsetS }),
    ...(offS !== undefined && { offS }),
    ...(inrushPeakA !== undefined && { inrushPeakA }),
    ...(inrushPeakS !== undefined && { inrushPeakS }),
    ...(runs && { runs }),
  };
}

/** Brush by brush, dips are those of the stretch whose troughs are known. */
function dropoutsOf(whole: RampAnalysis, usual: RampAnalysis) {
  return usual.ramp.steady ? usual.ramp.dropouts : whole.ramp.dropouts;
}
