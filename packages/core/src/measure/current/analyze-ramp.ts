import type { CannotTell } from '../../errors.js';
import { LIMITS } from '../../limits/limits.js';
import { rpmFromPeriod } from '../../units/units.js';
import { levels, meanOf } from '../../signal/levels.js';
import { isCoupled, levelled } from './coupling.js';
import { findDropouts, type Departures, type Dropout } from './dropouts.js';
import { rampFindings } from './findings.js';
import { findChopping } from './pulsed.js';
import { isClipped } from './clipping.js';
import { quietNoise } from './quiet-noise.js';
import { namePattern } from './patterns.js';
import { recorderStep } from './rounding.js';
import { ordinaryExtremes, type Recorded } from './ripple.js';
import { RULED_OUT, type Revolution } from './revolution.js';
import { findSegments, type Run, type SampleRange, type Segments } from './segments.js';
import { findStalls, turningPart } from './stalls.js';
import { findSteady } from './steady.js';
import { measureTurning, type Turning } from './turning.js';
import type { Pattern, RampAnalysis, RampResult, Steady } from './types.js';
import { makeWorkingSignal, type WorkingSignal } from './working-signal.js';

export interface RampOptions {
  /** Commutator bars, where known. */
  readonly bars?: number;
}

/** A start's peak comes within some winding and rotor time constants, tens of milliseconds each. */
const INRUSH_WITHIN_S = 0.15;
/** Two turns of a usual pump. */
const FEWEST_STEADY_S = 0.02;

/** A clamp's whole record, A. */
export interface ClampSignal {
  readonly samples: Float32Array;
  /** The clamp's zero was stated and is taken off. */
  readonly zeroStated: boolean;
}

/** Measures a pump current record: A by time in, the whole ramp result out. */
export function analyzeRamp(
  channel: ClampSignal,
  sampleRateHz: number,
  startS: number,
  options: RampOptions = {},
): RampAnalysis {
  const { samples } = channel;
  const segments = findSegments(samples, sampleRateHz, channel.zeroStated);
  if (isCoupled(samples, sampleRateHz, segments)) return analyzeCoupled(samples, sampleRateHz, startS, options.bars);
  const zero = channel.zeroStated ? 0 : (segments.quietLevel ?? 0);
  const stepA = recorderStep(samples);
  const recording: Recording = { samples, sampleRateHz, startS, zero, segments, bars: options.bars, stepA };
  const cannotTell: CannotTell[] = [];
  if (segments.quietLevel === undefined && !channel.zeroStated) {
    cannotTell.push({
      what: 'zeroOffsetA',
      because: 'the record has no part with the pump off; start the capture before key-on, or state the clamp zero',
    });
  }
  if (segments.runs.length === 0) {
    const flat = levels(samples);
    const ramp: RampResult = { zeroOffsetA: flat.mean, inverted: false, dropouts: [], pattern: 'no-current', runs: [] };
    cannotTell.push({ what: 'rpm', because: 'no pump current flows in this record' });
    return { ramp, findings: rampFindings(ramp, {}), cannotTell };
  }
  const measured = measureRuns(recording);
  const main = measured.reduce((a, b) => (lengthOf(b.run) > lengthOf(a.run) ? b : a));
  cannotTell.push(...main.cannotTell);
  const powered = poweredAround(segments.runs, main.run, sampleRateHz);
  const [first, last] = [powered[0], powered[powered.length - 1]];
  const at = (sample: number) => startS + sample / sampleRateHz;
  const { steady, turning, pattern } = main;
  const ramp: RampResult = {
    ...((segments.quietLevel !== undefined || channel.zeroStated) && { zeroOffsetA: segments.quietLevel ?? 0 }),
    inverted: segments.inverted,
    ...(first.onset !== undefined && { onsetS: at(first.onset) }),
    ...(last.off !== undefined && { offS: at(last.off) }),
    ...measured[segments.runs.indexOf(first)].inrush,
    ...(steady && { steady }),
    ...(turning && turningNumbers(turning)),
    dropouts: [...interruptions(powered, measured, at), ...measured.flatMap(({ dropouts }) => dropouts)].sort(
      (a, b) => a.startS - b.startS,
    ),
    pattern,
    runs: measured.map((one) => ({
      fromS: at(one.run.from),
      toS: at(one.run.to),
      ...(one.run.onset !== undefined && { onsetS: at(one.run.onset) }),
      ...(one.run.off !== undefined && { offS: at(one.run.off) }),
      ...one.inrush,
      ...(one.steady && { steady: one.steady }),
      ...(one.turning && { rpm: turningNumbers(one.turning).rpm }),
      pattern: one.pattern,
    })),
  };
  const map = turning?.map;
  return {
    ramp,
    findings: rampFindings(ramp, {
      sampleRateHz,
      stallsS: measured.flatMap(({ stallsS }) => stallsS),
      spikes: main.spikes,
      ...(turning?.revolution.contradictsGiven && { contradictedBars: options.bars }),
    }),
    cannotTell,
    ...(map && { turnA: map.turn, turns: map.turns }),
  };
}

