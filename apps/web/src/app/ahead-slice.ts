import { createSlice, type PayloadAction } from '@reduxjs/toolkit';
import type { CaseDetail, EvidenceItem } from '@jarro/api-types';

/** What was made here and shows before the server's own case holds it. */
export interface Ahead {
  readonly caseId: string;
  readonly item: EvidenceItem;
}

const NONE: readonly Ahead[] = [];

const slice = createSlice({
  name: 'ahead',
  initialState: NONE,
  reducers: {
    showsAhead: (all, { payload }: PayloadAction<Ahead>) => [...all, payload],
    /** The server's case holds them, or they were refused. */
    aheadNoMore: (all, { payload: ids }: PayloadAction<readonly string[]>) =>
      all.filter(({ item }) => !ids.includes(item.id)),
  },
});

export const aheadReducer = slice.reducer;
export const { showsAhead, aheadNoMore } = slice.actions;

type WithAhead = { readonly ahead: readonly Ahead[] };

/** What of a case is ahead of the server's own. */
export function aheadOf(state: unknown, caseId: string): readonly EvidenceItem[] {
  return (state as WithAhead).ahead.filter((one) => one.caseId === caseId).map(({ item }) => item);
}

/**
 * The server's case with what it doesn't hold yet: an answer to a question that was asked before an entry arrived would let the
 * entry go and come again, and whatever stands on it, under the finger.
 */
export function withAhead(item: CaseDetail, ahead: readonly EvidenceItem[]): CaseDetail {
  const known = new Set(item.evidence.map(({ id }) => id));
  const missing = ahead.filter(({ id }) => !known.has(id));
  if (missing.length === 0) return item;
  const last = item.evidence.length;
  return { ...item, evidence: [...item.evidence, ...missing.map((one, i) => ({ ...one, sequence: last + 1 + i }))] };
}
