import type { KnownGood, SystemKind } from '@jarro/core';

/** A known-good on the shop's shelf, with where it comes from. */
export interface ShelfItem {
  readonly id: string;
  readonly caseId: string;
  readonly caseNumber: number;
  readonly captureId: string;
  readonly label: string;
  /** The system of the shop's own that it is of; null where the case had none. */
  readonly systemLine: string | null;
  readonly systemName: string;
  readonly systemKind: SystemKind;
  readonly numbers: KnownGood;
  readonly turnA: readonly number[] | null;
  readonly addedBy: string | null;
  readonly addedAt: string;
  readonly retired: boolean;
}