/** A record that passes no steady current tells how the rotor turns and what its bars are like, and no level at all. */
function analyzeCoupled(
  raw: Float32Array,
  sampleRateHz: number,
  startS: number,
  bars: number | undefined,
): RampAnalysis {
  const { samples, inverted, runs } = levelled(raw, sampleRateHz);
  const segments: Segments = { inverted: false, runs };
  const recording: Recording = {
    samples,
    sampleRateHz,
    startS,
    zero: 0,
    segments,
    bars,
    stepA: recorderStep(raw),
  };
  const measured = measureRuns(recording);
  const cannotTell: CannotTell[] = [
    {
      what: 'steady',
      because:
        'the record swings about zero both ways: the clamp or its input is AC-coupled and passes no steady current, so mean, ripple and first peak are lost. Set the input to DC, zero the clamp, and capture again',
    },
  ];
  if (measured.length === 0) {
    cannotTell.push({ what: 'rpm', because: 'humps never pass for long enough to be followed' });
    return { ramp: { inverted, dropouts: [], pattern: 'irregular', runs: [] }, findings: [], cannotTell };
  }
  const main = measured.reduce((a, b) => (lengthOf(b.run) > lengthOf(a.run) ? b : a));
  const { turning, pattern, dropouts } = main;
  const at = (sample: number) => startS + sample / sampleRateHz;
  const ramp: RampResult = {
    inverted,
    ...(turning && turningNumbers(turning)),
    dropouts,
    pattern,
    runs: measured.map(({ run, turning: of, pattern: seen }) => ({
      fromS: at(run.from),
      toS: at(run.to),
      ...(of && { rpm: turningNumbers(of).rpm }),
      pattern: seen,
    })),
  };
  const map = turning?.map;
  return {
    ramp,
    findings: rampFindings(ramp, { sampleRateHz }),
    cannotTell: [...cannotTell, ...main.cannotTell],
    ...(map && { turnA: map.turn, turns: map.turns }),
  };
}

/** A record with what was found out about the whole of it. */
interface Recording {
  readonly samples: Float32Array;
  readonly sampleRateHz: number;
  readonly startS: number;
  readonly zero: number;
  readonly segments: Segments;
  readonly bars: number | undefined;
  /** The recorder's step, A. */
  readonly stepA: number;
}

interface MeasuredRun {
  readonly run: Run;
  readonly inrush: Pick<RampResult, 'inrushPeakA' | 'inrushPeakS'>;
  /** Begin and end of each time that the rotor came to stand, s. */
  readonly stallsS: readonly (readonly [number, number])[];
  readonly steady?: Steady;
  readonly turning?: Turning;
  readonly dropouts: readonly Dropout[];
  /** Pick-up: spikes of either direction. */
  readonly spikes: number;
  readonly pattern: Pattern;
  readonly cannotTell: readonly CannotTell[];
}

const lengthOf = ({ from, to }: SampleRange) => to - from;

/** The runs before and after one that are parted from it by interruptions only. */
function poweredAround(runs: readonly Run[], main: Run, sampleRateHz: number): Run[] {
  const at = runs.indexOf(main);
  const near = (a: Run, b: Run) => b.from - a.to < LIMITS.interruptionS.value * sampleRateHz;
  let [from, to] = [at, at];
  while (from > 0 && near(runs[from - 1], runs[from])) from--;
  while (to < runs.length - 1 && near(runs[to], runs[to + 1])) to++;
  return runs.slice(from, to + 1);
}

/** Where the current was gone in the midst of a powered stretch. */
function interruptions(
  powered: readonly Run[],
  measured: readonly MeasuredRun[],
  at: (sample: number) => number,
): Dropout[] {
  return powered.slice(1).map((next, i) => {
    const steady =
      measured.find(({ run }) => run === powered[i])?.steady ?? measured.find(({ run }) => run === next)?.steady;
    return { startS: at(powered[i].to), endS: at(next.from), depthA: steady?.meanA ?? 0, locked: false };
  });
}

/** All runs are the same motor's: the humps a turn that explain them all are taken for those that leave it open. */
function measureRuns(recording: Recording): MeasuredRun[] {
  const { segments, bars } = recording;
  const measured = segments.runs.map((run) => measureRun(recording, run));
  const turning = measured.flatMap((one) => (one.turning ? [one.turning.revolution] : []));
  if (turning.length < 2 || bars !== undefined) return measured;
  const shareOf = (humps: number, { perRevolution, confidence, alternatives }: Revolution) =>
    perRevolution === humps
      ? confidence
      : (alternatives.find((other) => other.perRevolution === humps)?.confidence ?? RULED_OUT);
  const jointly = (humps: number) => turning.reduce((product, of) => product * shareOf(humps, of), 1);
  const counts = turning.flatMap((of) => [of.perRevolution, ...of.alternatives.map((other) => other.perRevolution)]);
  const perRevolution = counts.reduce((a, b) => (jointly(b) > jointly(a) ? b : a));
  return measured.map((one) => {
    const of = one.turning?.revolution;
    const isOpen = of && of.basis !== 'measured' && of.perRevolution !== perRevolution;
    return isOpen ? measureRun(recording, one.run, perRevolution) : one;
  });
}

