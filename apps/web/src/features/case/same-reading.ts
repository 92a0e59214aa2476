import { countedEntries, type CaptureEntry, type Entry } from '@jarro/core';
import type { CaseDetail } from '@jarro/api-types';
import { entriesOf } from './evidence';

/** Whether two say the same of the same: a number that was taken over from a capture is that capture's. */
export function isSameReading(entry: Pick<Entry, 'kind' | 'at' | 'value' | 'keyState'>, other: Entry): boolean {
  if (entry.kind !== other.kind || entry.at !== other.at || entry.keyState !== other.keyState) return false;
  // One fall is one hold test, whichever line was said to be blocked.
  const valueOf = ({ value }: Pick<Entry, 'value'>) =>
    JSON.stringify(typeof value === 'object' && 'points' in value ? value.points : value);
  return valueOf(entry) === valueOf(other);
}

/** Of what a capture measured that which isn't among the readings yet. */
export function untaken(item: CaseDetail, entries: readonly CaptureEntry[]): CaptureEntry[] {
  // What was taken over before the gauge was bled doesn't count: it may be taken again.
  const known = countedEntries(entriesOf(item));
  return entries.filter((entry) => !known.some((other) => isSameReading(entry, other)));
}
