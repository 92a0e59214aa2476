import { createSlice, type PayloadAction } from '@reduxjs/toolkit';
import type { MayHaveWaited, NewEntry, NewNote } from '@jarro/api-types';

/** What can wait: an entry of evidence, or a note. */
export type Letter =
  { readonly entry: Omit<NewEntry, keyof MayHaveWaited> } | { readonly note: Omit<NewNote, keyof MayHaveWaited> };

/** Something that was made while the server couldn't be reached. */
export type Waiting = Letter & {
  /** Its id on the server, so that it is kept once however often it is sent. */
  readonly id: string;
  /** Whose it is: it is sent as theirs, or waits until they are signed in again. */
  readonly userId: string;
  /** By this device's clock, ms. */
  readonly takenAtMs: number;
  /** Why the server won't have it. */
  readonly refused?: string;
};

/** Where a letter goes, with what is in it. */
export function addressOf(letter: Letter) {
  const [path, { caseId, ...body }] =
    'entry' in letter ? (['evidence', letter.entry] as const) : (['notes', letter.note] as const);
  return { caseId, url: `cases/${caseId}/${path}`, body };
}

export interface Outbox {
  readonly waiting: readonly Waiting[];
}

const EMPTY: Outbox = { waiting: [] };

const slice = createSlice({
  name: 'outbox',
  initialState: EMPTY,
  reducers: {
    entryWaits: ({ waiting }, { payload }: PayloadAction<Waiting>) => ({ waiting: [...waiting, payload] }),
    /** It arrived, or was given up. */
    entryGone: ({ waiting }, { payload: id }: PayloadAction<string>) => ({
      waiting: waiting.filter((one) => one.id !== id),
    }),
    entryRefused: ({ waiting }, { payload: { id, refused } }: PayloadAction<{ id: string; refused: string }>) => ({
      waiting: waiting.map((one) => (one.id === id ? { ...one, refused } : one)),
    }),
    /** To be sent once more. */
    entryAgain: ({ waiting }, { payload: id }: PayloadAction<string>) => ({
      waiting: waiting.map(({ refused, ...one }) =>
        one.id === id || refused === undefined ? one : { ...one, refused },
      ),
    }),
    /** As another tab has it. */
    outboxIs: (_, { payload }: PayloadAction<readonly Waiting[]>) => ({ waiting: payload }),
  },
});

export const outboxReducer = slice.reducer;
export const { entryWaits, entryGone, entryRefused, entryAgain, outboxIs } = slice.actions;
