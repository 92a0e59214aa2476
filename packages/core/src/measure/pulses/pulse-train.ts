import type { SampleSource } from '../../capture/source.js';
import type { CannotTell } from '../../errors.js';
import { student95 } from '../../signal/student.js';
import { FEWEST_SAMPLES_A_LEVEL, findClock, switchedStretches, type Clock, type Span } from './clock.js';
import { findEdges } from './edges.js';
import { SwitchedLine } from './line.js';
import { stateLevels } from './state-levels.js';
import type { PulseMoment, PulseTrain } from './types.js';

/** A pulse train with what judging it further takes. */
export interface MeasuredLine {
  readonly train: PulseTrain;
  /** Absent when the line never leaves one level. */
  readonly line?: SwitchedLine;
  readonly clock?: Clock;
  readonly cannotTell: readonly CannotTell[];
}

/** TTL input levels (JEDEC JESD8C.01: 0.8 and 2.0 V, from memory): below and above no receiver is in doubt. */
const SURELY_LOW_V = 0.8;
const SURELY_HIGH_V = 2.0;
/** A time whose ends are each taken for the middle between two samples changes by one at most: √π / 2 of scatter, and room. */
const OF_SAMPLING = 0.9;
/** Between more places than this there is too little to be worth a word. */
const MOST_PLACES = 50;
/** Points of a trend: as many as a chart shows apart. */
const MOST_MOMENTS = 200;

/** Levels, duty, frequency and missing pulses of one switched line. @param what names it in what can't be told */
export function measurePulses(source: SampleSource, sampleRateHz: number, startS: number, what: string): MeasuredLine {
  const levels = stateLevels(source);
  if ('levelV' in levels) return stuckAt(levels.levelV, what);
  const edges = findEdges(source, levels);
  if (edges.at.length === 0) return stuckAt((levels.lowV + levels.highV) / 2, what);
  const line = new SwitchedLine(edges, source.length);
  const clock = findClock(line, sampleRateHz);
  if (!clock?.isRegular) {
    const because = clock
      ? 'its pulses keep no steady clock'
      : 'fewer than three whole pulses are on the record; take a longer one';
    const dutyPercent = line.dutyPercent(0, source.length);
    const { highV, lowV } = levels;
    const train = { dutyPercent, highV, lowV, frequencyHz: 0, cycles: 0, missing: 0, gaps: [] };
    return { train, line, cannotTell: [{ what: `frequency of ${what}`, because }] };
  }
  const train: PulseTrain = {
    ...{ highV: levels.highV, lowV: levels.lowV },
    ...rates(clock, edges.transition, sampleRateHz),
    ...switchedSpan(line, clock, sampleRateHz, startS),
    cycles: clock.cycles,
    ...(clock.extra.length > 0 && { extra: clock.extra.map((position) => startS + position / sampleRateHz) }),
    jitterS: clock.jitter / sampleRateHz,
    trend: trendOf(line, clock, sampleRateHz, startS),
  };
  return { train, line, clock, cannotTell: tooCoarse(clock, what) };
}

function stuckAt(levelV: number, what: string): MeasuredLine {
  const stuck = levelV <= SURELY_LOW_V ? 'low' : levelV >= SURELY_HIGH_V ? 'high' : 'between';
  const train: PulseTrain = {
    frequencyHz: 0,
    dutyPercent: stuck === 'high' ? 100 : 0,
    ...(stuck === 'low' ? { lowV: levelV } : { highV: levelV }),
    cycles: 0,
    missing: 0,
    gaps: [],
    stuck,
  };
  const because = `it stays at ${levelV.toFixed(2)} V, which is neither low nor high; check the probe and its ground`;
  return { train, cannotTell: stuck === 'between' ? [{ what: `state of ${what}`, because }] : [] };
}

/**
 * Frequency and usual duty with 95 % intervals. An edge that lies between two samples is taken for their middle, and is off by
 * half a sample at most. Over many pulses that evens out as far as their edges come to all places between two samples: what
 * lies between the places that they come to is added whole, a sample where the pulses keep step with the recorder. A line
 * that scatters by more than sampling makes it gets everywhere by itself.
 */
