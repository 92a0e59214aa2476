import { createSlice, type PayloadAction } from '@reduxjs/toolkit';
import type { FetchArgs } from '@reduxjs/toolkit/query';
import type { MayHaveWaited, NewEntry, NewNote, NewPhoto } from '@jarro/api-types';

type Unsent<T> = Omit<T, keyof MayHaveWaited>;

/** What can wait: an entry of evidence, a note, or a photo, whose picture lies in the device's own place for pictures. */
export type Letter =
  { readonly entry: Unsent<NewEntry> } | { readonly note: Unsent<NewNote> } | { readonly photo: Unsent<NewPhoto> };

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

/** The case that a letter belongs to. */
export function caseOf(letter: Letter): string {
  if ('entry' in letter) return letter.entry.caseId;
  return 'note' in letter ? letter.note.caseId : letter.photo.caseId;
}

/** A letter as it is sent. @param picture of a photo */
export function requestOf(letter: Letter, waited: MayHaveWaited, picture?: Blob): FetchArgs {
  const to = { url: `cases/${caseOf(letter)}`, method: 'POST' };
  if ('photo' in letter) {
    const { caseId: _, about, ...photo } = letter.photo;
    return {
      ...{ ...to, url: `${to.url}/photos`, body: picture },
      params: { ...photo, ...about, ...waited },
      headers: { 'Content-Type': 'application/octet-stream' },
    };
  }
  const [path, { caseId: _, ...body }] =
    'entry' in letter ? (['evidence', letter.entry] as const) : (['notes', letter.note] as const);
  return { ...to, url: `${to.url}/${path}`, body: { ...body, ...waited } };
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
