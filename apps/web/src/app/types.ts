import type { Analysis, DropLedger, LadderStation, PumpGate } from '@jarro/core';

/** What the server answers; times are ISO 8601 text. */
export interface Me {
  readonly uploadLimitBytes: number;
  readonly user: { readonly id: string; readonly name: string; readonly role: 'technician' | 'lead' | 'adviser' };
  readonly shop: {
    readonly name: string;
    readonly town: string;
    readonly supplyDropV: number;
    readonly groundDropV: number;
  };
}

export type ReadingKind = LadderStation | 'current';
export type KeyState = 'off' | 'prime' | 'cranking' | 'idle';
export type VerdictKind = 'replace-pump' | 'repair-supply' | 'repair-ground' | 'no-fault-found';

export interface CaseHead {
  readonly id: string;
  readonly number: number;
  readonly complaint: string;
  readonly stage: 'open' | 'decided' | 'closed';
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
}

interface Evidence {
  readonly id: string;
  readonly takenBy: string | null;
  readonly takenAt: string;
  readonly voidedAt: string | null;
  readonly voidReason: string | null;
  readonly voidedBy: string | null;
  readonly hash: string;
}

export interface Reading extends Evidence {
  readonly kind: ReadingKind;
  readonly value: number;
  readonly keyState: KeyState;
  readonly faultPresent: boolean;
}

export interface CaptureItem extends Evidence {
  readonly fileName: string;
  readonly label: string;
  readonly sizeBytes: number;
  readonly sha256: string;
  readonly sampleRateHz: number;
  readonly samples: number;
  readonly startS: number;
  readonly channels: readonly { readonly name: string; readonly role: string; readonly unit: string }[];
  readonly analysis: (Omit<Analysis, 'turnA'> & { readonly turnA?: readonly number[] }) | null;
}

export interface VerdictItem {
  readonly id: string;
  readonly kind: VerdictKind;
  readonly statement: string;
  readonly gate: PumpGate;
  readonly overrideReason: string | null;
  readonly decidedBy: string | null;
  readonly decidedAt: string;
  readonly hash: string;
}

export interface CaseDetail extends CaseHead {
  readonly readings: readonly Reading[];
  readonly captures: readonly CaptureItem[];
  readonly verdicts: readonly VerdictItem[];
  readonly ledger: DropLedger;
  readonly gate: PumpGate;
}
