import type { HoldRecord } from '../measure/pressure/hold-record.js';
import type { KeyState } from '../terms/key-states.js';
import type { Reference, Trust } from '../terms/references.js';
import { BENCH_ANSWERS, type BenchKind } from './bench-answers.js';

export const ENTRY_KINDS = [
  'voltage',
  'current',
  'check',
  'battery',
  'pressure',
  'timing',
  'hold',
  'volume',
  'scan',
  'resistance',
  'duty',
  ...(Object.keys(BENCH_ANSWERS) as BenchKind[]),
] as const;
export type EntryKind = (typeof ENTRY_KINDS)[number];

export interface VolumeRecord {
  readonly volumeM3: number;
  readonly durationS: number;
}

/** An answer to any question: it couldn't be done here. It weighs nothing, and isn't asked again. */
export const NOT_POSSIBLE = 'not-possible';

/** A number in SI, one of a few answers, or a small record. */
export type EntryValue = number | string | HoldRecord | VolumeRecord;

/** How a reading was taken, as far as it isn't the usual way: from battery -, loaded, trusted as usual. */
export interface HowTaken {
  readonly reference?: Reference;
  /** The connector was open: no current flowed. */
  readonly unloaded?: boolean;
  readonly trust?: Trust;
  /** The circuit was helped while it was read. */
  readonly helped?: Helped;
}

/** How a circuit may be helped while something is read of it: the relay bridged, the pump fed and grounded, the module passed by. */
export const HELPS = ['bridged', 'fed', 'module-bypassed'] as const;
export type Helped = (typeof HELPS)[number];

/** One piece of evidence as the reasoning sees it. */
export interface Entry extends HowTaken {
  readonly id: string;
  readonly kind: EntryKind;
  /** Where or of what: a station, a check, a scan parameter. */
  readonly at: string;
  readonly value: EntryValue;
  readonly keyState: KeyState;
  /** Whether the fault showed at that moment. */
  readonly faultPresent: boolean;
  /** ISO 8601. */
  readonly takenAt: string;
}

/** What was really read or answered, of the circuit as it is. */
export function answered(entries: readonly Entry[]): readonly Entry[] {
  return entries.filter(({ value, helped }) => value !== NOT_POSSIBLE && helped === undefined);
}

/** The newest entry of a kind and place; entries come oldest first. */
export function newestEntry(
  entries: readonly Entry[],
  kind: EntryKind,
  at: string,
  state?: KeyState,
): Entry | undefined {
  return entries.filter((e) => e.kind === kind && e.at === at && (state === undefined || e.keyState === state)).at(-1);
}

/** The newest number of a kind and place. */
export function newestNumber(
  entries: readonly Entry[],
  kind: EntryKind,
  at: string,
  state?: KeyState,
): { readonly value: number; readonly id: string } | undefined {
  const entry = newestEntry(entries, kind, at, state);
  return typeof entry?.value === 'number' ? { value: entry.value, id: entry.id } : undefined;
}
