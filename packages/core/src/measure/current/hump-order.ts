import { quantile } from '../../signal/levels.js';
import type { OrderSignal } from './order.js';

/** Humps in one repeat of a pattern. */
export interface HumpCount {
  readonly humps: number;
  /** How clearly that count stands over the next: 0.5, where another fits as well, to 1. */
  readonly certainty: number;
}

/** Orders whose fit comes this close to the best are told apart by their cells. */
const CLOSE = 0.6;
/** So much better than any but its harmonics fits a count that only a part of a turn has: bars that differ make low orders too. */
const PLAINLY_BETTER = 5;
/** Notches that are alike within so much of their depth are parts of humps: sound bars differ by 1 to 3 %. */
const ALIKE = 0.05;
/** Humps of a quarter of a turn of eight, or a third of six. Bars that differ make as many too, but not so much higher ones. */
const QUARTER = 2;
/** Of the Bayes information criterion: very strong evidence begins here (Kass and Raftery, 1995; from memory). */
const PLAIN = 10;
/** Share of a pattern that its notches take: with less, both views of the cells are one. */
const NOTCHED = 0.1;
/** Certainty of a count for which both views of the cells speak: told, if less plainly than by a line that fits five times as well. */
const AGREED = 0.8;
/** Positions tried for the grid of troughs, a hump. */
const OFFSETS = 8;

/**
 * Counts the humps in one repeat of the pattern: which candidate order best fits the part outside the notches, since a
 * deep notch spreads its power over many orders. Where that is close, notches help: they begin and end at the troughs too,
 * so cutting the repeat into the true number of cells and fitting each by a level and an arch leaves the smallest rest. Where
 * the notches leave little to fit, cells with and without them speak for one count; twice it fits as well, and says nothing.
 * @param ofParts counts that a part of a turn has, and no turn: notches come as seldom, and have to be alike
 */
export function humpOrder(
  pattern: Float64Array,
  candidates: readonly number[],
  ofParts: readonly number[] = [],
): HumpCount {
  const keep = outsideNotches(pattern);
  const orders = candidates.filter((order) => order * 4 <= pattern.length);
  const hasNotches = keep.reduce((sum, is) => sum + is, 0) < (1 - NOTCHED) * pattern.length;
  const level = hasNotches ? withoutDrift(pattern, keep) : pattern;
  const fitsOf = (some: readonly number[]) =>
    some.map((order) => ({ order, explained: fitOrder(level, keep, order).explained }));
  const fits = fitsOf(orders);
  const best = mostOf(fits);
  const part = ofParts.find((order) =>
    hasNotches ? areAlike(pattern, order, orders) : isPlainly(fitsOf([order])[0], fits),
  );
  if (part) return { humps: part, certainty: 1 };
  const hidden = !hasNotches && fitOrder(level, keep, QUARTER).explained > PLAINLY_BETTER * best;
  const close = fits.filter((fit) => fit.explained >= CLOSE * best).map(({ order }) => order);
  const whole = everywhere(pattern);
  const fitted = close.length === 1 ? close[0] : bestCells(pattern, whole, close).count;
  const [sound, all] = [keep, whole].map((points) => bestCells(pattern, points, orders));
  const agreed =
    hasNotches && sound.count === all.count && Math.min(sound.margin, all.margin) > PLAIN && sound.count !== 2 * fitted;
  const chosen = agreed ? sound.count : fitted;
  const rival = mostOf(fits.filter((fit) => fit.order !== chosen));
  const certainty = 1 - 0.5 * (hidden || best === 0 ? 1 : Math.min(1, rival / best));
  return { humps: chosen, certainty: agreed ? Math.max(AGREED, certainty) : certainty };
}

interface Fit {
  readonly order: number;
  /** Share of the points' scatter. */
  readonly explained: number;
}

const mostOf = (fits: readonly Fit[]) => Math.max(0, ...fits.map((fit) => fit.explained));

/** Whether an order fits better than all the others, and far better than those that aren't multiples of it. */
function isPlainly({ order, explained }: Fit, others: readonly Fit[]): boolean {
  const rival = mostOf(others.filter((fit) => fit.order % order !== 0));
  return explained > mostOf(others) && explained > PLAINLY_BETTER * rival;
}

/** Whether the pattern is the same so many times over, or nearly, and no other count shows more: no bars burn so equally. */
function areAlike(pattern: Float64Array, times: number, others: readonly number[]): boolean {
  const points = everywhere(pattern);
  const share = (order: number) => fitOrder(pattern, points, order).explained;
  const multiples = Array.from({ length: Math.floor(pattern.length / 4 / times) }, (_, i) => (i + 1) * times);
  const shares = multiples.map(share);
  return shares.reduce((sum, of) => sum + of, 0) > 1 - ALIKE ** 2 && others.every((order) => share(order) < shares[0]);
}

const everywhere = (pattern: Float64Array) => new Uint8Array(pattern.length).fill(1);

/**
 * The number of cells that fits the marked points best. More cells fit better by chance; the Bayes information criterion takes
 * that off.
 * @returns with how far behind the next is, by that criterion
 */
