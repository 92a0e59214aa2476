import { STANDS_SHARE } from '../current/disturbances.js';
import { deepAtOnce, edgeNear, goneAtOnce, stretchesWhere, type Incident, type Stretch } from './incident.js';
import { leavesAt, limitOf, type LoadView } from './load-view.js';
import { JOIN_S } from './thresholds.js';

/** An incident lasts a turn at least (4 000 rpm), s: shorter gaps are a brush’s, and are looked for turn by turn. */
const LEAST_S = 0.015;
/** What the record, or the power, cuts off has to have gone on for longer to be believed, s. */
const LEAST_UNENDED_S = 0.1;
/** It is over once the channel turns back from this share of where it last went to … */
const TURNS_BACK = 0.9;
/** … which is what it doesn't exceed by this share for so long, s, seen from its return. */
const EXCEEDS = 0.03;
const SEEN_S = 0.05;
/** Pressure is back, and the current with it, within some tenths of a second of each other (common practice, no published source). */
const RECOVERS_S = 0.3;
/** It goes on until the channel is nearer than this share of what counts as far. */
const GOES_ON_SHARE = 0.5;
const EDGE_S = 0.006;
/** While pressure builds up the current goes with it; a rotor that stands or a circuit that opens goes further than this share. */
const STARTS_SHARE = STANDS_SHARE - 1;
/** As far as smoothing over the mains may move an edge, s. */
const SMOOTHED_S = 0.012;

/** Where to look. */
export interface Watched extends Stretch {
  /** Block from which a start's own course is over. */
  readonly settledFrom: number;
}

/** What a start, or a failure of the supply, does to the channel, until it is back. */
export interface Excused extends Stretch {
  /** It makes the channel fall, and never rise. */
  readonly onlyFalls?: boolean;
  /** A start comes back from one side: what goes to the other meanwhile is something else. */
  readonly isStart?: boolean;
}

/**
 * Times that the channel was far from its usual, while the supply was sound. After a start, and after each incident, what
 * follows until it is back is its recovery and nothing of its own: `excused` says which blocks that begins in.
 */
export function loadIncidents(
  view: LoadView,
  within: Watched,
  known: readonly Incident[],
  excused: readonly Excused[],
): Incident[] {
  const { away, blockS } = view;
  const settledLimit = limitOf(view);
  const startLimit = Math.max(settledLimit, STARTS_SHARE * Math.abs(view.usual));
  const limitAt = (block: number) => (block >= within.settledFrom ? settledLimit : startLimit);
  const size = (seconds: number) => Math.max(1, Math.round(seconds / blockS));
  const beyond = (block: number) => (Math.abs(away[block]) > limitAt(block) ? Math.sign(away[block]) : 0);
  const found: Found[] = [];
  for (const sign of [-1, 1]) {
    const free = freeOf(
      within,
      excused.filter(({ onlyFalls }) => sign < 0 || !onlyFalls),
      beyond,
    );
    const holds = {
      begins: (block: number) => sign * away[block] > limitAt(block) && free[block - within.from] === 1,
      goesOn: (block: number) => sign * away[block] > GOES_ON_SHARE * limitAt(block) && free[block - within.from] === 1,
    };
    let after = within.from;
    const stretches = stretchesWhere(within, holds, { join: 1, least: size(LEAST_S) });
    for (const stretch of stretches.flatMap((one) => onceEach(away, one, sign, settledLimit))) {
      const limit = limitAt(stretch.from);
      const from = sign < 0 ? begunBefore(view, stretch.from, within) : stretch.from;
      found.push(shaped(view, { ...stretch, from }, within, { sign, limit, after, size }));
      after = stretch.to;
    }
  }
  found.sort((a, b) => a.start - b.start);
  const isTold = ({ start, end = start + size(LEAST_UNENDED_S) }: Incident) => end < within.to;
  const own = joined(found, size(JOIN_S));
  const all = [...own, ...known.map((one) => ({ ...one, most: Infinity }))].sort((a, b) => a.start - b.start);
  // What swings about while it comes back is all of one recovery.
  const isOwn = new Set(own);
  const byThemselves: Found[] = [];
  for (const one of all) {
    if (!isOwn.has(one) || !isRecovery(one, byThemselves.at(-1), size(RECOVERS_S))) byThemselves.push(one);
  }
  return byThemselves.filter((one) => isOwn.has(one) && isTold(one)).map(({ most: _, ...incident }) => incident);
}

/** An incident, and how far it went from the usual. */
interface Found extends Incident {
  readonly most: number;
}

/**
 * Where a fall of the current began that was under way when the start was over: cut off there it would seem to have come by
 * and by. A start's own current lies above the usual, never below.
 */
function begunBefore(view: LoadView, from: number, { settledFrom }: Watched): number {
  const limit = limitOf(view);
  let began = from;
  while (view.seenIn === 'current' && began > 0 && began <= settledFrom && -view.away[began - 1] > limit) began--;
  return began;
}

/** A contact that bounces as it closes opened once. */
function joined(incidents: readonly Found[], gap: number): Found[] {
  const out: Found[] = [];
  for (const incident of incidents) {
    const last = out.at(-1);
    if (last?.isSharp && incident.isSharp && last.end !== undefined && incident.start - last.end < gap) {
      out[out.length - 1] = { ...incident, start: last.start, most: Math.max(incident.most, last.most) };
    } else out.push(incident);
  }
  return out;
}

