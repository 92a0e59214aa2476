import { meanOf, quantile } from '../../signal/levels.js';
import type { Line } from '../../signal/spectrum.js';
import { coherenceOf, FEWEST_OWN, primeFactors } from './coherence.js';
import { humpsForBars, isKnownCount, shareOfSpeed, shareOfUncertain } from './commutators.js';
import { humpOrder, meanPattern, type HumpCount } from './hump-order.js';
import { toOrder, type OrderSignal } from './order.js';
import type { PhaseTrack } from './phase-track.js';
import { weighTurns, type Likeness } from './turn-evidence.js';

/** The steady current in which a turn is looked for. */
export interface Stretch {
  readonly samples: Float32Array;
  readonly sampleRateHz: number;
  /** Share of its power that is the recorder's rounding and may come back all the same. */
  readonly recurring: number;
  /** What reached too far was cut off, so that the current goes by jumps. */
  readonly isCut: boolean;
  /** 1 where a gap was bridged, and the sample says nothing. */
  readonly gaps?: Uint8Array;
}

/** A spectral line that was followed through a stretch, and how the current along it is like itself. */
export interface Followed {
  readonly line: Line;
  readonly lineHz: number;
  readonly track: PhaseTrack;
  /** The current by the line's angle, with so many points a cycle (an even number), and with the usual ones. */
  readonly byAngle: (points: number) => OrderSignal;
  readonly order: OrderSignal;
  readonly likeness?: Likeness;
  /** The most that the current is like itself at any lag. */
  readonly top: number;
}

/** What is known beforehand of the humps in a turn. */
export interface KnownCount {
  /** Commutator bars that somebody stated. */
  readonly bars?: number | undefined;
  /** Humps a turn that all runs of the record together speak for; taken wherever a turn of so many can be. */
  readonly likelyHumps?: number | undefined;
}

/** One possible turn along a line. */
export interface Reading {
  readonly cycles: number;
  readonly humps: number;
  /** The humps could be counted: no other number fits as well. */
  readonly isCounted: boolean;
  /** Posterior probability. */
  readonly confidence: number;
  /** The same without the count that was given. */
  readonly byData: number;
}

/** Peak to peak of a line as a share of the draw: sound humps are a small part, deeper ones are notches. */
export const HIGHEST_HUMP = 0.2;
export const DEEPEST_HUMP = 0.4;
/** Of a line in a turn that is compared: no motor has more humps. */
export const MOST_CYCLES = 26;
/** Enough to count 26 humps in a pattern. */
const POINTS_A_PATTERN = 156;
const FEWEST_POINTS_A_CYCLE = 8;
/** Another count fits a pattern as well, and nothing is told. */
const NOTHING_TOLD = 0.5;
/** Two counts that fit it nearly alike; above that a count is hardly ever wrong (2 of 227 in drawn records). */
const UNPLAIN = 0.6;
/** A count that fits five times as well as any other. */
const PLAINLY = 0.9;
/** A turn that is likelier than this has to be the rotor's own. */
const LIKELY = 0.02;
/** Readings this much less likely (natural logarithm) aren't looked at further. */
const FAR_BEHIND = 14;
/**
 * Every bar passes both brushes, half a turn apart: where the two touch alike, half a turn is like the other. So it is in one
 * motor of five (no published source).
 */
const LIKE_BRUSHES = 0.2;
/** Shares of humps a turn with a count that was given; people miscount. */
const GIVEN_RIGHT = 0.97;
/** Humps that are looked for in a turn, and those that half a turn of six or eight has. */
const HUMP_COUNTS: readonly number[] = [5, 6, 7, 8, 9, 10, 11, 12, 14, 16, 18, 20, 22, 24, 26];
const PART_COUNTS: readonly number[] = [3, 4];
const MOST_HUMPS = 26;
/** No motor has fewer: what shows fewer is a part of a turn, or no rotor's. */
export const FEWEST_HUMPS = 5;
/** Or, where they are deeper than humps are, as often as this a turn whose bad bars hide the others: an open coil draws two or four bumps a turn. */
const HIDES_SOME = 0.05;

/** Possible turns, the likeliest first. */
interface Weighed {
  readonly readings: readonly Reading[];
  /** A likely turn was left out since it wanders along the rotor. */
  readonly spoilt: boolean;
}

