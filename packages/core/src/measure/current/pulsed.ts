import { linearRegression, mean } from 'simple-statistics';
import { meanOf, median, quantile, robustDeviation } from '../../signal/levels.js';
import { thin } from '../../signal/thin.js';
import type { SampleRange } from './runs.js';

/** A current switched on and off by a driver. */
export interface Chopping {
  readonly frequencyHz: number;
  readonly onShare: number;
  /** Whole cycles in which the pump no longer starts, as a range of the current. */
  readonly settled: SampleRange;
}

/** A current that comes and goes as steadily as its recorder can place, under noise that hides whose it is. */
export interface Unparted {
  readonly untoldHz: number;
}

/** Gone below the first share of the full draw, back above the second: between them lie a freewheeling current and its edges. */
const LOW_SHARE = 0.08;
/** Where a driver switches faster than any rotor, a slow clamp leaves so much of it; a hump falls by a fifth. */
const FAST_LOW_SHARE = 0.25;
const HIGH_SHARE = 0.6;
const MIDDLE_SHARE = 0.5;
/** Of fewer cycles chance makes humps stand alike (sqrt(2 / points) / n); where no rotor turns so slowly, the second are enough. */
const FEWEST_CYCLES = 8;
const FEWEST_SLOW_CYCLES = 5;
/** A driver's clock is steady; brushes are not. A fall is placed to a sample either way, so a period to two. */
const STEADY_PERIOD = 0.03;
const PLACED_SAMPLES = 2;
/** Of a clock's falls none strays from its place by more; a rotor's speed wanders by as much, and that adds up turn by turn. */
const CLOCKED = 0.001;
/** A fall is placed to a sample: 1 / sqrt(12) of one, root mean square. */
const PLACED = 0.29;
/** Where the clock decides alone its falls may stray by so many times as much; what is worse placed may be a steady rotor's. */
const PLACED_SHARE = 2;
/** Ignition's spikes move some of the falls. */
const MOST_FALLS = 0.9;
/** One dead bar of six is off for a sixth of a turn; a driver's off time that short can't be told from it. */
const LEAST_OFF_SHARE = 0.22;
const MOST_SAMPLES = 2_000_000;
/** Two opposite dead stretches of the fastest rotor: nothing of a turn comes back more often with so much dead. */
const FASTEST_ROTOR_HZ = 400;
/** A rotor that coasts through so much of its turn would stand before it came round this slowly (1 800 rpm). */
const SLOWEST_ROTOR_HZ = 30;
/** Points and part of a cycle's live stretch that are compared; its edges belong to the switching. */
const POINTS = 48;
const EDGE = 0.15;
/**
 * Share of the humps' power that comes back from cycle to cycle: of one source all that isn't noise, of two hardly any (n
 * cycles leave sqrt(2 / points) / n of it by chance), but while they keep step with each other for a while. The falls keep a
 * clock's time here, which a rotor does by chance only.
 */
const SAME_DESPITE_CLOCK = 0.8;
/** What strays by so many deviations from what most cycles have in its place is an ignition's spike. */
const SPIKE = 3;
const MOST_CYCLES = 400;
/** Differences between neighbours that tell the recorder's noise: spikes make a tenth of them at most. */
const MOST_QUIET = 16_384;
const MOST_QUIETLY = 0.9;
/** Of a normal distribution's mean square, what its lower nine tenths have of their own. */
const QUIETLY_LEAVES = 0.623;

interface Cycle {
  /** First live sample after a fall, and the next fall. */
  readonly rise: number;
  readonly fall: number;
}

/**
 * Tells a chopped current (battery side of a driver module) from a pump's own dead stretches. Both go between nothing and
 * full draw at a steady rate. But the rotor's dead stretches come from the rotor: the humps between them stand at the same
 * place in every cycle. A driver's clock knows nothing of the humps, so that they stand elsewhere each time.
 * @param leastDrawA what swings by less may be humps about a clamp's own zero, A
 * @param stepA of the recorder
 */
export function findChopping(
  current: Float32Array,
  sampleRateHz: number,
  leastDrawA: number,
  stepA: number,
): Chopping | Unparted | undefined {
  const part = lookedAt(current);
  const high = quantile(thin(part, 16_384), 0.95);
  if (!(high > leastDrawA)) return undefined;
  const within = (lowShare: number) =>
    choppingIn(current, sampleRateHz, findCycles(part, lowShare * high, high), stepA);
  const chopping = within(LOW_SHARE);
  if (chopping) return chopping;
  const fast = within(FAST_LOW_SHARE);
  return fast && 'frequencyHz' in fast && fast.frequencyHz > FASTEST_ROTOR_HZ ? fast : undefined;
}

