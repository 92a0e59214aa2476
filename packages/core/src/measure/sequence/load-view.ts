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
  readonly blockS: number;
}

/** Less than this share of its usual level may be anything: another gear, a warmer tank (common practice, no published source). */
const LEAST_SHARE = 0.1;

/** How far from its usual a channel has to be. */
export function limitOf({ scatter, usual }: LoadView): number {
  return Math.max(SCATTERS * scatter, LEAST_SHARE * Math.abs(usual));
}