function rates(clock: Clock, transition: number, rate: number) {
  const { period, jitter, cycles, on, onDeviation, onScatter } = clock;
  const factor = student95(Math.max(1, cycles - 1));
  const apart = transition < 2 ? placesApart(clock) : 0;
  const untold = (scatter: number) => (scatter < OF_SAMPLING ? apart : 0);
  // Periods follow each other, so that only the first and the last edge count.
  const periodDoubt = (factor * Math.SQRT2 * jitter + untold(jitter)) / cycles;
  const duty = (100 * on) / period;
  const dutyDoubt = (100 * ((factor * onDeviation) / Math.sqrt(cycles) + untold(onScatter))) / period;
  return {
    frequencyHz: rate / period,
    frequencyInterval: [rate / (period + periodDoubt), rate / (period - periodDoubt)] as const,
    usualDutyPercent: duty,
    usualDutyInterval: [Math.max(0, duty - dutyDoubt), Math.min(100, duty + dutyDoubt)] as const,
    onTimeMs: (1000 * on) / rate,
  };
}

/**
 * Part of a sample between two places to which the beats of a clock come: a qth where q periods are a whole number of samples,
 * as near as the first and the last beat tell, each of which is known to half a sample, and its own jitter.
 */
function placesApart({ period, jitter, cycles }: Clock): number {
  for (let q = 1; q <= MOST_PLACES; q++) {
    if ((Math.abs(q * period - Math.round(q * period)) / q) * cycles <= 1 + jitter) return 1 / q;
  }
  return 0;
}

function tooCoarse({ period, on, passedOver }: Clock, what: string): CannotTell[] {
  if (passedOver > 0) {
    const because = 'its pulses get shorter than two samples, and the recorder passes over some; record faster';
    return [{ what: `missing pulses of ${what}`, because }];
  }
  if (Math.min(on, period - on) >= FEWEST_SAMPLES_A_LEVEL) return [];
  const part = on < period / 2 ? 'high' : 'low';
  const because =
    `its ${part} parts last less than two samples, and a faster train may look like this one; ` +
    'record at ten samples a pulse and more';
  return [{ what: `duty of ${what}`, because }];
}

/** Where a line is switched, and what it misses there: a period that the record cuts off would count its first part only. */
export function switchedSpan(line: SwitchedLine, clock: Clock, rate: number, startS: number) {
  const { span, gaps, rests } = clock;
  const atS = (position: number) => startS + position / rate;
  const switched = switchedStretches(clock, line.length)
    .map(({ from, to }): Span => ({ from: Math.max(from, span[0]), to: Math.min(to, span[1]) }))
    .filter(({ from, to }) => to > from);
  const highs = switched.map(({ from, to }) => line.highUntil(to) - line.highUntil(from));
  const lengths = switched.map(({ from, to }) => to - from);
  const between = rests.filter(({ from, to }) => from > 0 && to < line.length);
  const [first, last] = [rests.at(0), rests.at(-1)];
  return {
    dutyPercent: (100 * sumOf(highs)) / sumOf(lengths),
    missing: sumOf(gaps.map(({ missing }) => missing)),
    gaps: gaps.map(({ start, missing }) => ({ startS: atS(start), missing })),
    ...(first?.from === 0 && { fromS: atS(first.to) }),
    ...(last?.to === line.length && { untilS: atS(last.from) }),
    ...(between.length > 0 && { rests: between.map(({ from, to }) => ({ fromS: atS(from), untilS: atS(to) })) }),
  };
}

/** Duty and frequency over equal stretches of whole periods, where the line is switched. */
function trendOf(line: SwitchedLine, clock: Clock, rate: number, startS: number): PulseMoment[] {
  const stretches = switchedStretches(clock, line.length);
  const switched = sumOf(stretches.map(({ from, to }) => to - from));
  const moments = Math.max(1, Math.min(MOST_MOMENTS, clock.cycles));
  const length = Math.max(1, Math.floor(switched / clock.period / moments)) * clock.period;
  return stretches.flatMap((stretch) =>
    Array.from({ length: Math.floor((stretch.to - stretch.from) / length) }, (_, i) => {
      const [from, to] = [stretch.from + i * length, stretch.from + (i + 1) * length];
      return {
        atS: startS + (from + to) / 2 / rate,
        dutyPercent: line.dutyPercent(from, to),
        frequencyHz: (line.edgesBetween(from, to) / 2 / length) * rate,
      };
    }),
  );
}

const sumOf = (values: readonly number[]) => values.reduce((sum, value) => sum + value, 0);
