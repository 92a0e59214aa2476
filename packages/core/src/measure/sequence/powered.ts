import { median, quantile } from '../../signal/levels.js';
import { thin } from '../../signal/thin.js';
import type { Stretch } from './incident.js';
import { supplyFailures } from './supply-side.js';

/** Share of its highest level from which a channel is on. */
export const ON_SHARE = 0.4;
/** Of a current whose highest may be that of a start, six times the running one. */
export const FLOWING_SHARE = 0.06;
const HIGH = 0.9;
/** Enough blocks to know a level by. */
export const LOOKED_AT = 65_536;
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

/** Values of blocks with power, or of some of them. */
export function whileOn(values: Float64Array, volts: Float64Array, { from, to }: Stretch): Float64Array {
  const on = shareOfHigh(volts, ON_SHARE);
  const stride = Math.max(1, Math.ceil((to - from) / LOOKED_AT));
  const chosen = new Float64Array(Math.ceil((to - from) / stride));
  let count = 0;
  for (let block = from; block < to; block += stride) if (volts[block] > on) chosen[count++] = values[block];
  return chosen.subarray(0, count);
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
