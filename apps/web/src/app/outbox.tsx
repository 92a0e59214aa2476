import { useCallback, useEffect } from 'react';
import { useDispatch, useSelector } from 'react-redux';
import { findMeasure } from '@jarro/core';
import { Button } from '../ui/button';
import { aheadNoMore } from './ahead-slice';
import { baseApi, errorText, isAway, isSignedOut, useMeQuery, useSendWaitingMutation } from './api';
import { forgetPicture } from './device-pictures';
import {
  caseOf,
  entryAgain,
  entryGone,
  entryRefused,
  type Letter,
  type outboxReducer,
  type Waiting,
} from './outbox-slice';

type WithOutbox = { readonly outbox: ReturnType<typeof outboxReducer> };

const TRY_AGAIN_MS = 3000;

/** What waits on this device, whosever it is. */
export function useWaiting(): readonly Waiting[] {
  return useSelector(({ outbox }: WithOutbox) => outbox.waiting);
}

/** What waits on this device to be sent, in a line above every page; sends it as soon as the server answers. */
export function OutboxBar() {
  const { data: me } = useMeQuery();
  const all = useWaiting();
  const mine = all.filter(({ userId }) => userId === me?.user.id);
  useSending(mine.filter(({ refused }) => refused === undefined));
  const dispatch = useDispatch();
  if (all.length === 0) return null;
  const waiting = mine.filter(({ refused }) => refused === undefined).length;
  const others = all.length - mine.length;
  return (
    <div role="status" className="no-print space-y-2 bg-ochre/20 px-4 py-2">
      {waiting > 0 && (
        <p>
          <strong>{count(waiting)} on this device.</strong> The server can’t be reached; it is sent with its own time as
          soon as it answers. Go on measuring.
        </p>
      )}
      {others > 0 && <p>{count(others)} for a colleague, and is sent when they are signed in here again.</p>}
      {mine.map(
        (one) =>
          one.refused !== undefined && (
            <p key={one.id} className="flex flex-wrap items-center gap-3">
              <span>
                <strong>{textOf(one)} was not kept.</strong> {one.refused}
              </span>
              <Button onClick={() => dispatch(entryAgain(one.id))}>Send it again</Button>
              <Button onClick={() => dispatch(letterGone(one))}>Discard it</Button>
            </p>
          ),
      )}
    </div>
  );
}

/** One at a time and in their order; those that the server refuses stay, with its reason. */
function useSending(waiting: readonly Waiting[]): void {
  const dispatch = useDispatch();
  const [send, { isLoading }] = useSendWaitingMutation();
  const first = waiting[0] as Waiting | undefined;
  const trySending = useCallback(async () => {
    if (!first || isLoading) return;
    const { id, takenAtMs } = first;
    const secondsAgo = Math.max(0, (Date.now() - takenAtMs) / 1000);
    const result = await send({ letter: first, id, secondsAgo });
    if (!('error' in result)) dispatch(letterGone(first));
    else if (isSignedOut(result.error)) dispatch(baseApi.util.invalidateTags(['Me']));
    else if (!isAway(result.error)) {
      dispatch(entryRefused({ id, refused: errorText(result.error) ?? '' }));
      // What it showed ahead of the server's answer isn't so.
      dispatch(aheadNoMore([id]));
      dispatch(baseApi.util.invalidateTags([{ type: 'Case', id: caseOf(first) }]));
    }
  }, [dispatch, first, isLoading, send]);
  useEffect(() => {
    if (!first) return;
    const now = () => void trySending();
    const timer = setInterval(now, TRY_AGAIN_MS);
    addEventListener('online', now);
    return () => {
      clearInterval(timer);
      removeEventListener('online', now);
    };
  }, [first, trySending]);
}

/** Takes a letter out of the box, with what lies on this device for it. */
function letterGone(letter: Waiting) {
  if ('photo' in letter) {
    forgetPicture(letter.id).catch((error: unknown) => console.warn('A picture stays on this device', error));
  }
  return entryGone(letter.id);
}

function count(entries: number): string {
  return entries === 1 ? 'One entry waits' : `${entries} entries wait`;
}

function textOf(letter: Letter): string {
  if ('note' in letter) return `Note: ${letter.note.text}`;
  if ('photo' in letter) return `Photo: ${letter.photo.caption || letter.photo.fileName}`;
  const { kind, at, value } = letter.entry;
  const title = findMeasure(kind, at)?.title ?? at;
  return typeof value === 'string' || typeof value === 'number' ? `${title}: ${value}` : title;
}