/**
 * Every possible turn along a line with its posterior probability. Where what makes a likely turn wanders along the rotor it is
 * something else's, and spoils the likenesses: turns whose own lines stay where they are speak alone, and without one only what
 * is common does.
 */
export function weighReadings(stretch: Stretch, followed: Followed, lineShare: number, known: KnownCount): Weighed {
  const { lineHz, likeness, order } = followed;
  const isPossible = (cycles: number) => shareOfSpeed((60 * lineHz) / cycles) > 0;
  const compared = Array.from({ length: MOST_CYCLES }, (_, i) => i + 1).filter(
    (cycles) => !likeness || cycles < likeness.at.length,
  );
  const possible = compared.filter(isPossible);
  // Along a harmonic of the humps a turn whose halves are alike has more cycles than are compared.
  const doubled = compared.map((cycles) => 2 * cycles).filter((cycles) => cycles > MOST_CYCLES && isPossible(cycles));
  const weigh = (turns: Turns, by?: Likeness) => weighTurnsOf(stretch, followed, lineShare, known, turns, by);
  const all = likeness
    ? weigh({ possible: [...possible, ...doubled], byHalf: doubled }, likeness)
    : weigh({ possible });
  const likely = all.filter(({ confidence }) => confidence >= LIKELY);
  if (!likeness || !likely.some(({ cycles }) => restsOnWandering(cycles, order, likeness)))
    return { readings: all, spoilt: false };
  const staying = possible.filter((cycles) => coherenceOf(order, cycles) === 'stays');
  // A turn whose halves are alike has no lines of its own: it stays or goes with its half.
  const byHalf = [...possible, ...doubled].filter(
    (cycles) => !staying.includes(cycles) && staying.includes(cycles / 2),
  );
  if (staying.length === 0) return { readings: weigh({ possible }), spoilt: true };
  const told = weigh({ possible: [...staying, ...byHalf], byHalf }, likeness);
  const [{ cycles }] = told;
  const own = staying.includes(cycles) ? cycles : cycles / 2;
  if (coherenceOf(order, own, { least: FEWEST_OWN }) === 'stays') return { readings: told, spoilt: true };
  const common = weigh({ possible: [...possible, ...byHalf.filter((turn) => !possible.includes(turn))] });
  return { readings: unlessInStep(told, common, order.cycles / own), spoilt: true };
}

/** Whether the lines that make a stretch likely wander: its own, or, where it has none to speak of, those of a part that is as likely. */
function restsOnWandering(cycles: number, order: OrderSignal, likeness: Likeness): boolean {
  const own = coherenceOf(order, cycles);
  if (own !== 'untold') return own === 'wanders';
  const { at } = likeness;
  return primeFactors(cycles)
    .map((factor) => cycles / factor)
    .some((part) => at[part] >= at[cycles] && restsOnWandering(part, order, likeness));
}

/**
 * Turns that a single line speaks for, beside what is common. A tone that is none of the rotor's lies within half the resolution of a
 * stretch, 1 / 2T, of one of a turn's lines by chance as often as one in the turns of that stretch: lines lie 1 / turn apart.
 */
function unlessInStep(told: readonly Reading[], common: readonly Reading[], turns: number): Reading[] {
  const isCommon = common.find(({ cycles }) => cycles === told[0].cycles)?.confidence ?? 0;
  const isOwn = (isCommon * turns) / (isCommon * turns + 1 - isCommon);
  return common
    .map((one) => {
      const own = told.find(({ cycles }) => cycles === one.cycles);
      const both = (by: 'confidence' | 'byData') => isOwn * (own?.[by] ?? 0) + (1 - isOwn) * one[by];
      return { ...one, ...own, confidence: both('confidence'), byData: both('byData') };
    })
    .sort((a, b) => b.confidence - a.confidence);
}

interface Turns {
  /** In cycles of the line. */
  readonly possible: readonly number[];
  /** Those of them that only their half speaks for. */
  readonly byHalf?: readonly number[];
}

