import { COMMON_PRACTICE, type Finding } from '../../limits/limits.js';
import type { LowTime } from './measure-runs.js';
import type { RampResult } from './types.js';

export interface FindingContext {
  readonly sampleRateHz?: number;
  /** A stated bar count that the pattern contradicts. */
  readonly contradictedBars?: number | undefined;
  /** Begin and end of each time that the rotor came to stand, s. */
  readonly stallsS?: readonly (readonly [number, number])[];
  /** Each time that far less flowed than usual. */
  readonly lowsS?: readonly LowTime[];
  /** Begin and end of each time that the feed broke off within a run, s. */
  readonly breaksS?: readonly (readonly [number, number])[];
  /** When the starter turned the engine, from and until, s. */
  readonly cranksS?: readonly (readonly [number, number])[];
  /** A time in which the pump drives a current backwards as it coasts, and how much at first, A. */
  readonly coasting?: { readonly fromS: number; readonly toS: number; readonly backA: number };
  /** The longest stretch of each turn in which nothing flows, as a share of it; undefined where no turn is known. */
  readonly deadShare?: number;
  /** Short spikes of either direction in the longest run. */
  readonly spikes?: number;
  /** What a driver makes of the current, and a moment within. */
  readonly switched?: { readonly frequencyHz: number; readonly onShare: number; readonly atS: number };
  /** A clamp's zero that nothing shows may be all of it, so that nobody knows which way the current flows. */
  readonly isSignUntold?: boolean;
  /** Its zero is where the current rests within turns or a driver's cycles: nothing shows the pump off. */
  readonly isZeroWithinTurns?: boolean;
  /** The clamp's zero is that of an off alone which ends so soon after a run that the pump may still coast, s. */
  readonly zeroAfterS?: number;
  /** Nothing shows the clamp's zero, and the running current reads as far below it, A. */
  readonly belowZeroA?: number;
}

export type Rule = (ramp: RampResult, context: FindingContext) => Finding | undefined;

/** A rule of the trade that nobody published. */
export const note = (rule: string) => ({ rule, source: COMMON_PRACTICE });

/** How often something comes at random. */
export function often(count: number, { steady, runs = [] }: RampResult): string {
  const lengthS = Math.max(0, ...(steady ? [steady] : runs).map(({ fromS, toS }) => toS - fromS));
  return lengthS > 0 ? `${(count / lengthS).toFixed(count / lengthS < 10 ? 1 : 0)} a second` : `${count}`;
}
