import type {
  Analysis,
  CaseSystem,
  DropLedger,
  EntryKind,
  Family,
  GateResult,
  HouseRules,
  HowTaken,
  Intake,
  KeyState,
  Pointer,
  PressureSheet,
  Stage,
  SystemProfile,
  Verdict,
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
  readonly rules: HouseRules;
  readonly pressureUnit: PressureUnitName;
  readonly version: number;
}

/** One version of a system of the shop's own. */
export interface SystemVersion {
  readonly version: number;
  readonly profile: SystemProfile;
  readonly madeBy: string | null;
  readonly madeAt: string;
}

/** A system with its newest version. */
export interface SystemItem extends SystemVersion {
  readonly id: string;
  readonly retired: boolean;
}

export interface SystemHistory {
  readonly id: string;
  readonly retired: boolean;
  /** Newest first. */
  readonly versions: readonly SystemVersion[];
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

/** 'repair-supply' was the first version's word for every fault before the pump. */
export type VerdictKind = Verdict | 'repair-supply';

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

/** Open cases first, then the newest. */
export interface BoardPage {
  readonly cases: readonly BoardCase[];
  readonly total: number;
  readonly pages: number;
}

export type EvidenceKind =
  EntryKind | 'intake' | 'photo' | 'capture' | 'verdict' | 'note' | 'caution' | 'system' | 'void';

/** One link of the case's chain. */
export interface EvidenceItem {
  readonly id: string;
  readonly sequence: number;
  readonly kind: EvidenceKind;
  readonly at: string;
  readonly value: unknown;
  readonly keyState: KeyState | null;
  readonly faultPresent: boolean | null;
  readonly how: HowTaken | null;
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

/** A gate as it stood; the first version kept a list of proofs. */
export type StoredGate =
  | GateResult
  | { readonly allowed: boolean; readonly proofs: readonly { readonly met: boolean; readonly text: string }[] };

export interface VerdictValue {
  readonly kind: VerdictKind;
  readonly statement: string;
  readonly gate: StoredGate;
  readonly families?: readonly { readonly family: Family; readonly probability: number }[];
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
  readonly system: CaseSystem | null;
  readonly sheet: PressureSheet;
  readonly pointers: readonly Pointer[];
}

export interface NewEntry extends HowTaken {
  readonly caseId: string;
  readonly kind: EntryKind;
  readonly at: string;
  readonly value: unknown;
  readonly keyState: KeyState;
  readonly faultPresent: boolean;
}

export type { Stage };