function weighTurnsOf(
  { samples, recurring }: Stretch,
  { lineHz, track }: Followed,
  lineShare: number,
  { bars, likelyHumps }: KnownCount,
  turns: Turns,
  likeness: Likeness | undefined,
): Reading[] {
  const { possible } = turns;
  const views = likeness ? viewsOf(likeness, recurring).map((view) => likelihoods(view, turns)) : [];
  const given = bars === undefined ? undefined : humpsForBars(bars);
  const countOf = (cycles: number): HumpCount => {
    if (cycles <= MOST_CYCLES) return countHumps(samples, track, cycles, lineShare);
    const half = countHumps(samples, track, cycles / 2, lineShare);
    return { ...half, humps: 2 * half.humps };
  };
  const isDeep = (cycles: number) => depthOf(patternOf(samples, track, cycles)) > HIGHEST_HUMP;
  const counted = possible.flatMap((cycles, i) => {
    const data = views.map((view) => view[i]);
    const isFarBehind = data.length > 0 && Math.max(...data) < Math.exp(-FAR_BEHIND);
    if (isFarBehind && cycles !== likelyHumps) return [];
    const count = countOf(cycles);
    return count.humps <= MOST_HUMPS ? [{ cycles, data, count }] : [];
  });
  const readings = counted.map(({ cycles, data, count }) => {
    const beside = counted.filter((other) => other.cycles <= MOST_CYCLES && mayBeBeside(other.data, data));
    const settled = settledCount({ cycles, count }, beside);
    const hidesSome = settled.humps < Math.min(FEWEST_HUMPS, cycles) && isDeep(cycles);
    const { humps, certainty } = hidesSome ? beforeSomeHid(settled) : settled;
    const usual = shareOfSpeed((60 * lineHz) / cycles);
    const told = Math.min(1, (certainty - NOTHING_TOLD) / (UNPLAIN - NOTHING_TOLD));
    const common = (hidesSome ? HIDES_SOME : 1) * shareOfUncertain(humps, told);
    const known = given === undefined || humps === given ? 1 : 0;
    const byGiven = known * GIVEN_RIGHT + (1 - known) * (1 - GIVEN_RIGHT) * common;
    // A record too short for its own scatter to be known leaves what is common.
    const isCounted = isTold({ humps, certainty });
    return { cycles, humps, isCounted, data: data.length > 0 ? data : [1], usual, common, byGiven };
  });
  const byData = posterior(readings.map(({ data, usual, common }) => data.map((of) => of * usual * common)));
  const byAll =
    given === undefined
      ? byData
      : posterior(readings.map(({ data, usual, byGiven }) => data.map((of) => of * usual * byGiven)));
  return readings
    .map(({ cycles, humps, isCounted }, i) => ({ cycles, humps, isCounted, confidence: byAll[i], byData: byData[i] }))
    .sort((a, b) => b.confidence - a.confidence);
}

/** Humps that were counted in so many cycles of a line. */
interface Counted {
  readonly cycles: number;
  readonly count: HumpCount;
}

/**
 * A stretch that holds another a whole number of times holds that many times its humps. Where those are more than are looked for
 * (twice 22) another count was taken for them, and else the surer one holds. A part's count goes by the longer one's only where it
 * tells nothing itself.
 */
function settledCount(own: Counted, beside: readonly Counted[]): HumpCount {
  const holds = (whole: Counted, part: Counted) => whole.cycles > part.cycles && whole.cycles % part.cycles === 0;
  const foreseen = (other: Counted) => (other.count.humps * own.cycles) / other.cycles;
  const isWhole = (other: Counted) => Number.isInteger(foreseen(other));
  const isOpen = (part: Counted) => foreseen(part) > MOST_HUMPS || part.count.certainty > own.count.certainty;
  const settling =
    beside.find((other) => holds(own, other) && isTold(other.count) && isOpen(other)) ??
    beside.find(
      (other) => holds(other, own) && isWhole(other) && !isTold(own.count) && other.count.certainty > PLAINLY,
    );
  return settling ? { ...settling.count, humps: foreseen(settling) } : own.count;
}

/** The fewest humps that a motor has of which every second or fourth shows; which of such counts it is nothing tells. */
function beforeSomeHid({ humps }: HumpCount): HumpCount {
  return humps < FEWEST_HUMPS
    ? beforeSomeHid({ humps: 2 * humps, certainty: NOTHING_TOLD })
    : { humps, certainty: NOTHING_TOLD };
}

function isTold({ certainty }: HumpCount): boolean {
  return certainty >= UNPLAIN;
}

