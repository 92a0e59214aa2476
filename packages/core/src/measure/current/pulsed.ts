import { linearRegression } from 'simple-statistics';
import { quantile, median, robustDeviation } from '../../signal/levels.js';
import { thin } from '../../signal/thin.js';

/** A current switched on and off by a driver. */
export interface Chopping {
  readonly frequencyHz: number;
  readonly onShare: number;
}

/** Gone below the first share of the full draw, back above the second: between them lie a freewheeling current and its edges. */
const LOW_SHARE = 0.08;
const HIGH_SHARE = 0.6;
const MIDDLE_SHARE = 0.5;
/** Fewer cycles show no rate; where no rotor turns so slowly, the second are enough. */
const FEWEST_CYCLES = 12;
const FEWEST_SLOW_CYCLES = 5;
/** A driver's clock is steady; brushes are not. A fall is placed to a sample either way, so a period to two. */
const STEADY_PERIOD = 0.03;
const PLACED_SAMPLES = 2;
/** Of a clock's falls none strays from its place by more; a rotor's speed wanders by as much, and that adds up turn by turn. */
const CLOCKED = 0.001;
/** A fall is placed to a sample: 1 / sqrt(12) of one, root mean square. */
const PLACED = 0.29;
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
 * cycles leave sqrt(2 / points) / n of it by chance).
 */
const SAME_SOURCE = 0.1;
/** The same where the falls keep a clock's time, which a rotor does by chance only. */
const SAME_DESPITE_CLOCK = 0.8;
/** Ignition's spikes are cut at so many deviations of the rest. */
const SPIKE = 3;
const MOST_CYCLES = 400;

interface Cycle {
  /** First live sample after a fall, and the next fall. */
  readonly rise: number;
  readonly fall: number;
}

/**
 * Tells a chopped current (battery side of a driver module) from a pump's own dead stretches. Both go between nothing and
 * full draw at a steady rate. But the rotor's dead stretches come from the rotor: the humps between them stand at the same
 * place in every cycle. A driver's clock knows nothing of the humps, so that they stand elsewhere each time.
 */
export function findChopping(current: Float32Array, sampleRateHz: number): Chopping | undefined {
  const part = current.subarray(0, Math.min(current.length, MOST_SAMPLES));
  const high = quantile(thin(part, 16_384), 0.95);
  if (!(high > 0)) return undefined;
  const falls: number[] = [];
  /** Where each fall passed the middle: there it is steepest, and noise moves it least. */
  const middles: number[] = [];
  let above = 0;
  const cycles: Cycle[] = [];
  let low = 0;
  /** Squares of the differences between neighbours of which nothing flows in either: the recorder's noise alone. */
  let quietSquares = 0;
  let quiet = 0;
  let rise = -1;
  // A record that begins in between or off shows no fall there.
  let on = part[0] > HIGH_SHARE * high;
  for (let i = 0; i < part.length; i++) {
    if (on && part[i] < LOW_SHARE * high) {
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
    if (!on && part[i] < LOW_SHARE * high && part[i - 1] < LOW_SHARE * high) {
      quietSquares += (part[i] - part[i - 1]) ** 2;
      quiet++;
    }
  }
  if (falls.length < FEWEST_SLOW_CYCLES) return undefined;
  const periods = falls.slice(1).map((at, i) => at - falls[i]);
  const period = median(periods);
  const offShare = low / part.length;
  const steady = robustDeviation(periods, period) <= Math.max(PLACED_SAMPLES, STEADY_PERIOD * period);
  const covers = falls.length * period > 0.8 * part.length;
  if (!steady || !covers || offShare < LEAST_OFF_SHARE) return undefined;
  const frequencyHz = sampleRateHz / period;
  if (falls.length < FEWEST_CYCLES && frequencyHz > SLOWEST_ROTOR_HZ) return undefined;
  const mayBeRotor = frequencyHz > SLOWEST_ROTOR_HZ && frequencyHz < FASTEST_ROTOR_HZ;
  const isClocked = strayFromClock(middles, period) < CLOCKED * period + PLACED;
  const noisePower = quiet > 0 ? quietSquares / quiet / 2 : 0;
  const share = mayBeRotor ? recurringShare(part, cycles.slice(0, MOST_CYCLES), noisePower) : 0;
  // Humps that drown in the recorder's noise say nothing; then the clock decides alone.
  const isRotor = share === undefined ? !isClocked : share > (isClocked ? SAME_DESPITE_CLOCK : SAME_SOURCE);
  return isRotor ? undefined : { frequencyHz, onShare: 1 - offShare };
}

/** Root mean square distance of most falls from a clock's even row, samples (least squares); one that was missed is no stray. */
function strayFromClock(falls: readonly number[], period: number): number {
  const placed: [number, number][] = [];
  for (const at of falls) {
    const last = placed.at(-1);
    const cycles = last ? Math.round((at - last[1]) / period) : 0;
    if (!last || cycles > 0) placed.push([(last?.[0] ?? 0) + cycles, at]);
  }
  const { m: slope, b: intercept } = linearRegression(placed);
  const squares = placed.map(([cycle, at]) => (at - intercept - slope * cycle) ** 2).sort((a, b) => a - b);
  const kept = squares.slice(0, Math.ceil(MOST_FALLS * squares.length));
  return Math.sqrt(kept.reduce((sum, square) => sum + square, 0) / Math.max(1, kept.length - 2));
}

/** Of a sample between two of equal noise, wherever it lies, this share of their noise's power is left on average. */
const BETWEEN_SAMPLES = 2 / 3;
/** Humps with less than this share of the power among noise aren't seen. */
const DROWNED = 0.15;

/**
 * Share of what is left of the live stretches, without their smooth course and the recorder's noise, that is the same in every
 * cycle; undefined where nearly all of it is noise.
 */
function recurringShare(current: Float32Array, cycles: readonly Cycle[], noisePower: number): number | undefined {
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
  const most = SPIKE * median(rows.map((row) => robustDeviation(row)));
  const sum = new Float64Array(POINTS);
  let total = 0;
  for (const row of rows) {
    row.forEach((value, p) => {
      const kept = Math.max(-most, Math.min(most, value));
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
