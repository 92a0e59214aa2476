import type { CaseDetail, EvidenceItem, MayHaveWaited, Me, NewEntry, NewNote, NewPhoto } from '@jarro/api-types';
import type { ThunkDispatch, UnknownAction } from '@reduxjs/toolkit';
import type { BaseQueryApi, FetchArgs, FetchBaseQueryError } from '@reduxjs/toolkit/query/react';
import { v4 as newId } from 'uuid';
import { aheadNoMore, showsAhead, withAhead } from '../ahead-slice';
import { keepPicture, pictureOf } from '../device-pictures';
import { caseOf, entryWaits, requestOf, type Letter } from '../outbox-slice';
import type { request } from '../requests';
import { baseApi, caseAndBoard } from './base';
import { caseApi } from './case';
import { isAway, isSignedOut } from './refusals';
import { sessionApi } from './session';

/** What is taken down at the car: sent at once, or kept on this device until the server answers. */
export const lettersApi = baseApi.injectEndpoints({
  endpoints: (build) => ({
    /**
     * Where the server can't be reached the entry waits on this device, and counts as made. The scale moves with the
     * Enter, not with the answer; a refusal takes the entry back out. It bears the server's id from the first, so what is
     * opened on its row stays open when the answer comes.
     */
    addEntry: build.mutation<{ id: string }, Omit<NewEntry, keyof MayHaveWaited>>({
      queryFn: (entry, store, _options, ask) => sendOrWait({ entry }, store, ask),
      invalidatesTags: caseAndBoard,
    }),
    /** The same for a note. */
    addNote: build.mutation<{ id: string }, Omit<NewNote, keyof MayHaveWaited>>({
      queryFn: (note, store, _options, ask) => sendOrWait({ note }, store, ask),
      invalidatesTags: caseAndBoard,
    }),
    /** The same for a photo, but that it shows only once it is kept: here or there. */
    addPhoto: build.mutation<{ id: string }, { photo: Omit<NewPhoto, keyof MayHaveWaited>; picture: File }>({
      queryFn: ({ photo, picture }, store, _options, ask) => sendOrWait({ photo }, store, ask, picture),
      invalidatesTags: (_result, _error, { photo }) => [{ type: 'Case', id: photo.caseId }, 'Board'],
    }),
    sendWaiting: build.mutation<{ id: string }, { letter: Letter; id: string; secondsAgo: number }>({
      queryFn: async ({ letter, ...waited }, _store, _options, ask) => {
        // A browser that can’t read its own database has lost it as well.
        const picture = 'photo' in letter ? await pictureOf(waited.id).catch(() => undefined) : undefined;
        if ('photo' in letter && !picture) return { error: said(410, PICTURE_GONE) };
        const { error } = await ask(requestOf(letter, waited, picture));
        return error ? { error } : { data: { id: waited.id } };
      },
      invalidatesTags: (result, _error, { letter }) => (result ? [{ type: 'Case', id: caseOf(letter) }, 'Board'] : []),
    }),
  }),
});

export const { useAddEntryMutation, useAddNoteMutation, useAddPhotoMutation, useSendWaitingMutation } = lettersApi;

/** What takes thunks that change the cases on the screen. */
type Dispatch = ThunkDispatch<
  Parameters<ReturnType<typeof caseApi.endpoints.caseDetail.select>>[0],
  unknown,
  UnknownAction
>;

/** Adds a link to the case on the screen until the server's own case holds it. */
function showAhead(dispatch: Dispatch, caseId: string, link: EvidenceItem): void {
  dispatch(showsAhead({ caseId, item: link }));
  dispatch(caseApi.util.updateQueryData('caseDetail', caseId, (item) => withAhead(item as CaseDetail, [link])));
}

/** Takes what was shown ahead off the screen again. */
function takeBack(dispatch: Dispatch, caseId: string, id: string): void {
  dispatch(aheadNoMore([id]));
  dispatch(
    caseApi.util.updateQueryData('caseDetail', caseId, (item) => ({
      ...item,
      evidence: item.evidence.filter((one) => one.id !== id),
    })),
  );
}

/** What was made as it shows before the server has it: without a seal. */
function unsealed(letter: Exclude<Letter, { photo: unknown }>, id: string, me?: Me): EvidenceItem {
  const made = {
    ...{ id, sequence: 0, hash: '', voided: null },
    takenAt: new Date().toISOString(),
    takenBy: me?.user.name ?? null,
  };
  if ('note' in letter) {
    const { stage, text } = letter.note;
    return { ...made, kind: 'note', at: stage, value: text, keyState: null, faultPresent: null, how: null };
  }
  const { kind, at, value, keyState, faultPresent, caseId: _, ...how } = letter.entry;
  return { ...made, kind, at, value, keyState, faultPresent, how };
}

const PICTURE_GONE = 'Its picture is no longer on this device. Take it again.';
const NO_ROOM = 'The server can’t be reached, and this device has no room for the photo. Take it again later.';

/** What the server would answer, said by this device. */
function said(status: number, detail: string): FetchBaseQueryError {
  return { status, data: { detail } };
}

/**
 * Shows a letter, sends it, and lets it wait on this device where nobody answers.
 * @param picture of a photo, which isn't shown ahead
 */
async function sendOrWait(
  letter: Letter,
  { dispatch, getState }: Pick<BaseQueryApi, 'dispatch' | 'getState'>,
  ask: (what: FetchArgs) => ReturnType<typeof request>,
  picture?: Blob,
): Promise<{ data: { id: string } } | { error: FetchBaseQueryError }> {
  const id = newId();
  const me = whoIsIn(getState());
  const caseId = caseOf(letter);
  if (!('photo' in letter)) showAhead(dispatch as Dispatch, caseId, unsealed(letter, id, me));
  const { error } = await ask(requestOf(letter, { id }, picture));
  if (!error) return { data: { id } };
  if (!me || !(isAway(error) || isSignedOut(error))) {
    takeBack(dispatch as Dispatch, caseId, id);
    return { error };
  }
  if (picture) {
    const hasRoom = await keepPicture(id, picture).then(
      () => true,
      () => false,
    );
    if (!hasRoom) return { error: said(507, NO_ROOM) };
  }
  dispatch(entryWaits({ ...letter, id, userId: me.user.id, takenAtMs: Date.now() }));
  // The page then leads to the sign-in.
  if (isSignedOut(error)) dispatch(baseApi.util.invalidateTags(['Me']));
  return { data: { id } };
}

function whoIsIn(state: unknown): Me | undefined {
  const select = sessionApi.endpoints.me.select();
  return select(state as Parameters<typeof select>[0]).data;
}