function bestCells(pattern: Float64Array, keep: Uint8Array, counts: readonly number[]) {
  const n = keep.reduce((sum, is) => sum + is, 0);
  const ranked = counts
    .map((count) => {
      let rest = Infinity;
      for (let o = 0; o < OFFSETS; o++) rest = Math.min(rest, restOfCells(pattern, keep, count, o / OFFSETS));
      return { count, badness: n * Math.log(rest + 1e-12) + (2 * count + 1) * Math.log(n) };
    })
    .sort((a, b) => a.badness - b.badness);
  return { count: ranked[0].count, margin: ranked.length > 1 ? ranked[1].badness - ranked[0].badness : 0 };
}

/** Squared rest after fitting level and arch to each cell. @param offset start of the first cell, in cells */
function restOfCells(pattern: Float64Array, keep: Uint8Array, count: number, offset: number): number {
  const n = pattern.length;
  const sums = new Float64Array(count * 6);
  for (let i = 0; i < n; i++) {
    if (!keep[i]) continue;
    const position = (((i / n) * count - offset) % count) + (i / n < offset / count ? count : 0);
    const cell = Math.min(count - 1, Math.floor(position)) * 6;
    const arch = Math.sin(Math.PI * (position - Math.floor(position)));
    sums[cell] += 1;
    sums[cell + 1] += arch;
    sums[cell + 2] += arch * arch;
    sums[cell + 3] += pattern[i];
    sums[cell + 4] += pattern[i] * arch;
    sums[cell + 5] += pattern[i] * pattern[i];
  }
  let rest = 0;
  for (let c = 0; c < sums.length; c += 6) {
    const [m, a, aa, y, ya, yy] = sums.subarray(c, c + 6);
    if (m === 0) continue;
    const saa = aa - (a * a) / m;
    const sya = ya - (y * a) / m;
    rest += Math.max(0, yy - (y * y) / m - (saa > 1e-9 ? (sya * sya) / saa : 0));
  }
  return rest;
}

/** Where, in points from the pattern's start, the humps of that order peak first (0 to one hump). */
export function humpPeak(pattern: Float64Array, order: number): number {
  const { cosine, sine } = fitOrder(pattern, outsideNotches(pattern), order);
  const hump = pattern.length / order;
  const turn = Math.atan2(sine, cosine) / (2 * Math.PI);
  return (turn - Math.floor(turn)) * hump;
}

/** Average of the signal over all whole repeats of `period` cycles. */
export function meanPattern({ values, points }: OrderSignal, period: number): Float64Array {
  const width = period * points;
  const repeats = Math.floor(values.length / width);
  const mean = new Float64Array(width);
  for (let i = 0; i < repeats * width; i++) mean[i % width] += values[i] / repeats;
  return mean;
}

/**
 * Marks the points that belong to sound humps: not below the upper half by more than twice its own height.
 * The upper half is sound as long as no more than about half the bars are burnt.
 */
function outsideNotches(pattern: Float64Array): Uint8Array {
  const top = quantile(pattern, 0.95);
  const middle = quantile(pattern, 0.6);
  const fence = top - 2.5 * (top - middle);
  return Uint8Array.from(pattern, (value) => (value >= fence ? 1 : 0));
}

/**
 * The pattern without what goes once or twice in it: a clamp that passes no steady current, and a rotor that slows in a dead
 * stretch, let the level drift from one notch to the next, and no motor has so few humps.
 */
function withoutDrift(pattern: Float64Array, keep: Uint8Array): Float64Array {
  return [1, 2].reduce((rest, order) => {
    const { cosine, sine } = fitOrder(rest, keep, order);
    return rest.map((value, i) => {
      const angle = (2 * Math.PI * order * i) / rest.length;
      return value - cosine * Math.cos(angle) - sine * Math.sin(angle);
    });
  }, pattern);
}

/** Least squares of a constant and a sine of that order over the kept points. */
function fitOrder(pattern: Float64Array, keep: Uint8Array, order: number) {
  let [n, c1, s1, y1, cc, ss, cs, yc, ys, yy] = new Array<number>(10).fill(0);
  for (let i = 0; i < pattern.length; i++) {
    if (!keep[i]) continue;
    const angle = (2 * Math.PI * order * i) / pattern.length;
    const [c, s, y] = [Math.cos(angle), Math.sin(angle), pattern[i]];
    n++;
    c1 += c;
    s1 += s;
    y1 += y;
    cc += c * c;
    ss += s * s;
    cs += c * s;
    yc += y * c;
    ys += y * s;
    yy += y * y;
  }
  cc -= (c1 * c1) / n;
  ss -= (s1 * s1) / n;
  cs -= (c1 * s1) / n;
  yc -= (y1 * c1) / n;
  ys -= (y1 * s1) / n;
  yy -= (y1 * y1) / n;
  const determinant = cc * ss - cs * cs;
  if (!(determinant > 1e-6 * n * n) || yy <= 0) return { cosine: 0, sine: 0, explained: 0 };
  const cosine = (yc * ss - ys * cs) / determinant;
  const sine = (ys * cc - yc * cs) / determinant;
  return { cosine, sine, explained: Math.max(0, (cosine * yc + sine * ys) / yy) };
}
