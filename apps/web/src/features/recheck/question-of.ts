import type { EvidenceItem, NewEntry } from '@jarro/api-types';

/** What a link asked, without what it found. */
export function questionOf({ kind, at, keyState, how }: EvidenceItem) {
  const state = keyState ?? 'prime';
  return { kind: kind as NewEntry['kind'], at, state, ...(how?.reference && { reference: how.reference }) };
}
