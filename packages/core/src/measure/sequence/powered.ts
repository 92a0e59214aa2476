import { LIMITS } from '../../limits/limits.js';
import { median, quantile } from '../../signal/levels.js';
import { thin } from '../../signal/thin.js';
import type { Stretch } from './incident.js';
import { supplyFailures } from './supply-side.js';

/** Share of its highest level from which a channel is on. */
const ON_SHARE = 0.4;
/** Of a current whose highest may be that of a start, six times the running one. */
const FLOWING_SHARE = 0.06;
const HIGH = 0.9;
/** Enough blocks to know a level by. */
const LOOKED_AT = 65_536;
/** A level is known by so much of it, s. */
const LEVEL_S = 0.02;
/** A rotor that coasts loses a twentieth of its own voltage in a few hundredths of a second; a battery that is let go loses nothing. */
const COASTS_SHARE = 0.02;
/** A channel's last block before, and first after, a switch are partly of either. */
export const SWITCH_BLOCKS = 2;

/**
 * From the first block with power to the last. A surge through a weak feed leaves few volts at first, so that what flows counts
 * as well.
 * @param volts at the pump, by blocks
 * @param amperes from the clamp's zero, where it tells levels
 */
export function poweredStretch(volts: Float64Array, amperes: Float64Array | undefined, blockS: number): Stretch {
  const byVolts = onIn(volts);
  const byCurrent = amperes && onIn(amperes);
  const from = byCurrent && byCurrent.to > byCurrent.from ? Math.min(byVolts.from, byCurrent.from) : byVolts.from;
  return { from, to: Math.max(from, switchedOff({ from, to: byVolts.to }, volts, amperes, blockS)) };
}

/** A piece of a record in which the pump had power, and what is to be known of it. */
export interface PoweredPart extends Stretch {
  /** The starter turned the engine through all of it. */
  readonly isCranked: boolean;
  /** The engine was cranked until it, or since it: what it begins with is the way to its own level. */
  readonly follows: boolean;
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
  const wholes = begins.map((from, i) => ({ from, to: begins[i + 1] ?? volts.length, offFrom: pauses[i]?.gone }));
  const least = LEAST_PART_S / blockS;
  const pieces = wholes.flatMap(({ offFrom, ...whole }) =>
    aroundCranks(whole, cranks, Math.round(BEFORE_CRANK_S / blockS)).map((piece) => ({
      ...piece,
      ...(offFrom !== undefined && offFrom < piece.to && { offFrom: Math.max(piece.from, offFrom) }),
    })),
  );
  if (pieces.length === 1) return pieces;
  const telling = pieces.filter((piece) => onShare(volts, piece) * (piece.to - piece.from) > least);
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
      const isStart = cranks.some(({ from }) => from >= gone - soon && from <= block + soon);
      if (isLong || isStart) {
        pauses.push({ from: since, to: block, gone });
        begun = block;
      }
    }
    since = -1;
  }
  return pauses;
}

/** Values of blocks with power, or of some of them. */
export function whileOn(values: Float64Array, volts: Float64Array, { from, to }: Stretch): Float64Array {
  const on = shareOfHigh(volts, ON_SHARE);
  const stride = Math.max(1, Math.ceil((to - from) / LOOKED_AT));
  const chosen = new Float64Array(Math.ceil((to - from) / stride));
  let count = 0;
  for (let block = from; block < to; block += stride) if (volts[block] > on) chosen[count++] = values[block];
  return chosen.subarray(0, count);
}

/** Share of a stretch with power. */
function onShare(volts: Float64Array, stretch: Stretch): number {
  const looked = Math.min(LOOKED_AT, stretch.to - stretch.from);
  return Math.min(1, whileOn(volts, volts, stretch).length / Math.max(1, looked));
}

/** @param share of a channel's highest level @returns the level */
export function shareOfHigh(values: Float64Array, share: number): number {
  return share * quantile(thin(values, LOOKED_AT), HIGH);
}

/** @param share of the channel's highest level from which it is on */
export function onIn(values: Float64Array, share = ON_SHARE): Stretch {
  const on = shareOfHigh(values, share);
  const from = values.findIndex((value) => value > on);
  if (from < 0) return { from: 0, to: 0 };
  let to = values.length;
  while (!(values[to - 1] > on)) to--;
  return { from, to };
}

/**
 * Where the feed was switched off. The pump's own voltage, as it coasts, keeps the feed up for a while: so current that is gone at
 * the end says it, unless the volts stay, and without a current a failure that nothing comes back from.
 */
function switchedOff(powered: Stretch, volts: Float64Array, amperes: Float64Array | undefined, blockS: number): number {
  if (powered.to <= powered.from) return powered.to;
  if (amperes) {
    const gone = goneFrom(amperes, powered, blockS);
    return gone === undefined || stays(volts, gone, powered, blockS) ? powered.to : gone;
  }
  const last = supplyFailures({ volts, emf: volts, blockS }, powered).at(-1);
  return last && last.end === undefined ? Math.floor(last.start) : powered.to;
}

/**
 * Where a current that is gone at the record's end last flowed; undefined where it flows to the end, or never did. Dead stretches
 * of a turn are over within less than the looking back.
 */
function goneFrom(amperes: Float64Array, { from, to }: Stretch, blockS: number): number | undefined {
  const least = ON_SHARE * flowOf(amperes.subarray(from, to));
  const few = Math.max(1, Math.round(LEVEL_S / blockS));
  if (!(least > 0) || levelOf(amperes, Math.max(from, amperes.length - few), amperes.length) > least) return undefined;
  let last = Math.min(to, amperes.length) - 1;
  while (last >= from && !(amperes[last] > least)) last--;
  return last < from ? undefined : last;
}

/** Whether the feed keeps its volts, for long enough to be seen, although nothing flows any more. */
function stays(volts: Float64Array, gone: number, { to }: Stretch, blockS: number): boolean {
  const first = gone + SWITCH_BLOCKS;
  const few = Math.max(1, Math.round(LEVEL_S / blockS / 4));
  if (to - first < 4 * few) return false;
  const [after, atEnd] = [levelOf(volts, first, first + few), levelOf(volts, to - few, to)];
  return atEnd > (1 - COASTS_SHARE) * after;
}

/** Of a current where it flows: of a piece that ends soon after a switch-off that may be less than half. */
function flowOf(values: Float64Array): number {
  const flows = shareOfHigh(values, FLOWING_SHARE);
  return median(thin(values, LOOKED_AT).filter((value) => value > flows));
}

function levelOf(values: Float64Array, from: number, to: number): number {
  return median(thin(values.subarray(from, to), LOOKED_AT));
}
