import { edgeNear, stretchesWhere, type Incident, type Stretch } from './incident.js';
import { JOIN_S, SCATTERS } from './supply-side.js';

/** A channel that tells of the pump or of what it pumps, block by block. */
export interface LoadView {
  readonly seenIn: 'current' | 'pressure';
  /** How far from its usual, smoothed over humps. */
  readonly away: Float64Array;
  /** The same, not smoothed: for edges. */
  readonly raw: Float64Array;
  readonly usual: number;
  readonly scatter: number;
  readonly blockS: number;
}

/** Less than this share of its usual level may be anything: another gear, a warmer tank (common practice, no published source). */
const LEAST_SHARE = 0.1;
/** An incident lasts a turn at least (4 000 rpm), s: shorter gaps are a brush’s, and are looked for turn by turn. */
const LEAST_S = 0.015;
/** What the record, or the power, cuts off has to have gone on for longer to be believed, s. */
const LEAST_UNENDED_S = 0.1;
/** It is over once the channel turns back from this share of its furthest. */
const TURNS_BACK = 0.9;
/** By and by, it began where the channel left this share of what counts as far. */
const LEAVES_SHARE = 0.25;
/**
 * A circuit that opens takes its current along within its time constant L/R, a millisecond or two; a rotor's inertia needs
 * tens of milliseconds (common practice, no published source).
 */
const AT_ONCE_S = 0.006;
/** A fall's time is taken between these shares of its depth. */
const FALL_FROM = 0.2;
const FALL_TO = 0.7;
const EDGE_S = 0.006;

/** How far from its usual a channel has to be. */
export function limitOf({ scatter, usual }: LoadView): number {
  return Math.max(SCATTERS * scatter, LEAST_SHARE * Math.abs(usual));
}

/**
 * Times that the channel was far from its usual, while the supply was sound. After a start, and after each incident, what
 * follows until it is back is its recovery and nothing of its own: `excused` says which blocks that begins in.
 */
export function loadIncidents(view: LoadView, within: Stretch, excused: readonly Stretch[]): Incident[] {
  const { away, blockS, seenIn } = view;
  const limit = limitOf(view);
  const size = (seconds: number) => Math.max(1, Math.round(seconds / blockS));
  const beyond = (block: number) => Math.abs(away[block]) > limit;
  const free = freeOf(within, excused, beyond);
  const found: Incident[] = [];
  for (const sign of [-1, 1]) {
    const holds = (block: number) => sign * away[block] > limit && free[block - within.from] === 1;
    for (const { from, to } of stretchesWhere(within, holds, { join: size(JOIN_S), least: size(LEAST_S) })) {
      found.push(shaped(view, { from, to }, within, { sign, limit, size }));
    }
  }
  found.sort((a, b) => a.start - b.start);
  const isTold = ({ start, end = start + size(LEAST_UNENDED_S) }: Incident) => end < within.to;
  return found.filter(
    (incident, i) => isTold(incident) && !isRecovery(incident, found.slice(0, i), beyond, size(JOIN_S)),
  );
}

/** What swings over to the other side by and by, right after an incident, is its recovery. */
function isRecovery(
  incident: Incident,
  before: readonly Incident[],
  beyond: (block: number) => boolean,
  quiet: number,
): boolean {
  const last = before.at(-1);
  if (incident.isSharp || last?.end === undefined || last.rose === incident.rose) return false;
  const between = { from: Math.floor(last.end), to: Math.floor(incident.start) };
  return stretchesWhere(between, (block) => !beyond(block), { join: 1, least: quiet }).length === 0;
}

/** 1 for blocks outside what is excused and the recovery after it. */
function freeOf(within: Stretch, excused: readonly Stretch[], beyond: (block: number) => boolean): Uint8Array {
  const free = new Uint8Array(within.to - within.from).fill(1);
  for (const { from, to } of excused) {
    let end = Math.max(within.from, to);
    while (end < within.to && beyond(end)) end++;
    free.fill(0, Math.max(0, from - within.from), Math.max(0, end - within.from));
  }
  return free;
}

function shaped(
  { away, raw, seenIn }: LoadView,
  { from, to }: Stretch,
  within: Stretch,
  { sign, limit, size }: { readonly sign: number; readonly limit: number; readonly size: (seconds: number) => number },
): Incident {
  let most = 0;
  for (let block = from; block < to; block++) most = Math.max(most, sign * away[block]);
  const isSharp = sign < 0 && seenIn === 'current' && fallTime(away, from, most) <= size(AT_ONCE_S);
  let start = from;
  while (!isSharp && start > within.from && sign * away[start - 1] > LEAVES_SHARE * limit) start--;
  // What opened closes again at once; what went by and by is over when it turns back.
  let end = to - 1;
  while (!isSharp && end > from && sign * away[end] < TURNS_BACK * most) end--;
  const reach = size(EDGE_S);
  const isOver = to < within.to - reach;
  const at = (block: number, isEdge: boolean) => (isEdge ? edgeNear(raw, block, reach, within) : block + 0.5);
  return {
    start: at(start, isSharp),
    ...(isOver && { end: at(end, isSharp) }),
    seenIn,
    isSharp,
    rose: sign > 0,
  };
}

/** Blocks that a fall takes, once it is under way. */
function fallTime(away: Float64Array, from: number, most: number): number {
  let deep = from;
  while (-away[deep] < FALL_TO * most) deep++;
  let shallow = deep;
  while (shallow > 0 && -away[shallow] > FALL_FROM * most) shallow--;
  return deep - shallow;
}
