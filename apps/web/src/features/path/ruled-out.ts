import {
  caseBench,
  type CaseLadder,
  type Entry,
  type EntryValue,
  type KeyState,
  type Reference,
  type Trust,
} from '@jarro/core';
import type { Bench } from '../case/bench';
import type { StationKindOfReading } from './station-kinds';

/** A reading that was just kept, with how it was taken. */
export interface KeptEntry {
  readonly kind: StationKindOfReading;
  readonly at: string;
  readonly value: EntryValue;
  readonly keyState: KeyState;
  readonly faultPresent: boolean;
  readonly reference: Reference;
  readonly unloaded: boolean;
  readonly trust: Trust;
}

/**
 * What one more reading rules out or narrows down, in words: against all others that the bench knows, whether it has this one
 * already or not, so that the words follow what arrives late.
 */
export function ruledOut({ evidence, rules }: Pick<Bench, 'evidence' | 'rules'>, entry: KeptEntry): string | undefined {
  const { at, keyState } = entry;
  const own = evidence.entries.findLastIndex(
    (other) =>
      other.kind === entry.kind && other.at === at && other.keyState === keyState && other.value === entry.value,
  );
  const others = evidence.entries.filter((_, i) => i !== own);
  const ladderOf = (entries: readonly Entry[]) =>
    caseBench({ ...evidence, entries }, rules).ladders.find((ladder) => ladder.keyState === keyState);
  const after = ladderOf([...others, { ...entry, id: 'new', takenAt: '' }]);
  if (!after) return undefined;
  const before = ladderOf(others);
  const cleared = changed(before, after, 'cleared');
  const suspect = changed(before, after, 'suspect');
  const volts = after.rungs.find(({ station }) => station.id === at)?.volts?.toFixed(2);
  if (suspect.length > 0) return `${volts} V: what is lost lies in ${list(suspect)}.`;
  if (cleared.length > 0) return `${volts} V clears ${list(cleared)}.`;
  return undefined;
}

function changed(before: CaseLadder | undefined, after: CaseLadder, to: 'cleared' | 'suspect'): string[] {
  const known = new Map(before?.rungs.map(({ station, standing }) => [station.id, standing]));
  return after.rungs
    .filter(({ station, standing }) => standing === to && known.get(station.id) !== to)
    .map(({ station }) => station.name);
}

function list(names: readonly string[]): string {
  const last = names[names.length - 1];
  return names.length < 2 ? last : `${names.slice(0, -1).join(', ')} and ${last}`;
}