const lookedAt = (current: Float32Array) => current.subarray(0, Math.min(current.length, MOST_SAMPLES));

/** How a current goes between nothing and full draw. */
interface Cycles {
  readonly falls: readonly number[];
  /** Where each fall passed the middle: there it is steepest, and noise moves it least. */
  readonly middles: readonly number[];
  readonly cycles: readonly Cycle[];
  /** Samples in which nothing flows. */
  readonly low: number;
  /** The recorder's own noise, where nothing flows, A². */
  readonly noisePower: number;
}

function findCycles(part: Float32Array, nothing: number, high: number): Cycles {
  const falls: number[] = [];
  const middles: number[] = [];
  const cycles: Cycle[] = [];
  let above = 0;
  let low = 0;
  const quietSquares: number[] = [];
  let rise = -1;
  // A record that begins in between or off shows no fall there.
  let on = part[0] > HIGH_SHARE * high;
  for (let i = 0; i < part.length; i++) {
    if (on && part[i] < nothing) {
      on = false;
      falls.push(i);
      middles.push(above + 1);
      if (rise >= 0) cycles.push({ rise, fall: i });
    } else if (!on && part[i] > HIGH_SHARE * high) {
      on = true;
      rise = i;
    }
    if (part[i] > MIDDLE_SHARE * high) above = i;
    if (!on) low++;
    if (!on && quietSquares.length < MOST_QUIET && part[i] < nothing && part[i - 1] < nothing) {
      quietSquares.push((part[i] - part[i - 1]) ** 2);
    }
  }
  return { falls, middles, cycles, low, noisePower: noiseOf(quietSquares) };
}

/** Half the mean square of differences between neighbours, without those that spikes made. */
function noiseOf(squares: number[]): number {
  const kept = squares.sort((a, b) => a - b).slice(0, Math.ceil(MOST_QUIETLY * squares.length));
  return kept.length > 0 ? mean(kept) / QUIETLY_LEAVES / 2 : 0;
}

function choppingIn(
  current: Float32Array,
  sampleRateHz: number,
  { falls, middles, cycles, low, noisePower }: Cycles,
  stepA: number,
): Chopping | Unparted | undefined {
  if (falls.length < FEWEST_SLOW_CYCLES) return undefined;
  const part = lookedAt(current);
  const periods = falls.slice(1).map((at, i) => at - falls[i]);
  const usual = median(periods);
  const stray = Math.max(PLACED_SAMPLES, STEADY_PERIOD * usual);
  if (robustDeviation(periods, usual) > stray) return undefined;
  // Of a cycle of few samples the median is a whole number, and off by a good part of it.
  const period = mean(periods.filter((one) => Math.abs(one - usual) <= stray));
  const offShare = low / part.length;
  const covers = falls.length * period > 0.8 * part.length;
  if (!covers || offShare < LEAST_OFF_SHARE) return undefined;
  const frequencyHz = sampleRateHz / period;
  if (falls.length < FEWEST_CYCLES && frequencyHz > SLOWEST_ROTOR_HZ) return undefined;
  const mayBeRotor = frequencyHz > SLOWEST_ROTOR_HZ && frequencyHz < FASTEST_ROTOR_HZ;
  const clock = clockOf(middles, period);
  const isClocked = clock.stray < CLOCKED * period + PLACED;
  // At a rotor's rate nothing but a clock is a driver's; and where humps come back with it, a rotor keeps its time by chance.
  if (mayBeRotor && !isClocked) return undefined;
  const among = (noise: number) => recurringShare(part, cycles.slice(0, MOST_CYCLES), noise, stepA);
  // What rests on one step shows no rounding (step over the square root of twelve), and what flows in between has it. Where rounding
  // would be all that is left, it isn't taken off: a rotor's humps would make it come back with them.
  const share = mayBeRotor ? (among(Math.max(noisePower, stepA ** 2 / 12)) ?? among(noisePower)) : 0;
  if (share !== undefined && share > SAME_DESPITE_CLOCK) return undefined;
  // Humps that drown in the recorder's noise say nothing; then the clock decides alone, where its samples place it so well.
  if (share === undefined && clock.stray > PLACED_SHARE * CLOCKED * period) return { untoldHz: frequencyHz };
  return {
    frequencyHz: isClocked ? sampleRateHz / clock.period : frequencyHz,
    onShare: 1 - offShare,
    settled: settledCycles(current, falls),
  };
}

/** A start is over where a cycle's mean is this near to what follows, or as near as cycles are to one another. */
const SETTLED = 0.012;
const AS_CYCLES_ARE = 3;

/**
 * A slow driver hides the end of a start, and a part of a cycle has another mean than a whole one.
 * @param falls of the current, the first samples of cycles
 */
