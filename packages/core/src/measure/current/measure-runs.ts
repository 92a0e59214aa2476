import type { CannotTell } from '../../errors.js';
import { meanOf } from '../../signal/levels.js';
import { mainsSwing } from '../../signal/mains.js';
import { rpmFromPeriod } from '../../units/units.js';
import { isClipped } from './clipping.js';
import { findDropouts, type Departures, type Dropout } from './dropouts.js';
import { deadShare, namePattern } from './patterns.js';
import { inrush, leastOf, startOf } from './inrush.js';
import { jointly, withCounts } from './joint-counts.js';
import { findChopping, type Chopping } from './pulsed.js';
import { quietNoise } from './quiet-noise.js';
import type { Counted } from './revolution.js';
import type { Recorded } from './plain-pieces.js';
import { ordinaryExtremes } from './ripple.js';
import { MOST_OFFSET_A } from './explanation.js';
import type { Run, SampleRange, Segments } from './runs.js';
import { findDisturbances, turningPart, type Disturbances } from './disturbances.js';
import { findSteady } from './steady.js';
import { measureTurning, type Turning } from './turning.js';
import type { Pattern, RampResult, Steady } from './types.js';
import { makeWorkingSignal, type WorkingSignal } from './working-signal.js';

/** Two turns of a usual pump. */
const FEWEST_STEADY_S = 0.02;

/** A record with what was found out about the whole of it. */
export interface Recording {
  readonly samples: Float32Array;
  readonly sampleRateHz: number;
  readonly startS: number;
  readonly zero: number;
  /** Stated, seen, or made up for a record that passes no steady current: levels are what they are taken for. */
  readonly isZeroTold: boolean;
  readonly segments: Segments;
  readonly bars: number | undefined;
  /** What other runs of the same motor say of the turn. */
  readonly otherRuns?: readonly Counted[] | undefined;
  /** The recorder's step, A. */
  readonly stepA: number;
  /** Where the starter turned the engine. */
  readonly cranks: readonly SampleRange[];
}

/** A time in which far less flowed than usual, s, and that share of it. */
export interface LowTime {
  readonly fromS: number;
  readonly toS: number;
  readonly share: number;
}

export interface MeasuredRun {
  readonly run: Run;
  readonly inrush: Pick<RampResult, 'inrushPeakA' | 'inrushPeakS'>;
  /** Begin and end of each time that the rotor came to stand, s. */
  readonly stallsS: readonly (readonly [number, number])[];
  readonly lowsS: readonly LowTime[];
  /** Begin and end of each time that the feed broke off within the run, s. */
  readonly breaksS: readonly (readonly [number, number])[];
  readonly steady?: Steady;
  readonly turning?: Turning;
  /** A line was followed, but it is likelier of something else than the rotor. */
  readonly speedUntold?: true;
  readonly dropouts: readonly Dropout[];
  /** Pick-up: spikes of either direction. */
  readonly spikes: number;
  readonly pattern: Pattern;
  /** A driver switches the current. */
  readonly chopping?: Chopping;
  readonly cannotTell: readonly CannotTell[];
}

/** All runs are the same motor's: the humps a turn that explain them all are taken for those that leave it open. */
export function measureRuns(recording: Recording): MeasuredRun[] {
  const { segments, bars, otherRuns = [] } = recording;
  const measured = segments.runs.map((run) => measureRun(recording, run));
  const said = [...measured.flatMap((one) => one.turning?.revolution ?? []), ...otherRuns];
  if (said.length < 2 || bars !== undefined) return measured;
  const counts = jointly(said);
  const [{ perRevolution }] = counts;
  return measured.map((one) => {
    const of = one.turning?.revolution;
    if (!of || of.basis === 'measured' || of.perRevolution === perRevolution) return one;
    const again = measureRun(recording, one.run, perRevolution);
    if (!again.turning) return again;
    return { ...again, turning: { ...again.turning, revolution: withCounts(again.turning.revolution, counts) } };
  });
}

/** How long a turn lasts in which the current is gone for a while; undefined of any other. */
function deadTurnS(turning: Turning | undefined): number | undefined {
  if (!turning?.map || deadShare(turning.map) === 0) return undefined;
  return turning.revolution.linePerRevolution / turning.line.hz;
}

/** A small level whose zero nobody told may be the clamp's own: as much more may flow as a clamp can be off by. */
function highestDraw(levelA: number, isZeroTold: boolean): number {
  return isZeroTold || levelA >= MOST_OFFSET_A ? levelA : levelA + MOST_OFFSET_A;
}

