import { BENCH_ANSWERS, type BenchKind } from './bench-answers.js';

/** Position of the key and engine while something was read. A reading means nothing without it. */
export const KEY_STATES = ['off', 'prime', 'cranking', 'idle', 'loaded', 'after-off'] as const;
export type KeyState = (typeof KEY_STATES)[number];

/** States in which the pump draws its current, so that a voltage is a loaded one. */
export const LOADED_STATES: ReadonlySet<KeyState> = new Set(['prime', 'cranking', 'idle', 'loaded']);

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

/** A pressure watched after shut-down. */
export interface HoldRecord {
  /** Seconds since the first point, and gauge pressure, Pa. */
  readonly points: readonly (readonly [number, number])[];
  readonly blocked: HoldBlock;
}
export const HOLD_BLOCKS = ['none', 'supply', 'return'] as const;
export type HoldBlock = (typeof HOLD_BLOCKS)[number];

export interface VolumeRecord {
  readonly volumeM3: number;
  readonly durationS: number;
}

/** A number in SI, one of a few answers, or a small record. */
export type EntryValue = number | string | HoldRecord | VolumeRecord;

/** Where the other lead was. */
export const REFERENCES = ['battery-', 'battery+', 'chassis', 'local-ground'] as const;
export type Reference = (typeof REFERENCES)[number];

export const TRUSTS = ['high', 'normal', 'low'] as const;
export type Trust = (typeof TRUSTS)[number];

/** How a reading was taken, as far as it isn't the usual way: from battery -, loaded, trusted as usual. */
export interface HowTaken {
  readonly reference?: Reference;
  /** The connector was open: no current flowed. */
  readonly unloaded?: boolean;
  readonly trust?: Trust;
}

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
