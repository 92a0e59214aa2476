import { median } from '../../signal/levels.js';
import { MAINS_MOST_A } from '../../signal/mains.js';
import { isUsual } from './commutators.js';
import { humpPeak } from './hump-order.js';
import type { OrderSignal } from './order.js';

/** What a commutator bar carries: its full share, less than it (weak), or nothing (open). */
export type BarState = 'sound' | 'weak' | 'open';

/** One commutator bar as the brushes met it, averaged over many turns. */
export interface Bar {
  /** 1-based, in the order they pass; where counting starts is arbitrary. */
  readonly index: number;
  readonly meanA: number;
  /** Difference from the sound bars as a share of the mean draw (-0.22: 22 % down). */
  readonly relative: number;
  readonly state: BarState;
}

/** The synchronous average of one revolution and what its bars are like. */
export interface RotorMap {
  readonly bars: readonly Bar[];
  /** Average current over one turn, evenly by angle from the start of bar 1, A. */
  readonly turn: Float64Array;
  readonly turns: number;
  /** Peak to peak of a sound hump, A. */
  readonly humpA: number;
  /** Lowest trough of the sound bars, A. */
  readonly troughA: number;
}

/** What is known of the rotor before its bars are judged. */
export interface Rotor {
  /** Humps of a turn. */
  readonly perRevolution: number;
  /** Bars that make them. */
  readonly barCount: number;
  /** Time of one hump, s. */
  readonly humpS: number;
  readonly meanA: number;
  /** As much may flow, where the clamp's zero isn't known; the mean where it is. */
  readonly mostA: number;
}

/** A bar this far below the others, as a share of the draw, is weak; bars of sound pumps differ by 1 to 3 % (common practice). */
const WEAK_SHARE = 0.045;
const WEAK_TROUGH_SHARE = 0.06;
/** So far down a bar is weak though its trough is no deeper: the notch took the top of its hump. */
const PLAIN_SHARE = 0.09;
/** The bar must also stand out from the ordinary differences between the others. */
const WEAK_SPREADS = 3.5;
/** So far below the best bars no bar of a sound pump is, however much its bars differ (common practice: they do by 1 to 3 %). */
const NEVER_SOUND = 0.15;
const OPEN_SHARE = 0.35;
const TRIM = 0.1;
/** In the average of fewer a start's last swing or a single gap still shows: then a bar has to be down in each turn by itself. */
const FEWEST_TURNS = 8;
/** Of what its average is down by a bar is down in half of the turns; gaps that come at random leave less there. */
const USUALLY = 0.5;

/**
 * Averages the order signal over turns, cuts it at the troughs and judges each bar against the sound ones.
 * @param linePerRevolution cycles of the followed line in a turn
 * @param notOwn orders of the turn that may be the mains' and not the rotor's
 * @returns undefined with fewer than three whole turns
 */
export function makeRotorMap(
  order: OrderSignal,
  linePerRevolution: number,
  rotor: Rotor,
  notOwn: readonly number[],
): RotorMap | undefined {
  const width = linePerRevolution * order.points;
  const turns = Math.floor(order.values.length / width);
  if (turns < 3) return undefined;
  const average = trimmedTurn(order.values, width, turns);
  const each = Array.from({ length: turns }, (_, t) => order.values.subarray(t * width, (t + 1) * width));
  const judge = (turn: Float64Array) => mapOf(turn, { ...rotor, each });
  const map = judge(average);
  if (notOwn.length === 0 || allSound(map)) return map;
  // What may be the mains' own blames no bar; a notch is more than that, and stays.
  const without = judge(notOwn.reduce(withoutPickUp, average));
  return allSound(without) ? without : map;
}

function allSound({ bars }: RotorMap): boolean {
  return bars.every(({ state }) => state === 'sound');
}

interface Turned extends Rotor {
  /** The turns themselves. */
  readonly each: readonly Float64Array[];
}

function mapOf(average: Float64Array, turned: Turned): RotorMap {
  const { each, perRevolution, meanA, mostA, humpS, barCount } = turned;
  const shift = borderShift(average, perRevolution, mostA);
  const turn = rotated(average, shift);
  const cells = cutCells(turn, perRevolution);
  const reference = referenceCell(cells, mostA);
  const ofEach = each.map((one) => cutCells(rotated(one, shift), perRevolution));
  const judged = cells.map((cell, i) => {
    const state = judgeCell(cell, reference, mostA);
    if (state === 'sound') return state;
    const down = ofEach.map((one) => referenceCell(one, mostA).mean - one[i].mean);
    const isOften =
      down.length < FEWEST_TURNS
        ? down.every((one) => one > NEVER_SOUND * mostA)
        : median(down) > USUALLY * (reference.mean - cell.mean);
    return isOften ? state : 'sound';
  });
  settleNeighbours(cells, judged, reference, humpS);
  const bars = mergeToBars(cells, judged, reference, meanA, barCount);
  // What lies beside a dead stretch may hold its edge.
  const isSound = (i: number) => judged[(i + cells.length) % cells.length] === 'sound';
  const sound = cells.filter((_, i) => isSound(i - 1) && isSound(i) && isSound(i + 1));
  const troughA = Math.min(reference.min, ...sound.map((cell) => cell.min));
  return { bars, turn, turns: each.length, humpA: reference.hump, troughA };
}

