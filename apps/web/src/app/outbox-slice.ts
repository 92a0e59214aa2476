import { createSlice, type PayloadAction } from '@reduxjs/toolkit';
import type { NewEntry } from '@jarro/api-types';

/** An entry that was made while the server couldn't be reached. */
export interface WaitingEntry {
  /** Its id on the server, so that it is kept once however often it is sent. */
  readonly id: string;
  /** Whose it is: it is sent as theirs, or waits until they are signed in again. */
  readonly userId: string;
  readonly entry: Omit<NewEntry, 'id' | 'secondsAgo'>;
  /** By this device's clock, ms. */
  readonly takenAtMs: number;
  /** Why the server won't have it. */
  readonly refused?: string;
}

export interface Outbox {
  readonly waiting: readonly WaitingEntry[];
}

const EMPTY: Outbox = { waiting: [] };

const slice = createSlice({
  name: 'outbox',
  initialState: EMPTY,
  reducers: {
    entryWaits: ({ waiting }, { payload }: PayloadAction<WaitingEntry>) => ({ waiting: [...waiting, payload] }),
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
    outboxIs: (_, { payload }: PayloadAction<readonly WaitingEntry[]>) => ({ waiting: payload }),
  },
});

export const outboxReducer = slice.reducer;
export const { entryWaits, entryGone, entryRefused, entryAgain, outboxIs } = slice.actions;
