import type { CannotTell } from '../../errors.js';
import { LIMITS } from '../../limits/limits.js';
import { levels, quantile } from '../../signal/levels.js';
import { restingZero, soonAfterRunS } from './at-rest.js';
import { MOST_OFFSET_A } from './explanation.js';
import { isCoupled, levelled } from './coupling.js';
import { coupledGaps } from './coupled-gaps.js';
import type { Dropout } from './dropouts.js';
import { rampFindings } from './findings.js';
import { toldTurning, withoutDoubtful } from './faint.js';
import { measureRuns, speedOfRun, turningNumbers, type MeasuredRun, type Recording } from './measure-runs.js';
import { deadShare } from './patterns.js';
import { recorderStep } from '../../signal/rounding.js';
import { findFloors } from './floor.js';
import type { Run, SampleRange, Segments } from './runs.js';
import { MOST_OF_A_SOUND_PUMP } from './ripple.js';
import { findSegments } from './segments.js';
import type { Counted } from './revolution.js';
import type { RampAnalysis, RampResult } from './types.js';
import { besideUntoldZero, withoutLevel } from './untold-zero.js';

export interface RampOptions {
  /** Commutator bars, where known. */
  readonly bars?: number;
  /** What other runs of the same motor say of the turn. */
  readonly otherRuns?: readonly Counted[];
  /** Where the starter turned the engine: what moves with its swings is none of the pump's. */
  readonly cranks?: readonly SampleRange[];
}

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
  const found = findSegments(samples, sampleRateHz, channel.zeroStated);
  const segments = channel.zeroStated ? found : restingZero(samples, sampleRateHz, found);
  const rests = segments.quietLevel !== undefined || found.quietLevel === undefined;
  // No clamp is off by so much: what comes back from there is an input that forgets.
  const comesFromAfar = !rests && Math.abs(found.quietLevel ?? 0) > MOST_OFFSET_A;
  if (comesFromAfar || isCoupled(samples, sampleRateHz, found))
    return analyzeCoupled(samples, sampleRateHz, startS, options);
  const zero = channel.zeroStated ? 0 : (segments.quietLevel ?? 0);
  const stepA = recorderStep(samples);
  const { bars, otherRuns, cranks = [] } = options;
  const isZeroTold = segments.quietLevel !== undefined || channel.zeroStated;
  const recording: Recording = {
    samples,
    sampleRateHz,
    startS,
    zero,
    isZeroTold,
    segments,
    bars,
    otherRuns,
    stepA,
    cranks,
  };
  const cannotTell: CannotTell[] = [];
  if (!isZeroTold) {
    cannotTell.push({
      what: 'zeroOffsetA',
      because: rests
        ? 'the record has no part with the pump off; start the capture before key-on, or state the clamp zero'
        : 'the pump still coasts as the record ends, and its current isn’t back at the clamp’s zero; record half a second longer, or from before key-on, or state the clamp zero',
    });
  }
  if (segments.runs.length === 0) {
    const flat = levels(samples);
    const ramp: RampResult = { zeroOffsetA: flat.mean, inverted: false, dropouts: [], pattern: 'no-current', runs: [] };
    cannotTell.push({ what: 'rpm', because: 'no pump current flows in this record' });
    return { ramp, findings: rampFindings(ramp, {}), cannotTell };
  }
  const seen = withoutDoubtful(measureRuns(recording));
  // The whole of a small level may be the clamp's own.
  const { measured, isSmall, belowZeroA, why } = isZeroTold
    ? { measured: seen.map(asUneven) }
    : besideUntoldZero(seen, recording);
  if (why) cannotTell.push({ what: 'steady', because: why });
  const main = measured.reduce((a, b) => (lengthOf(b.run) > lengthOf(a.run) ? b : a));
  cannotTell.push(...main.cannotTell);
  // A start on a battery that is pulled down shows too small a peak.
  const isCranked = ({ onset = -1 }: Run) => cranks.some(({ from, to }) => onset >= from && onset < to);
  const powered = poweredAround(segments.runs, main.run, sampleRateHz);
  const [first, last] = [powered[0], powered[powered.length - 1]];
  const at = (sample: number) => startS + sample / sampleRateHz;
  const { steady, pattern } = main;
  const turning = toldTurning(main);
  const ramp: RampResult = {
    ...(isZeroTold && { zeroOffsetA: segments.quietLevel ?? 0 }),
    inverted: segments.inverted,
    ...(first.onset !== undefined && { onsetS: at(first.onset) }),
    ...(last.off !== undefined && { offS: at(last.off) }),
    ...(isCranked(first)
      ? measured.find(({ run, inrush }) => inrush.inrushPeakA !== undefined && !isCranked(run))?.inrush
      : measured[segments.runs.indexOf(first)].inrush),
    ...(steady && { steady }),
    ...(turning && turningNumbers(turning)),
    dropouts: [
      ...interruptions(powered, measured, at),
      ...measured.flatMap(breaksBeside),
      ...measured.flatMap(({ dropouts }) => dropouts),
    ].sort((a, b) => a.startS - b.startS),
    pattern,
    runs: measured.map((one) => ({
      fromS: at(one.run.from),
      toS: at(one.run.to),
      ...(one.run.onset !== undefined && { onsetS: at(one.run.onset) }),
      ...(one.run.off !== undefined && { offS: at(one.run.off) }),
      ...one.inrush,
      ...(one.steady && { steady: one.steady }),
      ...toldSpeed(one),
      pattern: one.pattern,
    })),
  };
  const map = turning?.map;
  const zeroAfterS = channel.zeroStated ? undefined : soonAfterRunS(sampleRateHz, segments);
  return {
    ramp,
    findings: rampFindings(ramp, {
      sampleRateHz,
      stallsS: measured.flatMap(({ stallsS }) => stallsS),
      lowsS: measured.flatMap(({ lowsS }) => lowsS),
      breaksS: measured.flatMap(({ breaksS }) => breaksS),
      spikes: main.spikes,
      ...switchedBy(main, at),
      ...(isSmall && { isSignUntold: true }),
      isZeroWithinTurns: segments.quiet === undefined,
      ...(zeroAfterS !== undefined && { zeroAfterS }),
      ...(belowZeroA !== undefined && { belowZeroA }),
      ...(map && { deadShare: deadShare(map) }),
      ...(!why && backwards(recording)),
      cranksS: cranks.map(({ from, to }) => [at(from), at(to)] as const),
      ...(turning?.revolution.contradictsGiven && { contradictedBars: options.bars }),
    }),
    cannotTell,
    ...(map && { turnA: map.turn, turns: map.turns }),
    counted: measured.flatMap(({ run, turning: of }) =>
      of ? [{ ...of.revolution, fromS: at(run.from), toS: at(run.to) }] : [],
    ),
  };
}