function settledCycles(current: Float32Array, falls: readonly number[]): SampleRange {
  const means = falls.slice(1).map((to, i) => meanOf(current.subarray(falls[i], to)));
  const later = means.slice(means.length >> 1);
  const level = median(later);
  const within = Math.max(SETTLED * level, AS_CYCLES_ARE * robustDeviation(later, level));
  const isNear = (i: number) => Math.abs(means[i] - level) <= within;
  const first = means.findIndex((_, i) => isNear(i) && (i + 1 === means.length || isNear(i + 1)));
  // What wasn't looked at comes later still.
  return {
    from: falls[Math.max(0, first)],
    to: current.length > MOST_SAMPLES ? current.length : falls[falls.length - 1],
  };
}

/**
 * The even row of a clock that falls come nearest to (least squares): its period, and the root mean square distance of most
 * falls from it, samples; one that was missed is no stray.
 */
function clockOf(falls: readonly number[], period: number): { readonly period: number; readonly stray: number } {
  const placed: [number, number][] = [];
  for (const at of falls) {
    const last = placed.at(-1);
    const cycles = last ? Math.round((at - last[1]) / period) : 0;
    if (!last || cycles > 0) placed.push([(last?.[0] ?? 0) + cycles, at]);
  }
  const { m: slope, b: intercept } = linearRegression(placed);
  const squares = placed.map(([cycle, at]) => (at - intercept - slope * cycle) ** 2).sort((a, b) => a - b);
  const kept = squares.slice(0, Math.ceil(MOST_FALLS * squares.length));
  return {
    period: slope,
    stray: Math.sqrt(kept.reduce((sum, square) => sum + square, 0) / Math.max(1, kept.length - 2)),
  };
}

/** Of a sample between two of equal noise, wherever it lies, this share of their noise's power is left on average. */
const BETWEEN_SAMPLES = 2 / 3;
/** Humps with less than this share of the power among noise aren't seen. */
const DROWNED = 0.15;

/**
 * Share of what is left of the live stretches, without their smooth course and the recorder's noise, that is the same in every
 * cycle; undefined where nearly all of it is noise.
 */
function recurringShare(
  current: Float32Array,
  cycles: readonly Cycle[],
  noisePower: number,
  stepA: number,
): number | undefined {
  const long = cycles.filter(({ rise, fall }) => (fall - rise) * (1 - 2 * EDGE) >= 8);
  if (long.length < FEWEST_CYCLES / 2) return 0;
  const rows = long.map(({ rise, fall }) =>
    withoutCourse(
      Float64Array.from({ length: POINTS }, (_, p) => {
        const at = rise + (EDGE + ((1 - 2 * EDGE) * p) / (POINTS - 1)) * (fall - rise);
        const below = Math.floor(at);
        return current[below] + (at - below) * (current[below + 1] - current[below]);
      }),
    ),
  );
  const usual = Float64Array.from({ length: POINTS }, (_, p) => median(rows.map((row) => row[p])));
  // In coarse steps most rows are the same to the last digit; what rounding moves is no spike.
  const strays = rows.flatMap((row) => Array.from(row, (value, p) => value - usual[p]));
  const most = SPIKE * robustDeviation(strays, 0) + stepA;
  const sum = new Float64Array(POINTS);
  let total = 0;
  for (const row of rows) {
    row.forEach((value, p) => {
      const kept = Math.abs(value - usual[p]) <= most ? value : usual[p];
      sum[p] += kept;
      total += kept * kept;
    });
  }
  const n = long.length;
  const common = sum.reduce((power, value) => power + value * value, 0);
  const noise = n * (POINTS - COURSE.length) * BETWEEN_SAMPLES * noisePower;
  if (total - noise < DROWNED * total) return undefined;
  // Mean product of different cycles over the mean square of one: 1 for one source, 0 for two.
  return (common - total) / (n - 1) / (total - noise);
}

/** Legendre polynomials up to the third degree on the points: a start's rise and a slow sag are no humps. */
const COURSE = Array.from({ length: 4 }, (_, degree) => {
  const row = Float64Array.from({ length: POINTS }, (_unused, p) => {
    const x = (2 * p) / (POINTS - 1) - 1;
    return [1, x, 1.5 * x * x - 0.5, 2.5 * x ** 3 - 1.5 * x][degree];
  });
  const norm = Math.sqrt(row.reduce((power, value) => power + value * value, 0));
  return row.map((value) => value / norm);
});

function withoutCourse(row: Float64Array): Float64Array {
  const rest = row.slice();
  for (const shape of COURSE) {
    const share = rest.reduce((dot, value, p) => dot + value * shape[p], 0);
    for (let p = 0; p < POINTS; p++) rest[p] -= share * shape[p];
  }
  return rest;
}
