import type { SampleSource } from '../../capture/source.js';
import type { CannotTell } from '../../errors.js';
import { student95 } from '../../signal/student.js';
import { FEWEST_SAMPLES_A_LEVEL, findClock, type Clock } from './clock.js';
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
/** An edge anywhere between two samples scatters by 1/√12 of a sample at each end of a period; far less is no chance. */
const STEP_SCATTER = 0.2;
/** Points of a trend: as many as a chart shows apart. */
const MOST_MOMENTS = 200;

/** Levels, duty, frequency and missing pulses of one switched line. @param what names it in what can't be told */
export function measurePulses(source: SampleSource, sampleRateHz: number, startS: number, what: string): MeasuredLine {
  const levels = stateLevels(source);
  if ('levelV' in levels) return stuckAt(levels.levelV, what);
  const edges = findEdges(source, levels);
  if (edges.at.length === 0) return stuckAt((levels.lowV + levels.highV) / 2, what);
  const line = new SwitchedLine(edges, source.length);
  const clock = findClock(line);
  // A period that the record cuts off would count its first part only.
  const base = {
    dutyPercent: line.dutyPercent(...(clock?.isRegular ? clock.span : ([0, source.length] as const))),
    highV: levels.highV,
    lowV: levels.lowV,
  };
  if (!clock?.isRegular) {
    const because = clock
      ? 'its pulses keep no steady clock'
      : 'fewer than three whole pulses are on the record; take a longer one';
    const train = { ...base, frequencyHz: 0, cycles: 0, missing: 0, gaps: [] };
    return { train, line, cannotTell: [{ what: `frequency of ${what}`, because }] };
  }
  const atS = (position: number) => startS + position / sampleRateHz;
  const train: PulseTrain = {
    ...base,
    ...rates(clock, edges.transition, sampleRateHz),
    cycles: clock.cycles,
    missing: clock.gaps.reduce((sum, { missing }) => sum + missing, 0),
    gaps: clock.gaps.map(({ start, missing }) => ({ startS: atS(start), missing })),
    ...(clock.extra.length > 0 && { extra: clock.extra.map(atS) }),
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
 * Frequency and usual duty with 95 % intervals. An edge is known to half a sample where the line crosses between two of
 * them. Over many pulses that evens out, unless the pulses keep step with the recorder: then every edge is off by the same,
 * which shows in periods, or on-times, that never differ, and the half sample is added whole.
 */
function rates({ period, jitter, cycles, on, onDeviation }: Clock, transition: number, rate: number) {
  const factor = student95(Math.max(1, cycles - 1));
  const isSharp = transition < 2;
  const keepsStep = (deviation: number) => (isSharp && deviation < STEP_SCATTER ? 1 : 0);
  // Periods follow each other, so that only the first and the last edge count.
  const periodDoubt = (factor * Math.SQRT2 * jitter + keepsStep(jitter)) / cycles;
  const duty = (100 * on) / period;
  const dutyDoubt = (100 * ((factor * onDeviation) / Math.sqrt(cycles) + keepsStep(onDeviation))) / period;
  return {
    frequencyHz: rate / period,
    frequencyInterval: [rate / (period + periodDoubt), rate / (period - periodDoubt)] as const,
    usualDutyPercent: duty,
    usualDutyInterval: [Math.max(0, duty - dutyDoubt), Math.min(100, duty + dutyDoubt)] as const,
    onTimeMs: (1000 * on) / rate,
  };
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

/** Duty and frequency over equal stretches of whole periods. */
function trendOf(line: SwitchedLine, { period, cycles }: Clock, rate: number, startS: number): PulseMoment[] {
  const moments = Math.max(1, Math.min(MOST_MOMENTS, cycles));
  const length = Math.max(1, Math.floor(line.length / period / moments)) * period;
  return Array.from({ length: Math.floor(line.length / length) }, (_, i) => {
    const [from, to] = [i * length, (i + 1) * length];
    return {
      atS: startS + (from + to) / 2 / rate,
      dutyPercent: line.dutyPercent(from, to),
      frequencyHz: (line.edgesBetween(from, to) / 2 / length) * rate,
    };
  });
}
