import type { HoldRecord } from '../measure/pressure/hold-record.js';
import type { KeyState } from '../terms/key-states.js';
import { isAsItIs, type HowTaken } from './how-taken.js';
import { READING_KINDS, type ReadingKind } from './reading.js';
import type { SweepRecord } from '../measure/pulses/sweep-record.js';
import type { SoakRecord, VolumeRecord } from './records.js';

/** What is kept by hand: everything but a capture, which has a record of its own. */
export type EntryKind = Exclude<ReadingKind, 'capture'>;
/** What is typed or pressed in a case; a capture comes as a file. */
export const ENTRY_KINDS: readonly EntryKind[] = READING_KINDS.filter((kind) => kind !== 'capture');

/** An answer to any question: it couldn't be done here. It weighs nothing, and isn't asked again. */
export const NOT_POSSIBLE = 'not-possible';

/** A number in SI, one of a few answers, or a small record. */
export type EntryValue = number | string | HoldRecord | VolumeRecord | SweepRecord | SoakRecord;

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
  return entries.filter((entry) => entry.value !== NOT_POSSIBLE && isAsItIs(entry));
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
