import { useCallback } from 'react';
import { useDispatch, useSelector } from 'react-redux';
import { useMeQuery } from './api';
import { kept, type keptReducer } from './kept-slice';

type WithKept = { readonly kept: ReturnType<typeof keptReducer> };

/**
 * Something half done that must outlive a change of stage, a reload or a closed tab: a draft, a test that is running.
 * It belongs to whoever is signed in on this device; undefined when there is none, and keeping undefined forgets it.
 */
export function useKept<T>(name: string): readonly [T | undefined, (value: T | undefined) => void] {
  const { data: me } = useMeQuery();
  const own = `${me?.user.id ?? ''}/${name}`;
  const value = useSelector((state: WithKept) => state.kept.byName[own]) as T | undefined;
  const dispatch = useDispatch();
  const keep = useCallback((next: T | undefined) => void dispatch(kept({ name: own, value: next })), [dispatch, own]);
  return [value, keep];
}
