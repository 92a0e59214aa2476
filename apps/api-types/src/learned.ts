import type { FoundCounts } from '@jarro/core';

/** What a shop's own cases amount to. */
export interface Learned {
  /** Closed cases whose verdict the evidence allowed, by what was found. */
  readonly found: FoundCounts;
  readonly closed: number;
  /** Closed on a lead's word against the gate: they teach nothing. */
  readonly overridden: number;
  readonly comebacks: number;
  /** Closed cases that came in with a pump condemned by somebody, and of those the ones whose pump was good. */
  readonly quoted: number;
  readonly saved: number;
  /** Cases with a verdict, and what it took to get there; null where there are none. */
  readonly decided: number;
  readonly medianReadings: number | null;
  readonly medianMinutes: number | null;
  /** Whether the weights count the shop's own cases. */
  readonly counted: boolean;
}