/** A record that passes no steady current tells how the rotor turns and what its bars are like, and no level at all. */
function analyzeCoupled(
  raw: Float32Array,
  sampleRateHz: number,
  startS: number,
  { bars, cranks = [] }: RampOptions,
): RampAnalysis {
  const { samples, inverted, runs: lively } = levelled(raw, sampleRateHz);
  const gaps = coupledGaps(raw, sampleRateHz, lively);
  // Hum before a start is no pump that runs.
  const runs = lively.slice(gaps.findLastIndex(({ kind }) => kind === 'start') + 1);
  const segments: Segments = { inverted: false, passesSteady: false, runs };
  // What rests on a floor is taken from there, or a driver's off time wouldn't show as none.
  const stepA = recorderStep(raw);
  const floor =
    runs.length > 0 &&
    findFloors(samples.subarray(runs[0].from, runs[0].to), sampleRateHz, stepA).find(({ sign }) => sign > 0);
  const recording: Recording = {
    samples,
    sampleRateHz,
    startS,
    zero: floor ? floor.level : 0,
    isZeroTold: true,
    segments,
    bars,
    stepA,
    cranks,
  };
  const seen = withoutDoubtful(measureRuns(recording)).map(withoutBreaks);
  const measured = floor ? seen : seen.map(withoutLevel);
  const cannotTell: CannotTell[] = [
    {
      what: 'steady',
      because:
        'the record doesn’t hold its level but comes back to nothing: the clamp or its input is AC-coupled and passes no steady current, so mean, ripple and first peak are lost. Set the input to DC, zero the clamp, and capture again',
    },
  ];
  if (measured.length === 0) {
    cannotTell.push({ what: 'rpm', because: 'humps never pass for long enough to be followed' });
    return { ramp: { inverted, dropouts: [], pattern: 'irregular', runs: [] }, findings: [], cannotTell };
  }
  const main = measured.reduce((a, b) => (lengthOf(b.run) > lengthOf(a.run) ? b : a));
  const { pattern, dropouts } = main;
  const turning = toldTurning(main);
  const at = (sample: number) => startS + sample / sampleRateHz;
  const ramp: RampResult = {
    inverted,
    ...(turning && turningNumbers(turning)),
    dropouts,
    pattern,
    runs: measured.map((one) => ({
      fromS: at(one.run.from),
      toS: at(one.run.to),
      ...toldSpeed(one),
      pattern: one.pattern,
    })),
  };
  const map = turning?.map;
  return {
    ramp,
    findings: rampFindings(ramp, {
      sampleRateHz,
      stallsS: gaps.filter(({ kind }) => kind === 'stall').map(({ from, to }) => [at(from), at(to)] as const),
      ...switchedBy(main, at),
    }),
    cannotTell: [...cannotTell, ...main.cannotTell],
    ...(map && { turnA: map.turn, turns: map.turns }),
  };
}

