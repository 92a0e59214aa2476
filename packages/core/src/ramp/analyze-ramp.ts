import type { ScaledChannel } from '../capture/capture.js';
import type { CannotTell } from '../errors.js';
import { rpmFromPeriod } from '../units/units.js';
import { levels, meanOf } from '../signal/levels.js';
import { findDropouts, type Dropout } from './dropouts.js';
import { rampFindings } from './findings.js';
import { findChopping } from './pulsed.js';
import { quietNoise } from './quiet-noise.js';
import { ordinaryExtremes, type Recorded } from './ripple.js';
import { findSegments, type SampleRange, type Segments } from './segments.js';
import { findSteady } from './steady.js';
import { measureTurning, type Turning } from './turning.js';
import type { Pattern, RampAnalysis, RampResult, Steady } from './types.js';
import { makeWorkingSignal, type WorkingSignal } from './working-signal.js';

export interface RampOptions {
  /** Commutator bars, where known. */
  readonly bars?: number;
}

const INRUSH_WITHIN_S = 0.15;
const FEWEST_STEADY_S = 0.02;

/** Measures a pump current record: A by time in, the whole ramp result out. */
export function analyzeRamp(
  channel: ScaledChannel,
  sampleRateHz: number,
  startS: number,
  options: RampOptions = {},
): RampAnalysis {
  const { samples } = channel;
  const segments = findSegments(samples, sampleRateHz);
  const cannotTell: CannotTell[] = [];
  const zero = channel.zeroStated ? 0 : (segments.quietLevel ?? 0);
  const at = (sample: number) => startS + sample / sampleRateHz;
  if (segments.quietLevel === undefined && !channel.zeroStated) {
    cannotTell.push({
      what: 'zeroOffsetA',
      because: 'the record has no part with the pump off; start the capture before key-on, or state the clamp zero',
    });
  }
  if (!segments.run) {
    const flat = levels(samples);
    const ramp: RampResult = { zeroOffsetA: flat.mean, inverted: false, dropouts: [], pattern: 'no-current' };
    cannotTell.push({ what: 'rpm', because: 'no pump current flows in this record' });
    return { ramp, findings: rampFindings(ramp, {}), cannotTell };
  }
  const run = segments.run;
  if (segments.onset !== undefined && isClipped(samples, startOf(run, sampleRateHz), segments.inverted)) {
    cannotTell.push({
      what: 'inrushPeakA',
      because:
        'the record is cut off flat at its highest value: the clamp or the recorder ran out of range, so the peak is higher than shown',
    });
  }
  const steadyRange = findSteady(samples, sampleRateHz, segments, run, zero);
  const basics = {
    ...((segments.quietLevel !== undefined || channel.zeroStated) && { zeroOffsetA: segments.quietLevel ?? 0 }),
    inverted: segments.inverted,
    ...(segments.onset !== undefined && { onsetS: at(segments.onset) }),
    ...(segments.off !== undefined && { offS: at(segments.off) }),
    ...inrush(samples, sampleRateHz, segments, zero, at),
  };
  if (!steadyRange || steadyRange.to - steadyRange.from < FEWEST_STEADY_S * sampleRateHz) {
    cannotTell.push({
      what: 'steady',
      because: 'the current never settles within this record; capture at least half a second after key-on',
    });
    const ramp: RampResult = { ...basics, dropouts: [], pattern: 'irregular' };
    return { ramp, findings: rampFindings(ramp, {}), cannotTell };
  }
  const signal = makeWorkingSignal(samples, sampleRateHz, steadyRange, zero, segments.inverted);
  const quiet = quietNoise(samples, segments);
  const noise = quiet?.(signal.factor);
  const chopping = findChopping(signal.current, signal.sampleRateHz);
  const turning = chopping ? undefined : measureTurning(signal, options.bars, noise);
  const measured = turning && 'untold' in turning ? undefined : turning;
  if (chopping) {
    cannotTell.push({
      what: 'rpm',
      because: `the current is switched on and off ${Math.round(chopping.frequencyHz)} times a second by a driver; clamp the pump side of the module to see the humps`,
    });
  } else if (turning && 'untold' in turning) {
    cannotTell.push({ what: 'rpm', because: turning.untold });
  }
  const recorded: Recorded = {
    samples,
    sampleRateHz,
    range: steadyRange,
    zero,
    inverted: segments.inverted,
    noiseA: quiet ?? ((factor) => (measured?.noiseA ?? 0) * Math.sqrt(signal.factor / factor)),
  };
  const steady = steadyNumbers(signal, recorded, at, measured);
  const dropouts = chopping ? [] : listDropouts(signal, noise, steady, measured, at(steadyRange.from));
  const ramp: RampResult = {
    ...basics,
    steady,
    ...(measured && turningNumbers(measured)),
    dropouts,
    pattern: chopping ? 'pulsed' : namePattern(steady, dropouts, measured),
  };
  if (measured && measured.revolution.basis !== 'measured') {
    cannotTell.push({
      what: 'humps.perRevolution',
      because:
        measured.revolution.basis === 'given'
          ? 'the bars are too alike for the revolution to show; the speed rests on the bar count given'
          : 'the bars are too alike for the revolution to show; the speed rests on an assumed eight bars, so give the bar count if you know it',
    });
  }
  const map = measured?.map;
  return {
    ramp,
    findings: rampFindings(ramp, {
      sampleRateHz,
      ...(measured?.revolution.contradictsGiven && { contradictedBars: options.bars }),
    }),
    cannotTell,
    ...(map && { turnA: map.turn, turns: map.turns }),
  };
}

