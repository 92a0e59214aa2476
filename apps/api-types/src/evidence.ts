import type {
  Analysis,
  ChannelSetup,
  DropLedger,
  EntryKind,
  Family,
  GateResult,
  HowTaken,
  KeyState,
  MathChannel,
  Repeat,
  Role,
  Stage,
  Verdict,
  VerdictGrounds,
} from '@jarro/core';

/** What a link of a case's chain can be: entries of the core, and what happens around them. */
export type EvidenceKind =
  | EntryKind
  | ('intake' | 'photo' | 'capture' | 'analysis' | 'verdict' | 'note' | 'mark' | 'caution' | 'system' | 'void')
  | ('repair' | 'left-in' | 'taken-out' | 'close' | 'reopen' | 'import' | 'comeback' | 'removal');

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

export interface StoredChannel {
  readonly name: string;
  readonly role: Role;
  readonly unit: string;
}

/** How a file was read and measured: with it the same file can be measured again. */
export interface CaptureSetup {
  readonly setups: Readonly<Record<string, Partial<ChannelSetup>>>;
  readonly bars?: number;
  readonly rateHz?: number;
}

/** What a link of kind 'capture' holds. */
export interface CaptureValue {
  readonly fileName: string;
  readonly label: string;
  readonly sizeBytes: number;
  /** Of the file as it was sent. */
  readonly sha256: string;
  readonly sampleRateHz: number;
  readonly samples: number;
  readonly startS: number;
  readonly channels: readonly StoredChannel[];
  /** What follows is absent from captures of before originals were kept. */
  readonly setup?: CaptureSetup;
  /** Over what is stored of it: facts, samples, levels. */
  readonly contentSha256?: string;
  readonly analysisSha256?: string;
  readonly coreVersion?: string;
}

/** What a link of kind 'analysis' holds: what a newer Jarro measured of a capture, whose id is the link's `at`. */
export interface AnalysisValue {
  readonly label: string;
  readonly analysisSha256: string;
  readonly coreVersion: string;
}

export type StoredAnalysis = Omit<Analysis, 'turnA'> & { readonly turnA?: readonly number[] };

export interface CaptureItem extends Pick<
  CaptureValue,
  'fileName' | 'label' | 'sizeBytes' | 'sha256' | 'sampleRateHz' | 'samples' | 'startS' | 'channels'
> {
  readonly id: string;
  readonly analysis: StoredAnalysis | null;
  readonly math: readonly MathItem[];
}

/** A channel worked out of a capture's own. */
export interface MathItem extends MathChannel {
  /** Its place among those of the capture. */
  readonly channel: number;
  readonly name: string;
  readonly unit: string;
}

/** What a link of kind 'photo' holds. */
export interface PhotoValue {
  readonly fileName: string;
  readonly caption: string;
  readonly mime: string;
  readonly sizeBytes: number;
  readonly sha256: string;
  readonly width: number;
  readonly height: number;
  /** What of the case it shows, besides its stage: a station of the path, or another entry. */
  readonly about?: { readonly station: string } | { readonly entry: string };
  /** Absent from photos of before thumbnails were sealed. */
  readonly thumbnailSha256?: string;
}

/** 'repair-supply' was the first version's word for every fault before the pump. */
export type VerdictKind = Verdict | 'repair-supply';

/** A gate as it stood; the first version kept a list of proofs. */
export type StoredGate =
  | GateResult
  | { readonly allowed: boolean; readonly proofs: readonly { readonly met: boolean; readonly text: string }[] };

/** What a link of kind 'verdict' holds: the gate and the drops as they stood. */
export interface VerdictValue {
  readonly kind: VerdictKind;
  readonly statement: string;
  readonly gate: StoredGate;
  /** Absent from verdicts of the first version. */
  readonly families?: readonly { readonly family: Family; readonly probability: number }[];
  readonly ledger: DropLedger;
  readonly overrideReason: string | null;
  /** What was ruled out and what isn't known; absent from verdicts of earlier versions. */
  readonly grounds?: VerdictGrounds;
}

/** What a link of kind 'close' holds: all that stood when the vehicle was handed back, in words. */
export interface CloseValue {
  readonly needs: readonly string[];
  readonly repeats: readonly Repeat[];
}

/** What a link of kind 'comeback' holds: the case that the vehicle was in with before. */
export interface ComebackValue {
  readonly caseId: string;
  readonly number: number;
}

/** What a link of kind 'import' holds: where the case came from. */
export interface ImportValue {
  readonly shop: string;
  readonly number: number;
  readonly exportedAt: string;
  readonly originals: boolean;
}

/** What a link of kind 'reopen' holds. */
export interface ReopenValue {
  readonly reason: string;
}

/** Whether a case is as it was left, by its chain and its signed end. */
export interface Seal {
  readonly entries: number;
  /** Hash of the newest link: who noted it can tell later that nothing before it was changed. */
  readonly head: string;
  readonly intact: boolean;
  /** What was changed outside Jarro, each in a sentence. */
  readonly problems: readonly string[];
  /** Since when the case is signed; null where its signature is missing. */
  readonly since: string | null;
}

/** The same after everything that belongs to a case was read again, byte by byte. */
export interface VerifiedCase extends Seal {
  /** What no seal covers, being older than the seals that would. */
  readonly notSealed: readonly string[];
  readonly captures: number;
  readonly photos: number;
}

/** What may have waited on a device until the server could be reached. */
export interface MayHaveWaited {
  /** Chosen by the device, so that it is kept once however often it is sent. */
  readonly id?: string;
  /** How long ago it was made, for one that waited on the device. */
  readonly secondsAgo?: number;
}

/** A note as it is sent. */
export interface NewNote extends MayHaveWaited {
  readonly caseId: string;
  readonly stage: Stage;
  readonly text: string;
}

/** A photo as it is sent, besides the picture itself. */
export interface NewPhoto extends MayHaveWaited {
  readonly caseId: string;
  readonly fileName: string;
  readonly caption: string;
  readonly stage: Stage;
  readonly about?: PhotoValue['about'];
}

/** A new entry as it is sent. */
export interface NewEntry extends HowTaken, MayHaveWaited {
  readonly caseId: string;
  readonly kind: EntryKind;
  readonly at: string;
  readonly value: unknown;
  readonly keyState: KeyState;
  readonly faultPresent: boolean;
}