/** Whether a stretch is not far less of a turn than another by any view: the average of what doesn't come back shows no humps. */
function mayBeBeside(data: readonly number[], other: readonly number[]): boolean {
  return data.length === 0 || data.some((of, view) => of >= OUT * other[view]);
}

/** What rounding does may come back with the rotor, and then helps to know it, or with hum, and then misleads: half and half. */
function viewsOf(likeness: Likeness, recurring: number): Likeness[] {
  return recurring > 0 ? [likeness, { ...likeness, error: Math.hypot(likeness.error, recurring) }] : [likeness];
}

/** How well each number of cycles explains the likenesses, beside the best. */
function likelihoods(likeness: Likeness, { possible, byHalf = [] }: Turns): number[] {
  const all = [...possible, ...possible.map((cycles) => cycles / 2)].filter(Number.isInteger);
  const evidence = new Map(weighTurns(likeness, all).map(({ cycles, log }) => [cycles, log]));
  const logs = possible.map((cycles) => {
    const half = evidence.get(cycles / 2);
    const own = (byHalf.includes(cycles) ? undefined : evidence.get(cycles)) ?? -Infinity;
    // Where half a turn is like the other, the likeness repeats after half of it.
    return half === undefined ? own : Math.max(own + Math.log(1 - LIKE_BRUSHES), half + Math.log(LIKE_BRUSHES));
  });
  const most = Math.max(...logs);
  return logs.map((log) => Math.exp(log - most));
}

/** What the wider error leaves so little to is out, and the narrower one can't bring it back. */
const OUT = 0.01;

/**
 * Weights by view, the narrower error's first, a row a reading: each view's made to sum to 1, then averaged. Where the
 * narrower one is for a reading that the wider one rules out, rounding has misled it, and the wider one stands alone.
 */
function posterior(weights: readonly (readonly number[])[]): number[] {
  const views = weights[0]?.length ?? 0;
  const sums = Array.from({ length: views }, (_, view) => weights.reduce((sum, row) => sum + row[view], 0) || 1);
  const shares = weights.map((row) => row.map((weight, view) => weight / sums[view]));
  const narrowest = shares.reduce((a, b) => (b[0] > a[0] ? b : a), [0]);
  const isMisled = views > 1 && narrowest[views - 1] < OUT;
  return shares.map((row) => (isMisled ? row[views - 1] : row.reduce((sum, share) => sum + share / views, 0)));
}

/**
 * Humps in a turn of so many cycles: the cycles themselves, unless the line is deeper than humps are, or no motor has so many and
 * the turn plainly shows others.
 */
function countHumps(samples: Float32Array, track: PhaseTrack, cycles: number, lineShare: number): HumpCount {
  const isHumps = lineShare < HIGHEST_HUMP && cycles > 1;
  const cyclesThemselves = { humps: cycles, certainty: isHumps ? PLAINLY : UNPLAIN };
  if (isHumps && isKnownCount(cycles)) return cyclesThemselves;
  const pattern = patternOf(samples, track, cycles);
  const counted = isHumps ? humpOrder(pattern, [...HUMP_COUNTS, cycles]) : humpOrder(pattern, HUMP_COUNTS, PART_COUNTS);
  // Where the whole pattern goes deeper than humps do, its notches make some of the line.
  const least = depthOf(pattern) > HIGHEST_HUMP ? UNPLAIN : PLAINLY;
  if (isHumps) return counted.certainty > least && isKnownCount(counted.humps) ? counted : cyclesThemselves;
  const mayBeHumps = lineShare < DEEPEST_HUMP && cycles % 2 === 0 && cycles > 4;
  return mayBeHumps && counted.certainty < UNPLAIN ? cyclesThemselves : counted;
}

/** The current in the mean of all stretches of so many cycles, A. */
function patternOf(samples: Float32Array, track: PhaseTrack, cycles: number): Float64Array {
  const points = Math.max(FEWEST_POINTS_A_CYCLE, Math.ceil(POINTS_A_PATTERN / cycles));
  return meanPattern(toOrder(samples, track, points), cycles);
}

/** From lowest to highest, as a share of the mean. */
function depthOf(pattern: Float64Array): number {
  return (quantile(pattern, 1) - quantile(pattern, 0)) / Math.abs(meanOf(pattern));
}