/**
 * What goes by and by right after an incident is its recovery: the current swings over, and an interruption leaves a line
 * without pressure behind, which asks less of the pump until it is full again. What swings over goes less far than what it swings
 * back from; a start after a gap may go further.
 */
function isRecovery(incident: Found, last: Found | undefined, recovers: number): boolean {
  if (incident.isSharp || last?.end === undefined || incident.start - last.end > recovers) return false;
  return last.isSharp || (last.rose !== incident.rose && incident.most < last.most);
}

/** Of the way back to its usual: from there a channel that leaves it again does so a second time. */
const MOSTLY_BACK = 0.6;

/** A stretch in parts, where the channel came most of the way back and went as far as counts again. */
function onceEach(away: Float64Array, { from, to }: Stretch, sign: number, limit: number): Stretch[] {
  const parts: Stretch[] = [];
  let begins = from;
  let most = 0;
  let nearest = from;
  for (let block = from; block < to; block++) {
    const far = sign * away[block];
    if (far > most) [most, nearest] = [far, block];
    if (far < sign * away[nearest]) nearest = block;
    const back = sign * away[nearest];
    if (back > (1 - MOSTLY_BACK) * most || far - back < limit) continue;
    parts.push({ from: begins, to: nearest });
    [begins, most, nearest] = [nearest, far, block];
  }
  return [...parts, { from: begins, to }];
}

/**
 * 1 for blocks outside what is excused and the recovery after it.
 * @param beyond on which side of its usual a block lies further than may be; 0 for none
 */
function freeOf(within: Stretch, excused: readonly Excused[], beyond: (block: number) => number): Uint8Array {
  const free = new Uint8Array(within.to - within.from).fill(1);
  for (const { from, to, isStart = false } of excused) {
    let end = Math.max(within.from, to);
    const side = beyond(end);
    const isBack = (block: number) => (isStart ? beyond(block) !== side || side === 0 : beyond(block) === 0);
    while (end < within.to && !isBack(end)) end++;
    free.fill(0, Math.max(0, from - within.from), Math.max(0, end - within.from));
  }
  return free;
}

interface Shaping {
  readonly sign: number;
  readonly limit: number;
  /** Where the incident before it was over, or the looking begins. */
  readonly after: number;
  readonly size: (seconds: number) => number;
}

function shaped(view: LoadView, { from, to }: Stretch, within: Stretch, { sign, limit, after, size }: Shaping): Found {
  const { away, raw, seenIn } = view;
  let most = 0;
  for (let block = from; block < to; block++) most = Math.max(most, sign * away[block]);
  const isOver = to < within.to - size(EDGE_S);
  const fall = sign < 0 && seenIn === 'current' ? sharpFall(view, { from, to }, most, limit, size) : undefined;
  if (fall) {
    const at = (block: number) => edgeNear(raw, block, size(EDGE_S), within);
    return { start: at(fall.from), ...(isOver && { end: at(fall.to) }), seenIn, isSharp: true, rose: false, most };
  }
  const start = leftAt(view, { from: after, to: from }, sign);
  const end = turnsBack(away, { from, to }, sign, size(SEEN_S));
  return { start: start + 0.5, ...(isOver && { end: end + 0.5 }), seenIn, isSharp: false, rose: sign > 0, most };
}

/** Of what a channel went since a moment: it had gone no further in as long a time before. */
const STANDS_STILL = 0.1;

/** Where the channel left its usual or the level to which that had wandered, or came nearest to it since the last incident. */
function leftAt(view: LoadView, { from, to }: Stretch, sign: number): number {
  const { away } = view;
  const leaves = leavesAt(view);
  let nearest = to;
  const gone = (first: number, last: number) => sign * (away[last] - away[first]);
  for (let block = to - 1; block >= from; block--) {
    if (sign * away[block] <= leaves) return block + 1;
    if (sign * away[block] < sign * away[nearest]) nearest = block;
    // As long before it nothing went: where it was by then is a level that it had come to long ago.
    const before = 2 * block - to;
    const since = gone(block, to);
    if (before >= from && since > leaves && gone(before, block) < STANDS_STILL * since) return block + 1;
  }
  return nearest;
}

/** Where the channel begins its return, looking back from where it is back. */
function turnsBack(away: Float64Array, { from, to }: Stretch, sign: number, seen: number): number {
  let most = 0;
  let rose = to;
  const furthest = away.subarray(from, to).reduce((far, value) => Math.max(far, sign * value), 0);
  for (let block = to - 1; block >= from && (rose - block <= seen || most < furthest / 2); block--) {
    if (sign * away[block] <= (1 + EXCEEDS) * most) continue;
    most = sign * away[block];
    rose = block;
  }
  let end = to - 1;
  while (end > from && sign * away[end] < TURNS_BACK * most) end--;
  return end;
}

/** Where the current falls at once and comes back at once; undefined where it falls by and by. */
function sharpFall(
  { brisk, blockS, usual }: LoadView,
  { from, to }: Stretch,
  most: number,
  limit: number,
  size: (seconds: number) => number,
): Stretch | undefined {
  const last = Math.min(brisk.length - 1, to + size(SMOOTHED_S));
  const below = (block: number) => -brisk[block];
  const within = { from, to: last };
  const deep = deepAtOnce(below, within, most, blockS) ?? goneAtOnce(below, within, Math.abs(usual), blockS);
  if (deep === undefined) return undefined;
  let end = last;
  while (end > deep && -brisk[end] < limit) end--;
  return { from: deep, to: end };
}
