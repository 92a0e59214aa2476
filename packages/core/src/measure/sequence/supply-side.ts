import { LIMITS } from '../../limits/limits.js';
import { edgeNear, stretchesWhere, type Incident, type Stretch } from './incident.js';
import { usualOf } from './usual.js';

/** What feeds the pump, block by block, as far as it was recorded. */
export interface SupplyView {
  /** Volts across the pump with what its current costs on the way added: what the supply would give to no load. */
  readonly emf: Float64Array;
  /** How far the current is from its usual, A; absent when it wasn't recorded. */
  readonly away?: Float64Array;
  /** Source resistance, ohm, where it is known. */
  readonly ohm?: number;
  readonly blockS: number;
}

/** A chance deviation of so many times the scatter is out of the question in hours of blocks. */
export const SCATTERS = 6;
/** The resistance is known to a tenth or two, so what a current costs is allowed to be wrong by this share. */
const COST_DOUBT = 0.4;
/** Gaps of a bouncing contact are one failure, s. */
export const JOIN_S = 0.03;
/** Shorter than this a contact hasn't opened but clicked, s. */
const LEAST_S = 0.002;
/** An edge is over within this. */
const EDGE_S = 0.004;

/**
 * Times that the supply failed: what it would give to no load falls by more than a sound path may lose. A pump that opens,
 * drags or runs dry moves along the load line and leaves this where it was; whatever the current does afterwards too.
 */
export function supplyFailures(view: SupplyView, powered: Stretch): Incident[] {
  const { emf, away, ohm = 0, blockS } = view;
  const least = LIMITS.supplyDropV.value;
  const usual = usualOf(emf, powered, { blockS, limit: least, followed: true });
  const limit = Math.max(least, SCATTERS * usual.scatter);
  const failed = (block: number) => {
    const current = away ? away[block] : 0;
    const fall = usual.at(block) - emf[block];
    // More current than usual is no lack of volts, unless the volts lack by more than it can cost.
    return fall > limit + COST_DOUBT * ohm * Math.abs(current) && !(ohm === 0 && current > 0);
  };
  const size = (seconds: number) => Math.max(1, Math.round(seconds / blockS));
  const reach = size(EDGE_S);
  return stretchesWhere(powered, { begins: failed, goesOn: failed }, { join: size(JOIN_S), least: size(LEAST_S) }).map(({ from, to }) => ({
    start: edgeNear(emf, from, reach, powered),
    ...(to < powered.to - reach && { end: edgeNear(emf, to, reach, powered) }),
    seenIn: 'supply',
    isSharp: true,
    rose: false,
  }));
}
