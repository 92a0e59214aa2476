import { LIMITS } from '../../limits/limits.js';
import { deepAtOnce, edgeNear, stretchesWhere, type Incident, type Stretch } from './incident.js';
import { limitOf, type LoadView } from './load-view.js';
import { CUT_OFF_SHARE, JOIN_S, SCATTERS } from './thresholds.js';
import { usualOf, type Usual } from './usual.js';

/** What feeds the pump, block by block, as far as it was recorded. */
export interface SupplyView {
  /** Volts across the pump with what its current costs on the way added: what the supply would give to no load. */
  readonly emf: Float64Array;
  /** Volts across the pump as they are. */
  readonly volts: Float64Array;
  /** Absent when it wasn't recorded. */
  readonly current?: LoadView;
  /** Source resistance, ohm, where it is known. */
  readonly ohm?: number;
  readonly blockS: number;
}

/** The resistance is known to a tenth or two, so what a current costs is allowed to be wrong by this share. */
const COST_DOUBT = 0.4;
/** The volts themselves have to fall by this share of it: a spike in the clamp’s lead is no failure of the feed. */
const SEEN_SHARE = 0.5;
/** Shorter than this a contact hasn't opened but clicked, s. */
const LEAST_S = 0.002;
/** One block may hold the edge of a switch-off. */
const LEAST_BLOCKS = 2;
/** What a rotor makes as it coasts goes on falling: only the begin of a fall tells how it came, s. */
const BEGINS_S = 0.01;
/** So much of the way back to the usual is no chance any more. */
const CLIMBS_SHARE = 0.05;
/** Volts that come back by so much of their fall do so by a switch. */
const JUMPS_SHARE = 0.25;
/** An edge is over within this. */
const EDGE_S = 0.004;

/**
 * Times that the supply failed: what it would give to no load falls by more than a sound path may lose. A pump that opens,
 * drags or runs dry moves along the load line and leaves this where it was; whatever the current does afterwards too.
 */
export function supplyFailures(view: SupplyView, powered: Stretch): Incident[] {
  const { emf, volts, current, ohm = 0, blockS } = view;
  const least = LIMITS.supplyDropV.value;
  // While the current is away from its usual, what it costs isn't known well enough to call a new level usual.
  const isUsual = (block: number) => !current || Math.abs(current.away[block]) <= limitOf(current);
  const usual = usualOf(emf, powered, { blockS, limit: least, follows: isUsual });
  const usualV = volts === emf ? usual : usualOf(volts, powered, { blockS, limit: least, follows: isUsual });
  const draws = ohm === 0 && current && usualOf(current.raw, powered, { blockS, limit: Infinity, follows: () => true });
  const limit = Math.max(least, SCATTERS * usual.scatter);
  const failed = (block: number) => {
    // Nearly always so, and soon known.
    if (usualV.at(block) - volts[block] <= SEEN_SHARE * limit) return false;
    const away = current ? current.brisk[block] : 0;
    // More current than before is no lack of volts, where nobody knows what it costs.
    if (draws && Math.max(away, current.raw[block] - draws.at(block)) > 0) return false;
    return usual.at(block) - emf[block] > limit + COST_DOUBT * ohm * Math.abs(away);
  };
  const size = (seconds: number) => Math.max(1, Math.round(seconds / blockS));
  const reach = size(EDGE_S);
  const shortest = Math.max(LEAST_BLOCKS, size(LEAST_S));
  return stretchesWhere(powered, { begins: failed, goesOn: failed }, { join: size(JOIN_S), least: shortest }).map(
    ({ from, to: back }) => {
      const start = edgeNear(emf, from, reach, powered);
      const to = closedAgain(view, { from, to: back }, usual, reach);
      return {
        isSharp: current !== undefined || fellAtOnce(view, usual, { from, to }),
        start,
        ...(to < powered.to - reach && { end: Math.max(start, edgeNear(emf, to, reach, powered)) }),
        seenIn: 'supply',
        rose: false,
      };
    },
  );
}

/**
 * Where a feed that was cut off is closed again, if its volts come back by and by: from there on they only climb. What the rotor
 * made by itself fell until then, and the current of its new start, where it isn't known, holds the volts down long after.
 */
function closedAgain({ emf, current }: SupplyView, { from, to }: Stretch, usual: Usual, reach: number): number {
  const least = emf.subarray(from, to).reduce((a, b) => Math.min(a, b), Infinity);
  const level = usual.at(from);
  const jumps = emf[Math.min(emf.length - 1, to + reach)] - emf[to - reach] > JUMPS_SHARE * (level - least);
  if (current || jumps || least > (1 - CUT_OFF_SHARE) * level) return to;
  const rises = Math.max(SCATTERS * usual.scatter, CLIMBS_SHARE * (level - least));
  // Backwards to where it last fell: a contact that bounces lets the rotor coast for less and less.
  let lowest = emf[to - 1];
  // Until the winding's current has come up a feed that is closed shows all its volts, for less than an edge takes.
  for (let block = to - 1, last = block; block >= from && last - block < reach; block--) {
    if (emf[block] > lowest + rises) continue;
    lowest = Math.min(lowest, emf[block]);
    last = block;
  }
  let closed = to;
  while (closed > from && emf[closed - 1] > lowest + rises) closed--;
  return closed;
}

/** Whether volts began to go as fast as a contact lets go, and not as slowly as a pump comes to draw more. */
function fellAtOnce({ emf, blockS }: SupplyView, { at }: Usual, { from, to }: Stretch): boolean {
  const begin = { from, to: Math.min(to, from + Math.max(1, Math.round(BEGINS_S / blockS))) };
  const below = (block: number) => at(from) - emf[block];
  let most = 0;
  for (let block = begin.from; block < begin.to; block++) most = Math.max(most, below(block));
  return deepAtOnce(below, begin, most, blockS) !== undefined;
}
