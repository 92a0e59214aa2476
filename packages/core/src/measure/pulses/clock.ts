import { meanOf, quantile } from '../../signal/levels.js';
import { firstAbove, type SwitchedLine } from './line.js';

/** Pulses that should have come and didn't. */
export interface Gap {
  /** Where the first of them should have begun, samples. */
  readonly start: number;
  readonly missing: number;
}

/** A part of the record, samples. A rest of a line goes from when its next pulse was due, or the record begins, to its next edge or the record's end. */
export interface Span {
  readonly from: number;
  readonly to: number;
}

/** The clock behind a train of pulses. Positions and times in samples. */
export interface Clock {
  readonly period: number;
  /** Scatter of single periods, rms. */
  readonly jitter: number;
  /** Periods that began and ended with a pulse. */
  readonly cycles: number;
  /** High time of those, mean and deviation; and its deviation from one pulse to the next, in which a single step hardly counts. */
  readonly on: number;
  readonly onDeviation: number;
  readonly onScatter: number;
  readonly gaps: readonly Gap[];
  /** Pulses missing where those before were so short that the recorder may have passed over them. */
  readonly passedOver: number;
  /** Where pulses began that the clock has no place for. */
  readonly extra: readonly number[];
  /** Whether the pulses keep a clock at all. */
  readonly isRegular: boolean;
  /** From the first beat to the last, and on through pulses that are missing before and after: whole periods. */
  readonly span: readonly [number, number];
  /** In order, none of them among the gaps. */
  readonly rests: readonly Span[];
  /** Those of the gaps that lie at the record's begin and end. */
  readonly lacksBefore?: Gap | undefined;
  readonly lacksAfter?: Gap | undefined;
}

/**
 * Intervals sorted, the period is looked for here: missing pulses only lengthen intervals, and more than a fifth of extra
 * pulses is no train any more.
 */
const PERIOD_QUANTILE = 0.2;
/** An edge this much of a period away from its place is none of the clock's. */
const OFF_BEAT = 0.25;
/** Share of edges off the beat from which nothing keeps a clock. */
const MOST_OFF_BEAT = 0.1;
/** The period may wander: each whole one moves it by this share of the difference. */
const FOLLOW = 0.1;
/** A level held for less than so many samples may not be caught. */
export const FEWEST_SAMPLES_A_LEVEL = 2;
/** A pulse that is due within this share of a period of the record's edge may still come, or have come. */
const AT_EDGE = 0.1;
/**
 * A line that rests for more periods than this at a record's edge isn't switched there: a key comes on, a prime is over. Whether it
 * should have been, another line tells.
 */
const RESTS_PERIODS = 5;
/** On a slow line these many do, if they last … */
const RESTS_SLOW_PERIODS = 2;
/** … for so long: no contact that bounces holds a line for a tenth of a second just as a record begins or ends, s. */
const RESTS_S = 0.1;
/** Amid a record it rests so long at least: a key that is turned off and on again takes a hand a second (common practice), s. */
const RESTS_BETWEEN_S = 1;
/** Which level the line rests at is looked up where the missing pulse's beat was due, within this share of a period. */
const OFF_REST = 0.02;

/** Finds the clock of a switched line; undefined with fewer than two whole periods. */
export function findClock(line: SwitchedLine, sampleRateHz: number): Clock | undefined {
  const { rises, falls } = line;
  if (rises.length < 3 || falls.length < 3) return undefined;
  // A driver keeps one of its edges to the clock and moves the other with the duty.
  const beats = scatterOf(rises) <= scatterOf(falls) ? rises : falls;
  const usual = quantile(intervalsOf(beats), PERIOD_QUANTILE);
  const between: Gap[] = [];
  const extra: number[] = [];
  const whole = new Sums();
  const on = new Sums();
  let period = usual;
  let offBeat = 0;
  let passedOver = 0;
  let shortest = Infinity;
  let base = beats[0];
  const before = missingFrom(0, Math.min(rises[0], falls[0]), period);
  for (let i = 1; i < beats.length; i++) {
    const passed = (beats[i] - base) / period;
    const periods = Math.round(passed);
    if (periods === 0) {
      extra.push(beats[i]);
      continue;
    }
    const isOff = periods < 4 && Math.abs(passed - periods) > OFF_BEAT;
    if (isOff) offBeat++;
    if (periods === 1 && !isOff) {
      const took = beats[i] - base;
      whole.add(took);
      const high = line.highUntil(beats[i]) - line.highUntil(base);
      if (line.edgesBetween(base, beats[i]) === 2) on.add(high);
      shortest = Math.min(high, took - high);
      period += FOLLOW * (took - period);
    } else if (periods > 1 && shortest < FEWEST_SAMPLES_A_LEVEL) passedOver += periods - 1;
    else if (periods > 1) between.push({ start: leadingEdge(line, base, period), missing: periods - 1 });
    base = beats[i];
  }
  const after = missingAfter(line, base, period);
  const lacking = whatLacks(line, { before, between, after }, { period, sampleRateHz });
  const { lacksBefore, lacksAfter } = lacking;
  if (whole.count < 2) return undefined;
  return {
    period: whole.mean,
    jitter: whole.deviation,
    cycles: whole.count,
    on: on.mean,
    onDeviation: on.deviation,
    onScatter: on.scatter,
    ...lacking,
    passedOver,
    extra,
    span: [beats[0] - (lacksBefore?.missing ?? 0) * period, base + (lacksAfter?.missing ?? 0) * period],
    isRegular: offBeat + extra.length <= MOST_OFF_BEAT * beats.length,
  };
}