/** Highest point after the start, averaged over a few samples so that a noise spike isn't the peak. */
function inrush(
  samples: Float32Array,
  sampleRateHz: number,
  segments: Segments,
  zero: number,
  at: (sample: number) => number,
): Pick<RampResult, 'inrushPeakA' | 'inrushPeakS'> {
  if (segments.onset === undefined || !segments.run) return {};
  const half = Math.min(8, Math.floor(sampleRateHz / 40_000));
  const sign = segments.inverted ? -1 : 1;
  const end = Math.min(segments.run.to, segments.onset + Math.round(INRUSH_WITHIN_S * sampleRateHz)) - half;
  let peak = -Infinity;
  let place = segments.onset;
  for (let i = segments.onset + half; i < end; i++) {
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

function startOf({ from, to }: SampleRange, sampleRateHz: number): SampleRange {
  return { from, to: Math.min(to, from + Math.round(INRUSH_WITHIN_S * sampleRateHz)) };
}

/** This many samples in a row at the very same highest value are a range limit, not a peak. */
const CLIPPED_RUN = 8;

function isClipped(samples: Float32Array, run: SampleRange, inverted: boolean): boolean {
  let extreme = samples[run.from];
  let length = 0;
  let longest = 0;
  for (let i = run.from; i < run.to; i++) {
    const value = samples[i];
    if (inverted ? value < extreme : value > extreme) {
      extreme = value;
      length = 1;
      longest = 1;
    } else if (value === extreme) longest = Math.max(longest, ++length);
    else length = 0;
  }
  return longest >= CLIPPED_RUN;
}

/** Without a known turn the pattern is looked at in stretches that hold several humps of any pump. */
const UNKNOWN_TURN_S = 0.02;

function steadyNumbers(
  signal: WorkingSignal,
  recorded: Recorded,
  at: (sample: number) => number,
  turning: Turning | undefined,
): Steady {
  const meanA = meanOf(signal.current);
  const turnS = turning?.map ? turning.revolution.linePerRevolution / turning.line.hz : UNKNOWN_TURN_S;
  const { minA, maxA } = ordinaryExtremes(recorded, turnS, turning?.map?.turn, signal.factor);
  const rippleA = Math.max(0, maxA - minA);
  return {
    fromS: at(recorded.range.from),
    toS: at(recorded.range.to),
    meanA,
    minA,
    maxA,
    rippleA,
    ripplePercent: meanA > 0 ? (100 * rippleA) / meanA : 0,
  };
}

function listDropouts(
  signal: WorkingSignal,
  noiseA: number | undefined,
  steady: Steady,
  turning: Turning | undefined,
  fromS: number,
): Dropout[] {
  const map = turning?.map;
  const found = findDropouts({
    signal,
    meanA: steady.meanA,
    troughA: map?.troughA ?? steady.minA,
    humpA: map?.humpA ?? steady.rippleA,
    noiseA: turning?.noiseA ?? noiseA ?? 0,
    ...(turning && {
      rotor: {
        track: turning.line.track,
        linePerRevolution: turning.revolution.linePerRevolution,
        perRevolution: turning.revolution.perRevolution,
      },
    }),
  });
  return found.map((dropout) => ({ ...dropout, startS: fromS + dropout.startS, endS: fromS + dropout.endS }));
}

/** Speed and bars, as far as the revolution is known. */
function turningNumbers({ revolution, line, map }: Turning) {
  const perLine = revolution.linePerRevolution;
  const rpm = (hz: number) => rpmFromPeriod(perLine / hz);
  return {
    humps: {
      rateHz: (line.hz / perLine) * revolution.perRevolution,
      perRevolution: revolution.perRevolution,
      basis: revolution.basis,
      confidence: revolution.confidence,
    },
    revolutionMs: (1000 * perLine) / line.hz,
    rpm: rpm(line.hz),
    rpmInterval: [rpm(line.hz - line.halfWidthHz), rpm(line.hz + line.halfWidthHz)] as const,
    ...(map && { bars: map.bars }),
  };
}

/** Current below this share of the draw counts as gone. */
const GONE_SHARE = 0.15;
/** Gone for longer than this many turns: the motor coasts with its brushes off the bars. */
const DEAD_TURNS = 0.5;
const FEWEST_RANDOM = 2;

function namePattern(steady: Steady, dropouts: readonly Dropout[], turning: Turning | undefined): Pattern {
  const turnS = turning ? turning.revolution.linePerRevolution / turning.line.hz : 0.01;
  const dead = dropouts.some(
    (d) => d.endS - d.startS > DEAD_TURNS * turnS && d.depthA > (1 - GONE_SHARE) * steady.meanA,
  );
  if (dead) return 'dead-stretch';
  if (!turning) return 'irregular';
  const bad = turning.map?.bars.filter((bar) => bar.state !== 'sound').length ?? 0;
  const random = dropouts.filter((d) => !d.locked).length;
  if (random >= FEWEST_RANDOM && random > 0.3 * dropouts.length) return 'random-dropouts';
  if (bad >= 2) return 'burnt-bars';
  if (bad === 1) return 'locked-notch';
  return 'even';
}