/** Mean of the middle 80 % of turns at each angle: random dropouts don't leave a mark. */
function trimmedTurn(values: Float64Array, width: number, turns: number): Float64Array {
  const column = new Float64Array(turns);
  const cut = Math.floor(turns * TRIM);
  return Float64Array.from({ length: width }, (_, angle) => {
    for (let t = 0; t < turns; t++) column[t] = values[t * width + angle];
    column.sort();
    let sum = 0;
    for (let t = cut; t < turns - cut; t++) sum += column[t];
    return sum / (turns - 2 * cut);
  });
}

/** The turn without one of its orders, where that is no larger than what a clamp's lead picks up. */
function withoutPickUp(turn: Float64Array, order: number): Float64Array {
  const angle = (i: number) => (2 * Math.PI * order * i) / turn.length;
  const along = (part: (angle: number) => number) =>
    turn.reduce((sum, value, i) => sum + value * part(angle(i)), 0) / (turn.length / 2);
  const [cosine, sine] = [along(Math.cos), along(Math.sin)];
  if (Math.hypot(cosine, sine) > MAINS_MOST_A) return turn;
  return turn.map((value, i) => value - cosine * Math.cos(angle(i)) - sine * Math.sin(angle(i)));
}

/** Points from the average's start to the first trough between humps. */
function troughShift(turn: Float64Array, perRevolution: number): number {
  const hump = turn.length / perRevolution;
  return Math.round((humpPeak(turn, perRevolution) + hump / 2) % hump) % turn.length;
}

/** Parts of a hump by which the borders are tried elsewhere. */
const BORDERS_TRIED = 4;
/** Elsewhere they must tell bars apart so much better. */
const CLEARER = 1.25;

/**
 * Points from the average's start to a border between bars: between two humps, unless deep notches stand out far more with the
 * borders elsewhere. Where within its hump a bar loses contact depends on brush and bar, and several deep notches draw the
 * humps' own phase to themselves; a border in the midst of a notch would share it out among two bars. What sound bars differ by
 * moves no border, nor does every other cell being low: then a hump was cut in two.
 */
function borderShift(average: Float64Array, perRevolution: number, mostA: number): number {
  const between = troughShift(average, perRevolution);
  const hump = average.length / perRevolution;
  const cut = (shift: number) => cutCells(rotated(average, shift), perRevolution);
  const others = Array.from({ length: BORDERS_TRIED - 1 }, (_, i) =>
    Math.round((between + ((i + 1) * hump) / BORDERS_TRIED) % hump),
  );
  const best = others.reduce((a, b) => (spreadOf(cut(b)) > spreadOf(cut(a)) ? b : a));
  const cells = cut(best);
  const sound = referenceCell(cells, mostA).mean;
  const deep = cells.filter(({ mean }) => sound - mean > NEVER_SOUND * mostA).length;
  const isNotched = deep > 0 && deep < cells.length / 2;
  return isNotched && spreadOf(cells) > CLEARER * spreadOf(cut(between)) ? best : between;
}

function rotated(turn: Float64Array, shift: number): Float64Array {
  return turn.map((_, i) => turn[(i + shift) % turn.length]);
}

/** Sum of squares of the cells' means about their own. */
function spreadOf(cells: readonly Cell[]): number {
  const mean = cells.reduce((sum, cell) => sum + cell.mean, 0) / cells.length;
  return cells.reduce((sum, cell) => sum + (cell.mean - mean) ** 2, 0);
}

interface Cell {
  readonly mean: number;
  readonly min: number;
  readonly max: number;
}

function cutCells(turn: Float64Array, count: number): Cell[] {
  return Array.from({ length: count }, (_, c) => {
    const part = turn.subarray(
      Math.round((c * turn.length) / count),
      Math.max(Math.round((c * turn.length) / count) + 1, Math.round(((c + 1) * turn.length) / count)),
    );
    let sum = 0;
    for (const value of part) sum += value;
    return { mean: sum / part.length, min: Math.min(...part), max: Math.max(...part) };
  });
}

interface Reference {
  readonly mean: number;
  readonly min: number;
  readonly hump: number;
  /** Ordinary spread of the sound bars' means. */
  readonly spread: number;
}

/**
 * The upper half of the bars stands for the sound ones, so that up to half may be burnt. No fault makes a bar carry more: where some
 * stand further above that half than sound ones differ, they are the sound ones, and a coil that is open takes from all others.
 */