/** Parts what is missing from where the line isn't switched. */
function whatLacks(
  line: SwitchedLine,
  { before, between, after }: { before: Gap | undefined; between: readonly Gap[]; after: Gap | undefined },
  { period, sampleRateHz }: { period: number; sampleRateHz: number },
): Pick<Clock, 'gaps' | 'rests' | 'lacksBefore' | 'lacksAfter'> {
  const lasts = ({ missing }: Gap, s: number) => missing * period >= s * sampleRateHz;
  const isRest = (gap: Gap) => gap.missing > RESTS_PERIODS && lasts(gap, RESTS_BETWEEN_S);
  const isRestAtEdge = (gap: Gap) =>
    gap.missing > RESTS_PERIODS || (gap.missing > RESTS_SLOW_PERIODS && lasts(gap, RESTS_S));
  const lacksBefore = before && !isRestAtEdge(before) ? before : undefined;
  const lacksAfter = after && !isRestAtEdge(after) ? after : undefined;
  return {
    ...{ lacksBefore, lacksAfter },
    gaps: [lacksBefore, ...between.filter((gap) => !isRest(gap)), lacksAfter].filter((gap) => gap !== undefined),
    rests: [
      ...(before && !lacksBefore ? [{ from: 0, to: line.nextEdge(0) }] : []),
      ...between.filter(isRest).map(({ start }) => ({ from: start, to: line.nextEdge(start) })),
      ...(after && !lacksAfter ? [{ from: after.start, to: line.length }] : []),
    ],
  };
}

function intervalsOf(edges: Float64Array): Float64Array {
  return Float64Array.from({ length: edges.length - 1 }, (_, i) => edges[i + 1] - edges[i]);
}

/**
 * How far edges are from an even beat, as a share of a period, rms about the straight line through them by least squares. A
 * duty that changes moves all edges after it, however little that is between two of them; missing pulses move none.
 */
function scatterOf(edges: Float64Array): number {
  const intervals = intervalsOf(edges);
  const period = quantile(intervals, PERIOD_QUANTILE);
  const beats = new Float64Array(edges.length);
  intervals.forEach((interval, i) => (beats[i + 1] = beats[i] + Math.round(interval / period)));
  const [beat, edge] = [meanOf(beats), meanOf(edges)];
  let [along, squares] = [0, 0];
  beats.forEach((at, i) => {
    along += (at - beat) * (edges[i] - edge);
    squares += (at - beat) ** 2;
  });
  const slope = along / squares;
  const away = beats.reduce((sum, at, i) => sum + (edges[i] - edge - slope * (at - beat)) ** 2, 0);
  return Math.sqrt(away / edges.length) / period;
}

/**
 * Where the first missing pulse after a beat should have begun: a period after the one before it did. On a line that rests
 * high the pulses are the low parts.
 */
function leadingEdge(line: SwitchedLine, beat: number, period: number): number {
  const due = beat + period;
  const restsHigh = line.dutyPercent(due - OFF_REST * period, due + OFF_REST * period) > 50;
  const edges = restsHigh ? line.falls : line.rises;
  const next = firstAbove(edges, beat);
  return next > 0 ? edges[next - 1] + period : due;
}

/** Pulses that are missing at the end: the line rests although the next should have begun. */
function missingAfter(line: SwitchedLine, beat: number, period: number): Gap | undefined {
  if (beat + (1 + AT_EDGE) * period > line.length) return undefined;
  return missingUntil(line.length, leadingEdge(line, beat, period), period);
}

/** Pulses that should have come until a position, the first of them at `start`. */
export function missingUntil(position: number, start: number, period: number): Gap | undefined {
  const missing = Math.floor((position - start) / period + 1 - AT_EDGE);
  return missing > 0 ? { start, missing } : undefined;
}

/** Pulses that should have come from a position on, before the first edge. */
export function missingFrom(position: number, lead: number, period: number): Gap | undefined {
  const missing = Math.floor((lead - position) / period - AT_EDGE);
  return missing > 0 ? { start: lead - missing * period, missing } : undefined;
}

/** Where a line is switched: all between its rests. */
export function switchedStretches({ rests }: Pick<Clock, 'rests'>, length: number): Span[] {
  const begins = [0, ...rests.map(({ to }) => to)];
  const ends = [...rests.map(({ from }) => from), length];
  return begins.map((from, i) => ({ from, to: ends[i] })).filter(({ from, to }) => to > from);
}

/** Count, mean and deviation of values that come one by one (Welford's way, which loses no digits), and their scatter. */
class Sums {
  count = 0;
  mean = 0;
  private squares = 0;
  private last = NaN;
  private steps = 0;

  add(value: number): void {
    if (this.count > 0) this.steps += Math.abs(value - this.last);
    this.last = value;
    const away = value - this.mean;
    this.mean += away / ++this.count;
    this.squares += away * (value - this.mean);
  }

  get deviation(): number {
    return this.count > 1 ? Math.sqrt(this.squares / (this.count - 1)) : 0;
  }

  /** From one to the next: normal values differ by 2/√π of their deviation on average; a single step among many adds little. */
  get scatter(): number {
    return this.count > 1 ? ((Math.sqrt(Math.PI) / 2) * this.steps) / (this.count - 1) : 0;
  }
}