/** What a driver makes of a run, with a moment in the midst of it. */
function switchedBy({ run, chopping }: MeasuredRun, at: (sample: number) => number) {
  return chopping && { switched: { ...chopping, atS: at((run.from + run.to) / 2) } };
}

/** Humps so deep aren't even, whatever they were counted as: no sound pump's current goes up and down by as much. */
function asUneven(one: MeasuredRun): MeasuredRun {
  const isDeep = one.steady !== undefined && one.steady.ripplePercent > MOST_OF_A_SOUND_PUMP;
  return isDeep && one.pattern === 'even' ? { ...one, pattern: 'irregular' } : one;
}

/** What an input that forgets makes of a rotor that stood looks like a feed that breaks off. */
function withoutBreaks(one: MeasuredRun): MeasuredRun {
  const isBroken = one.pattern === 'random-dropouts' && one.dropouts.length === 0;
  return isBroken ? { ...one, pattern: one.turning ? 'even' : 'irregular' } : one;
}

function toldSpeed(one: MeasuredRun) {
  const turning = toldTurning(one);
  return turning && speedOfRun(turning);
}

/** Share of a first quarter of what flows back that is about its highest: noise and humps make the rest. */
const ABOUT_HIGHEST = 0.9;

/** What a pump that coasts drives back, where the record shows it. */
function backwards({ samples, sampleRateHz, startS, zero, segments: { coasting = [], inverted } }: Recording) {
  if (coasting.length === 0) return {};
  const [{ from, to }] = coasting;
  const first = samples.subarray(from, from + Math.ceil((to - from) / 4));
  const backA = quantile(
    first.map((value) => (inverted ? value - zero : zero - value)),
    ABOUT_HIGHEST,
  );
  return { coasting: { fromS: startS + from / sampleRateHz, toS: startS + to / sampleRateHz, backA } };
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

/** Where the feed broke off beside the steady part, whose own dropouts are listed one by one. */
function breaksBeside({ breaksS, steady }: MeasuredRun): Dropout[] {
  if (!steady) return [];
  return breaksS
    .filter(([startS, endS]) => endS < steady.fromS || startS > steady.toS)
    .map(([startS, endS]) => ({ startS, endS, depthA: steady.meanA, locked: false }));
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
