import { movingAverage } from '../../signal/blocks.js';
import { meanOf } from '../../signal/levels.js';
import type { OrderSignal } from './order.js';

/**
 * Whether what tells a turn from its parts stays where it is on the rotor: it does, it wanders along it as something else's
 * tone does, or there is too little of it to tell.
 */
export type Coherence = 'stays' | 'wanders' | 'untold';

/** The stretch is cut into so many parts; neighbours among them aren't compared. */
const PARTS = 10;
const APART = 2;
/** Fewer turns make no parts. */
const FEWEST_TURNS = 8;
/** So many standard errors of what neighbouring turns share are no chance, among as many lines as a turn has. */
const NO_CHANCE = 4;
/** So many are well within chance. */
const DOUBT = 2;
/** So many times what noise leaves of its power in a mean is none: e^-12 a line. */
const SHOWS = 12;
/** A single line may be a tone that happens to keep step: one of two dozen turns has a line beside any. */
export const FEWEST_OWN = 2;
/** Less of it than this between the stretch's parts: it isn't the rotor's. */
const LEAST_KEPT = 0.5;
/** The slow course is taken out over so many cycles, as where turns are weighed. */
const SLOW_CYCLES = 26 / 1.5;

/** What else is asked of a turn's lines. */
export interface Asked {
  /** In a turn, where they are known: their own line has to stay too. */
  readonly humps?: number | undefined;
  /** How many of the lowest lines may be the mains', which keep their angle as well where a turn takes their period. */
  readonly notOwn?: number;
  /** So many lines have to stay for each prime factor. */
  readonly least?: number;
}

/**
 * An alternator's or any other tone stands beside the humps at no whole ratio, but always near one: for the few turns that a
 * likeness reaches it makes a turn of its own. The rotor's own pattern keeps its angle through the whole stretch; a tone's
 * phase runs on, and between distant parts of the stretch nothing of it is left.
 *
 * Each line of a turn (once, twice, … in it) is asked by itself: what neighbouring turns share of it, and what is left of that
 * between distant parts. No product is of a turn with itself, so that noise is in neither. A turn of m cycles needs, for each
 * prime factor p of m, a line that a pth of the turn doesn't have; one that is the followed line itself another one beside it.
 * @param order an even number of points a cycle, four of them for each line that is to be seen in it
 */
export function coherenceOf(order: OrderSignal, turn: number, { humps, notOwn = 0, least = 1 }: Asked = {}): Coherence {
  const turns = Math.floor(order.cycles / turn);
  if (turns < FEWEST_TURNS) return 'untold';
  const lines = linesOf(order, turn, turns).map((line, k) => (k < notOwn ? 'untold' : line));
  const parts = turn === 1 ? [lines.slice(1)] : primeFactors(turn).map((p) => notOfParts(lines, p));
  const told = parts.map((own) => ofLines(own, least));
  if (humps !== undefined && humps <= lines.length) told.push(lines[humps - 1]);
  if (told.includes('wanders')) return 'wanders';
  return told.every((one) => one === 'stays') ? 'stays' : 'untold';
}

function ofLines(lines: readonly Coherence[], least: number): Coherence {
  if (lines.filter((line) => line === 'stays').length >= least) return 'stays';
  return lines.includes('wanders') ? 'wanders' : 'untold';
}

const notOfParts = (lines: readonly Coherence[], p: number) => lines.filter((_, k) => (k + 1) % p !== 0);

/** Each line of a turn that has two points a period at least, the one that passes once in the turn first. */
function linesOf({ values, points }: OrderSignal, turn: number, turns: number): Coherence[] {
  // Two points at a time are enough for lines of up to two a cycle, in a quarter of the time.
  const size = (turn * points) / 2;
  const slow = movingAverage(values, Math.round(SLOW_CYCLES * points));
  const flat = Float64Array.from(
    { length: turns * size },
    (_, i) => (values[2 * i] - slow[2 * i] + values[2 * i + 1] - slow[2 * i + 1]) / 2,
  );
  const cos = Float64Array.from({ length: size }, (_, i) => Math.cos((2 * Math.PI * i) / size));
  const sin = Float64Array.from({ length: size }, (_, i) => Math.sin((2 * Math.PI * i) / size));
  return Array.from({ length: Math.ceil(size / 2) - 1 }, (_, k) => {
    const re = new Float64Array(turns);
    const im = new Float64Array(turns);
    for (let t = 0; t < turns; t++) {
      let real = 0;
      let imaginary = 0;
      for (let i = t * size, angle = 0; i < (t + 1) * size; i++) {
        real += flat[i] * cos[angle];
        imaginary += flat[i] * sin[angle];
        angle += k + 1;
        if (angle >= size) angle -= size;
      }
      re[t] = real;
      im[t] = imaginary;
    }
    return lineCoherence(re, im);
  });
}

function lineCoherence(re: Float64Array, im: Float64Array): Coherence {
  const turns = re.length;
  const shared = re.slice(1).map((value, t) => value * re[t] + im[t + 1] * im[t]);
  const near = meanOf(shared);
  const squares = shared.reduce((sum, value) => sum + (value - near) ** 2, 0);
  // Each turn is in two of the products.
  const error = Math.sqrt((2 * squares) / (shared.length - 1) / shared.length);
  const kept = distant(re, im);
  if (near > NO_CHANCE * error && kept < LEAST_KEPT * near) return 'wanders';
  const power = re.reduce((sum, value, t) => sum + value * value + im[t] * im[t], 0) / turns;
  const lasting = meanOf(re) ** 2 + meanOf(im) ** 2;
  // Of noise alone the mean's power is that of a turn by their number, exponentially distributed.
  const shows = lasting * turns > SHOWS * (power - Math.max(0, near));
  // What the mean of all turns has, distant ones share, and neighbours too.
  const isAlways = kept >= LEAST_KEPT * lasting && near + DOUBT * error >= LEAST_KEPT * lasting;
  return shows && isAlways ? 'stays' : 'untold';
}

/** Mean product of the averages of parts that lie apart. */
function distant(re: Float64Array, im: Float64Array): number {
  const parts = Math.min(PARTS, Math.floor(re.length / 2));
  const meansOf = (of: Float64Array) =>
    Array.from({ length: parts }, (_, part) => {
      return meanOf(of.subarray(Math.floor((of.length * part) / parts), Math.floor((of.length * (part + 1)) / parts)));
    });
  const [real, imaginary] = [meansOf(re), meansOf(im)];
  let [sum, count] = [0, 0];
  for (let a = 0; a < parts; a++)
    for (let b = a + APART; b < parts; b++) {
      sum += real[a] * real[b] + imaginary[a] * imaginary[b];
      count++;
    }
  return sum / count;
}

export function primeFactors(of: number): number[] {
  return Array.from({ length: of - 1 }, (_, i) => i + 2).filter(
    (p, _, all) => of % p === 0 && !all.some((q) => q < p && p % q === 0),
  );
}