/** @param likelyHumps humps a turn that all runs together speak for */
function measureRun(recording: Recording, run: Run, likelyHumps?: number): MeasuredRun {
  const { samples, sampleRateHz, startS, zero, segments, bars, stepA } = recording;
  const cannotTell: CannotTell[] = [];
  const at = (sample: number) => startS + sample / sampleRateHz;
  if (run.onset !== undefined && isClipped(samples, startOf(run, sampleRateHz), segments.inverted, sampleRateHz)) {
    cannotTell.push({
      what: 'inrushPeakA',
      because:
        'the record is cut off flat at its highest value: the clamp or the recorder ran out of range, so the peak is higher than shown',
    });
  }
  const peak = inrush(samples, sampleRateHz, run, zero, segments.inverted, at);
  const stalls = findStalls(samples, sampleRateHz, run, zero, segments.inverted);
  const stallsS = stalls.map(({ from, to }) => [at(from), at(to)] as const);
  const turns = turningPart(run, stalls, sampleRateHz);
  const steadyRange = findSteady(samples, sampleRateHz, turns, zero, segments.inverted);
  if (!steadyRange || steadyRange.to - steadyRange.from < FEWEST_STEADY_S * sampleRateHz) {
    cannotTell.push({
      what: 'steady',
      because: 'the current never settles within this record; capture at least half a second after key-on',
    });
    return { run, inrush: peak, stallsS, dropouts: [], spikes: 0, pattern: 'irregular', cannotTell };
  }
  const signal = makeWorkingSignal(samples, sampleRateHz, steadyRange, zero, segments.inverted, stepA);
  const quiet = quietNoise(samples, segments);
  const noise = quiet?.(signal.factor);
  const chopping = findChopping(signal.current, signal.sampleRateHz);
  const turning = chopping
    ? undefined
    : measureTurning(signal, { bars, likelyHumps }, noise, turns.onset !== undefined);
  const told = turning && 'untold' in turning ? undefined : turning;
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
    noiseA: quiet ?? ((factor) => (told?.noiseA ?? 0) * Math.sqrt(signal.factor / factor)),
  };
  const steady = steadyNumbers(signal, recorded, at, told);
  const { dropouts, spikes } = chopping
    ? { dropouts: [], spikes: 0 }
    : listDropouts(signal, noise, steady, told, at(steadyRange.from));
  if (told && told.revolution.basis !== 'measured') {
    cannotTell.push({
      what: 'humps.perRevolution',
      because:
        told.revolution.basis === 'given'
          ? 'nothing shows for sure where a turn ends; the speed rests on the bar count given'
          : `nothing shows for sure where a turn ends; the speed rests on an assumed ${told.revolution.perRevolution} humps a turn, so give the bar count if you know it`,
    });
  }
  const pattern = chopping ? 'pulsed' : namePattern({ steady, dropouts, turning: told, inrushPeakA: peak.inrushPeakA });
  const stands = pattern === 'locked-rotor';
  return {
    run,
    inrush: peak,
    stallsS,
    steady,
    ...(told && { turning: told }),
    dropouts,
    spikes,
    pattern,
    // No humps of a rotor that stands is nothing to wonder at.
    cannotTell: stands ? cannotTell.filter(({ what }) => what !== 'rpm') : cannotTell,
  };
}

/** Highest point after the start, averaged over a few samples so that a noise spike isn't the peak. */
function inrush(
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

function startOf({ from, to }: SampleRange, sampleRateHz: number): SampleRange {
  return { from, to: Math.min(to, from + Math.round(INRUSH_WITHIN_S * sampleRateHz)) };
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
): Departures {
  const map = turning?.map;
  const { dropouts, spikes } = findDropouts({
    signal,
    meanA: steady.meanA,
    troughA: map?.troughA ?? steady.minA,
    crestA: steady.maxA,
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
  return {
    dropouts: dropouts.map((dropout) => ({ ...dropout, startS: fromS + dropout.startS, endS: fromS + dropout.endS })),
    spikes,
  };
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
      ...(revolution.alternatives.length > 0 && { alternatives: revolution.alternatives }),
    },
    revolutionMs: (1000 * perLine) / line.hz,
    rpm: rpm(line.hz),
    rpmInterval: [rpm(line.hz - line.halfWidthHz), rpm(line.hz + line.halfWidthHz)] as const,
    ...(map && { bars: map.bars }),
  };
}