function referenceCell(cells: readonly Cell[], mostA: number): Reference {
  const sorted = [...cells].sort((a, b) => b.mean - a.mean);
  const half = sorted.slice(0, Math.ceil(cells.length / 2));
  const above = half.filter(({ mean }) => mean > median(half.map((cell) => cell.mean)) + NEVER_SOUND * mostA);
  const upper = above.length > 1 ? above : half;
  const means = upper.map((cell) => cell.mean);
  const mean = median(means);
  return {
    mean,
    min: median(upper.map((cell) => cell.min)),
    hump: median(upper.map((cell) => cell.max - cell.min)),
    // The upper half of a normal sample has a range of about 1.2 deviations of the whole.
    spread: (Math.max(...means) - Math.min(...means)) / 1.2,
  };
}

function judgeCell(cell: Cell, reference: Reference, mostA: number): BarState {
  const down = (reference.mean - cell.mean) / mostA;
  const deeper = (reference.min - cell.min) / mostA;
  if (down < WEAK_SHARE || (deeper < WEAK_TROUGH_SHARE && down < PLAIN_SHARE)) return 'sound';
  if (down < NEVER_SOUND && reference.mean - cell.mean < WEAK_SPREADS * reference.spread) return 'sound';
  return down >= OPEN_SHARE ? 'open' : 'weak';
}

/**
 * The winding's inductance drags a deep notch into the next bar: a bar much less down than its neighbour is sound.
 * The shorter the hump against the winding's time constant (about 0.25 ms, common practice), the more is dragged on.
 */
function settleNeighbours(cells: readonly Cell[], judged: BarState[], reference: Reference, humpS: number): void {
  const share = Math.min(0.75, 0.1 + 0.00022 / humpS);
  const down = cells.map((cell) => reference.mean - cell.mean);
  down.forEach((own, i) => {
    const beside = Math.max(down[(i + cells.length - 1) % cells.length], down[(i + 1) % cells.length]);
    if (own < share * beside) judged[i] = 'sound';
  });
}

/** Of what the low ones lie down by: the parts of humps that were cut into so many differ by less. */
const ALIKE = 0.5;
/** No two bars burn to within this of each other by chance, and two may all the same; three and more evenly around don't. */
const AS_ONE = 0.1;
const FEWEST_ROUND = 3;

/** Whether every second bar is low and no other, by as much: so burn bars hardly ever, and so looks a hump that was cut in two. */
export const everySecondLow = (map: RotorMap) => everyLow(map, 2);

/**
 * Whether every second or third bar is low by as much, and no further than the parts of a sound pump's hump lie apart; or all of an odd
 * number, each of which has one of its humps under a brush that lets less through.
 * @param isCounted that many humps pass in a turn for sure: then a motor has to have as many bars as there would be whole ones
 */
export function mayBePartsOfHumps(map: RotorMap, isCounted: boolean): boolean {
  const bars = map.bars.length;
  return (
    map.bars.every(({ relative }) => -relative < NEVER_SOUND) &&
    [1, 2, 3].some((parts) => (!isCounted || isUsual(bars / parts)) && everyLow(map, parts))
  );
}

/**
 * Whether bars are low in too many places, too evenly around and too equally to be burnt. An odd number of bars has one hump of each
 * pair low: then every bar is.
 */
export function arePartsOfHumps(map: RotorMap): boolean {
  const most = Math.floor(map.bars.length / FEWEST_ROUND);
  return Array.from({ length: most }, (_, i) => i + 1).some((parts) => everyLow(map, parts, AS_ONE));
}

function everyLow({ bars }: RotorMap, parts: number, alike = ALIKE): boolean {
  if (bars.length % parts !== 0 || bars.length === parts) return false;
  const deepest = bars.reduce((most, { relative }, i) => (relative < bars[most].relative ? i : most), 0);
  const isAmong = (i: number) => (i - deepest) % parts === 0;
  const down = bars.filter((_, i) => isAmong(i)).map(({ relative }) => -relative);
  const others = bars.filter((_, i) => !isAmong(i));
  return (
    bars[deepest].state !== 'sound' &&
    others.every(({ state, relative }) => state === 'sound' && -relative < Math.min(...down)) &&
    Math.max(...down) - Math.min(...down) < alike * median(down)
  );
}

/** With an odd number of bars each bar gives two humps half a turn apart; the worse one speaks for it. */
function mergeToBars(
  cells: readonly Cell[],
  judged: readonly BarState[],
  reference: Reference,
  meanA: number,
  bars: number,
): Bar[] {
  const severity: Record<BarState, number> = { sound: 0, weak: 1, open: 2 };
  return Array.from({ length: bars }, (_, bar) => {
    const humps = bars === cells.length ? [bar] : [(2 * bar) % cells.length, (2 * bar + bars) % cells.length];
    const worst = humps.reduce((a, b) => (cells[b].mean < cells[a].mean ? b : a));
    const state = humps.map((hump) => judged[hump]).reduce((a, b) => (severity[b] > severity[a] ? b : a));
    const mean = humps.reduce((sum, hump) => sum + cells[hump].mean, 0) / humps.length;
    return { index: bar + 1, meanA: mean, relative: (cells[worst].mean - reference.mean) / meanA, state };
  });
}