/** @param likelyHumps humps a turn that the whole record speaks for */
function measureRun(recording: Recording, run: Run, likelyHumps?: number): MeasuredRun {
  const { samples, sampleRateHz, startS, zero, isZeroTold, segments, bars, stepA } = recording;
  const cannotTell: CannotTell[] = [];
  const at = (sample: number) => startS + sample / sampleRateHz;
  const peak = inrush(samples, sampleRateHz, run, zero, segments.inverted, at);
  const isCutOff =
    peak.inrushPeakA !== undefined &&
    run.onset !== undefined &&
    isClipped(samples, startOf(run, sampleRateHz), segments.inverted, sampleRateHz);
  if (isCutOff) {
    cannotTell.push({
      what: 'inrushPeakA',
      because: `the record is cut off flat at its highest value: the clamp or the recorder ran out of range, so the first peak is higher than the ${peak.inrushPeakA.toFixed(1)} A that it shows; use a larger range`,
    });
  }
  const shown = isCutOff ? {} : peak;
  const disturbances = findDisturbances(samples, sampleRateHz, run, zero, segments.inverted);
  const meetsCrank = (range: SampleRange) =>
    recording.cranks.some(({ from, to }) => from < range.to && to > range.from);
  const timesOf = ({ stalls, breaks, lows }: Disturbances) => ({
    ...{ run, inrush: shown },
    stallsS: stalls.map(({ from, to }) => [at(from), at(to)] as const),
    breaksS: breaks.map(({ from, to }) => [at(from), at(to)] as const),
    lowsS: lows
      .filter((low) => !meetsCrank(low))
      .map(({ from, to, share }) => ({ fromS: at(from), toS: at(to), share })),
  });
  const turns = calmPart(recording, run, disturbances);
  const settled = findSteady(samples, sampleRateHz, turns, zero, segments.inverted);
  if (!settled || settled.to - settled.from < FEWEST_STEADY_S * sampleRateHz) {
    cannotTell.push({
      what: 'steady',
      because: 'the current never settles within this record; capture at least half a second after key-on',
    });
    return { ...timesOf(disturbances), dropouts: [], spikes: 0, pattern: 'irregular', cannotTell };
  }
  const within = (range: SampleRange) =>
    makeWorkingSignal(samples, sampleRateHz, range, zero, segments.inverted, stepA);
  const whole = within(settled);
  const comesAndGoes = findChopping(whole.current, whole.sampleRateHz, isZeroTold ? 0 : MOST_OFFSET_A, stepA);
  const isUnparted = comesAndGoes !== undefined && 'untoldHz' in comesAndGoes;
  const chopping = isUnparted ? undefined : comesAndGoes;
  const steadyRange = chopping ? partOf(settled, chopping.settled, whole.factor) : settled;
  const signal = chopping ? within(steadyRange) : whole;
  const quiet = quietNoise(samples, segments);
  const noise = quiet?.(signal.factor);
  const turning = comesAndGoes
    ? undefined
    : measureTurning(
        signal,
        { bars, likelyHumps },
        noise,
        turns.onset !== undefined,
        highestDraw(signal.level, isZeroTold),
      );
  const found = turning && 'untold' in turning ? undefined : turning;
  // Of what comes and goes by itself whole cycles tell whether anything breaks off beside that.
  const cycleS = isUnparted ? 1 / comesAndGoes.untoldHz : chopping ? 1 / chopping.frequencyHz : deadTurnS(found);
  const times = timesOf(
    cycleS === undefined ? disturbances : findDisturbances(samples, sampleRateHz, run, zero, segments.inverted, cycleS),
  );
  if (chopping) {
    cannotTell.push({
      what: 'rpm',
      because: `the current is switched on and off ${Math.round(chopping.frequencyHz)} times a second by a driver; clamp the pump side of the module to see the humps`,
    });
  } else if (isUnparted) {
    cannotTell.push({
      what: 'rpm',
      because: `the current comes and goes ${Math.round(comesAndGoes.untoldHz)} times a second, and in this noise, at ${sampleRateHz} samples a second, nothing tells a driver’s clock from dead bars; use a faster time base and a smaller clamp range`,
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
    hasQuiet: quiet !== undefined,
    noiseA: quiet ?? ((factor) => (found?.noiseA ?? 0) * Math.sqrt(signal.factor / factor)),
  };
  const steady = steadyNumbers(signal, recorded, at, found);
  const { dropouts, certain, spikes } = comesAndGoes
    ? { dropouts: [], certain: [], spikes: 0 }
    : listDropouts(signal, noise, steady, found, at(steadyRange.from));
  const told = found && amongGaps(found, dropouts, steady);
  if (told && told.revolution.basis !== 'measured') {
    cannotTell.push({
      what: 'humps.perRevolution',
      because:
        told.revolution.basis === 'given'
          ? 'nothing shows for sure where a turn ends; the speed rests on the bar count given'
          : `nothing shows for sure where a turn ends; the speed rests on an assumed ${told.revolution.perRevolution} humps a turn, so give the bar count if you know it`,
    });
  }
  const start = peak.inrushPeakA !== undefined && {
    peakA: peak.inrushPeakA,
    leastA: () => leastOf(samples, sampleRateHz, { from: run.from, to: steadyRange.to }, zero, segments.inverted),
  };
  const seen = { steady, dropouts: certain, turning: told, breaks: times.breaksS.length, ...(start && { start }) };
  const pattern = chopping ? 'pulsed' : isUnparted ? 'irregular' : namePattern(seen);
  const stands = pattern === 'locked-rotor';
  return {
    ...times,
    steady,
    ...(told && !stands && { turning: told }),
    dropouts,
    spikes,
    pattern,
    ...(chopping && { chopping }),
    // No humps of a rotor that stands is nothing to wonder at.
    cannotTell: stands ? cannotTell.filter(({ what }) => !OF_HUMPS.has(what)) : cannotTell,
  };
}

/** Where a part of its working signal lies in a range of the record. */
const partOf = ({ from }: SampleRange, part: SampleRange, factor: number): SampleRange => ({
  from: from + part.from * factor,
  to: from + part.to * factor,
});

/** What is told of humps. */
const OF_HUMPS: ReadonlySet<string> = new Set(['rpm', 'humps.perRevolution']);

/** Gaps at random, each its own share of a turn, make turns differ: so many a turn, and few turns to even them out. */
const GAPS_A_TURN = 0.3;
const MANY_GAPS_A_TURN = 1;
const TURNS_THAT_EVEN = 120;
/** What is then left of a turn's confidence at most. */
const HARDLY_TOLD = 0.95;

/** A turn found among gaps that come at random is likely, not measured: what comes back by chance looks like a turn too. */
function amongGaps(turning: Turning, dropouts: readonly Dropout[], { fromS, toS }: Steady): Turning {
  const { revolution, line } = turning;
  const turns = ((toS - fromS) * line.hz) / revolution.linePerRevolution;
  const gaps = dropouts.filter(({ locked }) => !locked).length / turns;
  const drowned = gaps > MANY_GAPS_A_TURN || (gaps > GAPS_A_TURN && turns < TURNS_THAT_EVEN);
  if (revolution.basis !== 'measured' || !drowned) return turning;
  const confidence = Math.min(revolution.confidence, HARDLY_TOLD);
  return { ...turning, revolution: { ...revolution, basis: 'assumed', confidence } };
}

/** Shorter than this a part beside what disturbed it says less than the whole, s. */
const FEWEST_CALM_S = 0.2;

/** Where the rotor turned as it does, and beside an engine that was cranked: as far as that leaves enough of the run. */
function calmPart(
  { sampleRateHz, cranks }: Recording,
  run: Run,
  { stalls, restarts, lows, breaks }: Disturbances,
): Run {
  const within = cranks.filter(({ from, to }) => from < run.to && to > run.from);
  const turning = [...stalls, ...restarts];
  const beside = [
    [...turning, ...breaks, ...lows, ...within],
    [...turning, ...within],
  ].map((disturbing) => turningPart(run, disturbing, sampleRateHz));
  const isEnough = ({ from, to }: Run) => to - from >= FEWEST_CALM_S * sampleRateHz;
  return beside.find(isEnough) ?? turningPart(run, turning, sampleRateHz);
}

function steadyNumbers(
  signal: WorkingSignal,
  recorded: Recorded,
  at: (sample: number) => number,
  turning: Turning | undefined,
): Steady {
  const meanA = meanOf(signal.current);
  const { minA, maxA } = ordinaryExtremes(recorded, signal, turning);
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

/** Enough of a run to know what it picks up. */
const MAINS_SEEN_S = 1.6;

function listDropouts(
  signal: WorkingSignal,
  noiseA: number | undefined,
  steady: Steady,
  turning: Turning | undefined,
  fromS: number,
): Departures {
  const map = turning?.map;
  const { current, sampleRateHz } = signal;
  const few = Math.min(current.length, Math.round(MAINS_SEEN_S * sampleRateHz));
  const from = Math.floor((current.length - few) / 2);
  // Turn by turn the mains are gone from the ordinary troughs; from the current they are not.
  const mainsA = mainsSwing(current.subarray(from, from + few), sampleRateHz);
  const { dropouts, certain, spikes } = findDropouts({
    signal,
    meanA: steady.meanA,
    troughA: (map?.troughA ?? steady.minA) - mainsA,
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
  const onRecord = (dropout: Dropout) => ({
    ...dropout,
    startS: fromS + dropout.startS,
    endS: fromS + dropout.endS,
  });
  return { dropouts: dropouts.map(onRecord), certain: certain.map(onRecord), spikes };
}

/** How fast a run turns, and what that rests on. */
export function speedOfRun(turning: Turning) {
  const { rpm, humps } = turningNumbers(turning);
  return { rpm, basis: humps.basis };
}

/** Speed and bars, as far as the revolution is known. */
export function turningNumbers({ revolution, line, map }: Turning) {
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
