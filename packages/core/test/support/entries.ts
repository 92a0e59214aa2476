import {
  EMPTY_INTAKE,
  type Entry,
  type EntryKind,
  type EntryValue,
  type Intake,
  type KeyState,
} from '../../src/index.js';

let count = 0;

/** A piece of evidence taken with the fault present. */
export function entry(kind: EntryKind, at: string, value: EntryValue, keyState: KeyState = 'idle'): Entry {
  const id = `e${++count}`;
  return { id, kind, at, value, keyState, faultPresent: true, takenAt: '2026-01-01T10:00:00.000Z' };
}

/** The gauge is bled: until then no number counts. */
export const bled = entry('check', 'gauge_bled', 'yes');

export const intake = (changes: Partial<Intake> = {}): Intake => ({ ...EMPTY_INTAKE, ...changes });
