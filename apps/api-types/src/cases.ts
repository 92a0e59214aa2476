import type { CaseSystem, DropLedger, Family, Intake, KnownGood, Pointer, PressureSheet } from '@jarro/core';
import type { CaptureItem, EvidenceItem, Seal, VerdictKind } from './evidence.js';

export type CaseStage = 'open' | 'decided' | 'closed';

/** What is shown of a case wherever it is named. */
export interface CaseHead {
  readonly id: string;
  /** Raised by everything that is written to the case. */
  readonly version: number;
  readonly number: number;
  readonly complaint: string;
  readonly stage: CaseStage;
  readonly openedAt: string;
  readonly openedBy: string | null;
  readonly vehicle?: {
    readonly model: string;
    readonly year: number | null;
    readonly engine: string;
    readonly plate: string;
  };
}

export interface BoardCase extends CaseHead {
  readonly captures: number;
  readonly readings: number;
  readonly verdict: VerdictKind | null;
  /** What an open case's evidence speaks for most; null where nothing was read, or it isn't weighed yet. */
  readonly suspect: Family | null;
  /** Its repair is finished, and the recheck begun. */
  readonly repaired: boolean;
  readonly isComeback: boolean;
}

/** Open cases first, then the newest. */
export interface BoardPage {
  readonly cases: readonly BoardCase[];
  readonly total: number;
  readonly pages: number;
}

/** What a case's standing evidence amounts to at once. */
export interface Judgement {
  readonly ledger: DropLedger;
  readonly sheet: PressureSheet;
  readonly pointers: readonly Pointer[];
}

/** A case as another one names it. */
export interface NumberedCase {
  readonly id: string;
  readonly number: number;
}

export interface CaseDetail extends CaseHead, Judgement {
  /** The case that this vehicle was in with before. */
  readonly comebackOf: NumberedCase | null;
  /** Later cases that this vehicle came back with. */
  readonly comebacks: readonly NumberedCase[];
  readonly evidence: readonly EvidenceItem[];
  readonly captures: readonly CaptureItem[];
  readonly intake: Intake & { readonly sequence: number };
  readonly seal: Seal;
  readonly system: CaseSystem | null;
  /** Known-goods of its system, of other cases: the weights rate the pump by them. */
  readonly goods: readonly KnownGood[];
}
