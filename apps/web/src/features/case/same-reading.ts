import type { Entry } from '@jarro/core';

/** Whether two say the same of the same: a number that was taken over from a capture is that capture's. */
export function isSameReading(entry: Pick<Entry, 'kind' | 'at' | 'value' | 'keyState'>, other: Entry): boolean {
  if (entry.kind !== other.kind || entry.at !== other.at || entry.keyState !== other.keyState) return false;
  // One fall is one hold test, whichever line was said to be blocked.
  const valueOf = ({ value }: Pick<Entry, 'value'>) =>
    JSON.stringify(typeof value === 'object' && 'points' in value ? value.points : value);
  return valueOf(entry) === valueOf(other);
}
