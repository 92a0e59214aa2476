import type {
  Analysis,
  DropLedger,
  EntryKind,
  Intake,
  KeyState,
  LadderStation,
  Pointer,
  PressureSheet,
  PumpGate,
  Stage,
} from '@jarro/core';

/** What the server answers; times are ISO 8601 text. */
export type UserRole = 'technician' | 'lead' | 'adviser';
export type PressureUnitName = 'psi' | 'bar' | 'kPa';

export interface Me {
  readonly uploadLimitBytes: number;
  readonly photoLimitBytes: number;
  readonly user: {
    readonly id: string;
    readonly name: string;
    readonly email: string;
    readonly role: UserRole;
    readonly pressureUnit: PressureUnitName | null;
  };
  readonly shop: ShopSettings;
}

export interface ShopSettings {
  readonly name: string;
  readonly town: string;
  readonly supplyDropV: number;
  readonly groundDropV: number;
  readonly pressureUnit: PressureUnitName;
  readonly version: number;
}

export interface Person {
  readonly id: string;
  readonly name: string;
  readonly email: string;
  readonly role: UserRole;
  readonly active: boolean;
}

export interface AuditLine {
  readonly id: number;
  readonly action: string;
  readonly target: string;
  readonly at: string;
  readonly by: string | null;
}

export type ReadingKind = LadderStation | 'current';
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

export type EvidenceKind = EntryKind | 'intake' | 'photo' | 'capture' | 'verdict' | 'note' | 'caution' | 'void';

/** One link of the case's chain. */
export interface EvidenceItem {
  readonly id: string;
  readonly sequence: number;
  readonly kind: EvidenceKind;
  readonly at: string;
  readonly value: unknown;
  readonly keyState: KeyState | null;
  readonly faultPresent: boolean | null;
  readonly takenBy: string | null;
  readonly takenAt: string;
  readonly hash: string;
  readonly voided: { readonly by: string | null; readonly at: string; readonly reason: string } | null;
}

export interface CaptureItem {
  readonly id: string;
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

export interface VerdictValue {
  readonly kind: VerdictKind;
  readonly statement: string;
  readonly gate: PumpGate;
  readonly overrideReason: string | null;
}

export interface PhotoValue {
  readonly fileName: string;
  readonly caption: string;
}

export interface CaseDetail extends CaseHead {
  readonly evidence: readonly EvidenceItem[];
  readonly captures: readonly CaptureItem[];
  readonly intake: Intake & { readonly sequence: number };
  readonly seal: { readonly entries: number; readonly head: string; readonly intact: boolean };
  readonly ledger: DropLedger;
  readonly gate: PumpGate;
  readonly sheet: PressureSheet;
  readonly pointers: readonly Pointer[];
}

export interface NewEntry {
  readonly caseId: string;
  readonly kind: EntryKind;
  readonly at: string;
  readonly value: unknown;
  readonly keyState: KeyState;
  readonly faultPresent: boolean;
}

export type { Stage };
