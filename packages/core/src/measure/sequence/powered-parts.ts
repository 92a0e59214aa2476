import { LIMITS } from '../../limits/limits.js';
import type { Stretch } from './incident.js';
import { FLOWING_SHARE, LOOKED_AT, ON_SHARE, shareOfHigh } from './powered.js';

/** A piece of a record in which the pump had power, and what is to be known of it. */
export interface PoweredPart extends Stretch {
  /** The starter turned the engine through all of it. */
  readonly isCranked: boolean;
  /** The engine was cranked until it, or since it: what it begins with is the way to its own level. */
  readonly follows: boolean;
  /** The pump had power before it, too. */
  readonly goesOn?: boolean;
  /** The last block with power, where it was switched off within. */
  readonly offFrom?: number;
}

/** A key that is turned to start: the pump's relay is on again so soon after the starter. */
const STARTS_WITHIN_S = 0.4;
/** A pump that loses its feed coasts for so long at most with volts of its own (common practice, no published source), s. */
const COASTS_MOST_S = 0.6;
/** A starter's first pull is known so well, s. */
const BEFORE_CRANK_S = 0.04;
/** A control unit that isn't answered ends its prime by its own timer, after two seconds as a rule (common practice, no published source), s. */
const PRIME_MOST_S = 5;
/** Shorter pieces tell nothing by themselves, s. */
const LEAST_PART_S = 0.15;

/**
 * A record's pieces, each with a course of its own: what lies between a prime and a start is nobody's fault, and while the engine
 * cranks volts and current are others than before and after.
 * @param cranks when the starter turned, blocks
 */
export function poweredParts(
  volts: Float64Array,
  amperes: Float64Array | undefined,
  blockS: number,
  cranks: readonly Stretch[],
): PoweredPart[] {
  const pauses = pausesIn(volts, amperes, blockS, cranks);
  const begins = [0, ...pauses.map(({ from, to }) => (from + to) >> 1)];
  const on = shareOfHigh(volts, ON_SHARE);
  const margin = Math.round(BEFORE_CRANK_S / blockS);
  const wholes = begins.map((from, i) => ({ from, to: begins[i + 1] ?? volts.length, offFrom: pauses[i]?.gone }));
  const least = LEAST_PART_S / blockS;
  const pieces = wholes.flatMap(({ offFrom, ...whole }) =>
    aroundCranks(whole, cranks, margin).map((piece) => ({
      ...piece,
      goesOn: volts[piece.from - margin - 1] > on,
      ...(offFrom !== undefined && offFrom < piece.to && { offFrom: Math.max(piece.from, offFrom) }),
    })),
  );
  if (pieces.length === 1) return pieces;
  const flowing = amperes ? shareOfHigh(amperes, FLOWING_SHARE) : 0;
  // A pump that was let go with the starter coasts with volts of its own.
  const coasts = ({ follows, isCranked, ...piece }: PoweredPart) =>
    amperes !== undefined && follows && !isCranked && timeAbove(amperes, flowing, piece) <= least;
  const telling = pieces.filter((piece) => timeAbove(volts, on, piece) > least && !coasts(piece));
  return telling.length > 0 ? telling : [{ from: 0, to: volts.length, isCranked: false, follows: false }];
}

function aroundCranks(whole: Stretch, cranks: readonly Stretch[], margin: number): PoweredPart[] {
  const parts: PoweredPart[] = [];
  let from = whole.from;
  let follows = false;
  for (const crank of cranks) {
    if (crank.to <= whole.from || crank.from >= whole.to) continue;
    const begin = Math.max(from, crank.from);
    const end = Math.min(whole.to, crank.to);
    parts.push(
      { from, to: begin - margin, isCranked: false, follows },
      { from: begin, to: end, isCranked: true, follows: begin > from },
    );
    from = end;
    follows = true;
  }
  parts.push({ from, to: whole.to, isCranked: false, follows });
  return parts.filter((part) => part.to > part.from);
}

/** A time without power, from where the volts fell to where they are back; the current may have gone before the volts. */
interface Pause extends Stretch {
  readonly gone: number;
}

/**
 * Where the pump was off because somebody, or a control unit, wanted it so: after a prime for longer than an interruption, or
 * until the engine was cranked.
 */
export function pausesIn(
  volts: Float64Array,
  amperes: Float64Array | undefined,
  blockS: number,
  cranks: readonly Stretch[] = [],
): Pause[] {
  const on = shareOfHigh(volts, ON_SHARE);
  const flows = amperes && shareOfHigh(amperes, FLOWING_SHARE);
  const coasts = Math.round(COASTS_MOST_S / blockS);
  const soon = Math.round(STARTS_WITHIN_S / blockS);
  const pauses: Pause[] = [];
  let begun = volts.findIndex((value) => value > on);
  let since = -1;
  for (let block = begun; block >= 0 && block < volts.length; block++) {
    if (!(volts[block] > on)) {
      if (since < 0) since = block;
      continue;
    }
    if (since >= 0) {
      let gone = since;
      while (amperes && flows !== undefined && gone > since - coasts && gone > 0 && amperes[gone - 1] < flows) gone--;
      const isPrimed = begun > 0 && (gone - begun) * blockS < PRIME_MOST_S;
      const isLong = isPrimed && (block - gone) * blockS >= LIMITS.interruptionS.value;
      // Power that came while the engine was cranked already was that start's own.
      const isStart = cranks.some(({ from }) => begun < from && from >= gone - soon && from <= block + soon);
      if (isLong || isStart) {
        pauses.push({ from: since, to: block, gone });
        begun = block;
      }
    }
    since = -1;
  }
  return pauses;
}

/** Blocks of a stretch that are above a level; of a long one by a sample of them. */
function timeAbove(values: Float64Array, level: number, { from, to }: Stretch): number {
  const stride = Math.max(1, Math.ceil((to - from) / LOOKED_AT));
  let count = 0;
  for (let block = from; block < to; block += stride) if (values[block] > level) count++;
  return count * stride;
}
