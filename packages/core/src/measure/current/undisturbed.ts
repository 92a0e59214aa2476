import type { Material } from '../analyser.js';
import { COMMON_PRACTICE, finding, type Finding } from '../../limits/limits.js';
import { analyzeRamp, type ClampSignal, type RampOptions } from './analyze-ramp.js';
import type { SampleRange } from './runs.js';
import { findSteppedRunning, type SteppedRunning } from './stepped.js';
import type { RampAnalysis, RampResult } from './types.js';

type Beside = Pick<Material, 'sampleRateHz' | 'startS' | 'bars' | 'disturbed' | 'cranks'>;

/** Shorter than this a stretch holds too few turns to be worth more than the whole, s. */
const SHORTEST_S = 0.2;

/**
 * Measures the draw where nothing else happened. Where the volts beside it show that the feed failed, or the pump opened,
 * dragged or ran dry for a while, its usual draw, ripple and turn are those of the longest stretch without any of it; what
 * the whole record shows (zero, switch-on and off, runs) stays.
 */
export function analyzeUndisturbed(
  clamp: ClampSignal,
  { sampleRateHz, startS, bars, disturbed, cranks }: Beside,
): RampAnalysis {
  const at = (seconds: number) => Math.round((seconds - startS) * sampleRateHz);
  const options = {
    ...(bars !== undefined && { bars }),
    cranks: cranks.map(([from, until]) => ({ from: at(from), to: at(until) })),
  };
  const stepped =
    disturbed.length === 0 && cranks.length === 0 ? findSteppedRunning(clamp.samples, sampleRateHz) : undefined;
  if (stepped) return analyzeStepped(clamp, stepped, { sampleRateHz, startS, options });
  const whole = analyzeRamp(clamp, sampleRateHz, startS, options);
  const sound = longestBetween(
    disturbed.map(([from, until]) => ({ from: at(from), to: at(until) })),
    {
      runs: (whole.ramp.steady ? (whole.ramp.runs ?? []) : []).map(({ fromS, toS }) => ({
        from: at(fromS),
        to: at(toS),
      })),
      length: clamp.samples.length,
    },
  );
  if (disturbed.length === 0 || sound.to - sound.from < SHORTEST_S * sampleRateHz) return whole;
  const within = zeroed(clamp, whole.ramp.zeroOffsetA, sound);
  const [soundS, untilS] = [sound.from, sound.to].map((sample) => startS + sample / sampleRateHz);
  // It is the same motor's throughout, but what was disturbed of this run itself says nothing more.
  const otherRuns = whole.counted?.filter(({ fromS, toS }) => toS <= soundS || fromS >= untilS) ?? [];
  const cranked = options.cranks.map(({ from, to }) => ({ from: from - sound.from, to: to - sound.from }));
  const usual = analyzeRamp(within, sampleRateHz, soundS, { ...options, cranks: cranked, otherRuns });
  return { ...usual, ramp: { ...usual.ramp, ...seenInWhole(whole.ramp), dropouts: dropoutsOf(whole, usual) } };
}

/** A part of a record whose zero was found, or stated before. */
function zeroed(
  { samples, zeroStated }: ClampSignal,
  zero: number | undefined,
  { from, to }: SampleRange,
): ClampSignal {
  const part = samples.subarray(from, to);
  if (zeroStated || zero === undefined) return { samples: part, zeroStated };
  return { samples: part.map((value) => value - zero), zeroStated: true };
}

/** More levels than anybody steps through by hand. */
const MOST_LEVELS = 20;

/** Each level by itself: steps are neither notches nor an off. The numbers are those of the longest. */
function analyzeStepped(
  clamp: ClampSignal,
  { levels, offLevel }: SteppedRunning,
  {
    sampleRateHz,
    startS,
    options,
  }: { readonly sampleRateHz: number; readonly startS: number; readonly options: RampOptions },
): RampAnalysis {
  const each = levels.slice(0, MOST_LEVELS).map((range) => ({
    length: range.to - range.from,
    analysis: analyzeRamp(zeroed(clamp, offLevel, range), sampleRateHz, startS + range.from / sampleRateHz, options),
  }));
  const { analysis: main } = each.reduce((a, b) => (b.length > a.length ? b : a));
  const all = { from: 0, to: clamp.samples.length };
  const whole =
    offLevel === undefined ? undefined : analyzeRamp(zeroed(clamp, offLevel, all), sampleRateHz, startS, options);
  const ramp: RampResult = {
    ...main.ramp,
    ...(whole && seenInWhole(whole.ramp)),
    ...(offLevel !== undefined && !clamp.zeroStated && { zeroOffsetA: offLevel }),
    stepped: true,
    runs: each.flatMap(({ analysis }) => analysis.ramp.runs ?? []),
  };
  return { ...main, ramp, findings: [...main.findings, steppedFinding(ramp)] };
}

function steppedFinding({ runs = [], steady }: RampResult): Finding {
  const text =
    `The pump runs at ${runs.length} levels of current in this record, each measured by itself; the numbers are those of the longest. ` +
    'A stepped command, a second speed or an engine that comes up does this.';
  const window = steady && ([steady.fromS, steady.toS] as const);
  return finding(
    'stepped',
    'info',
    text,
    { rule: 'A pump at one speed draws one mean', source: COMMON_PRACTICE },
    window,
  );
}

/** The stretch that no disturbance touches in which the pump runs for longest at a time, samples. */
function longestBetween(
  disturbed: readonly SampleRange[],
  { runs, length }: { readonly runs: readonly SampleRange[]; readonly length: number },
): SampleRange {
  const sorted = [...disturbed].sort((a, b) => a.from - b.from);
  // Of a record whose runs aren't known any part may run.
  const running = ({ from, to }: SampleRange) =>
    runs.length === 0
      ? to - from
      : runs.reduce((most, run) => Math.max(most, Math.min(to, run.to) - Math.max(from, run.from)), 0);
  let best = { from: 0, to: 0 };
  let from = 0;
  for (const next of [...sorted, { from: length, to: length }]) {
    const stretch = { from, to: Math.min(length, Math.max(from, next.from)) };
    if (running(stretch) > running(best)) best = stretch;
    from = Math.max(from, next.to);
  }
  return best;
}

/** Without a steady part the whole record passed for one through an AC-coupled clamp, or its zero is off: it says nothing of levels. */
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
