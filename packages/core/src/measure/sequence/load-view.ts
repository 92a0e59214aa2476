import { GONE_SHARE } from './incident.js';
import { SCATTERS } from './thresholds.js';

/** A channel that tells of the pump or of what it pumps, block by block. */
export interface LoadView {
  readonly seenIn: 'current' | 'pressure';
  /** How far from its usual, smoothed over humps. */
  readonly away: Float64Array;
  /** The same, smoothed no more than an edge bears. */
  readonly brisk: Float64Array;
  /** The channel itself, not smoothed. */
  readonly raw: Float64Array;
  readonly usual: number;
  readonly scatter: number;
  /** The recorder's step. */
  readonly step: number;
  readonly blockS: number;
  /** It swings as the engine is cranked: its scatter is no noise, and hides nothing that is nearly gone. */
  readonly isSwinging: boolean;
}

/** Less than this share of its usual level may be anything: another gear, a warmer tank (common practice, no published source). */
const LEAST_SHARE = 0.1;

/** What lies between two steps may be read as either. */
const STEPS = 1.5;

/** Of its usual: no compressions swing a current by so much. */
const NEARLY_ALL = 1 - 2 * GONE_SHARE;

/** How far from its usual a channel has to be. */
export function limitOf({ scatter, usual, step, isSwinging }: LoadView): number {
  const byChance = Math.min(SCATTERS * scatter, isSwinging ? NEARLY_ALL * Math.abs(usual) : Infinity);
  return Math.max(byChance, LEAST_SHARE * Math.abs(usual), STEPS * step);
}

/** By and by, it began where the channel left this share of what counts as far, and its scatter. */
const LEAVES_SHARE = 0.25;
const LEAVES_SCATTERS = 3;

/** How far from its usual a channel is when it leaves it, or is back at it. */
export function leavesAt(view: LoadView): number {
  return Math.max(LEAVES_SCATTERS * view.scatter, LEAVES_SHARE * limitOf(view));
}
