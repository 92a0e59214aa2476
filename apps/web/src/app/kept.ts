import { useCallback, useSyncExternalStore } from 'react';
import { useMeQuery } from './api';

/** Bumped when the shape of what is kept changes, so that no draft of an older version is misread. */
const PREFIX = 'jarro-kept-1/';
const CHANGED = 'jarro-kept';

/** By key: the text it was parsed from, so that an unchanged draft stays the same object. */
const parsed = new Map<string, { readonly text: string; readonly value: unknown }>();
/** What a full or forbidden storage refused; it lives as long as the page. */
const homeless = new Map<string, string>();

function textOf(key: string): string | undefined {
  return homeless.get(key) ?? localStorage.getItem(PREFIX + key) ?? undefined;
}

function read(key: string): unknown {
  const text = textOf(key);
  if (text === undefined) return undefined;
  const known = parsed.get(key);
  if (known?.text === text) return known.value;
  const value: unknown = JSON.parse(text);
  parsed.set(key, { text, value });
  return value;
}

function write(key: string, value: unknown): void {
  homeless.delete(key);
  if (value === undefined) localStorage.removeItem(PREFIX + key);
  else {
    const text = JSON.stringify(value);
    try {
      localStorage.setItem(PREFIX + key, text);
    } catch {
      homeless.set(key, text);
    }
  }
  dispatchEvent(new Event(CHANGED));
}

function subscribe(listener: () => void): () => void {
  addEventListener(CHANGED, listener);
  // The same person's other tabs.
  addEventListener('storage', listener);
  return () => {
    removeEventListener(CHANGED, listener);
    removeEventListener('storage', listener);
  };
}

/**
 * Something half done that must outlive a change of stage, a reload or a closed tab: a draft, a test that is running.
 * It belongs to whoever is signed in on this device; undefined when there is none, and keeping undefined forgets it.
 */
export function useKept<T>(name: string): readonly [T | undefined, (value: T | undefined) => void] {
  const { data: me } = useMeQuery();
  const key = `${me?.user.id ?? ''}/${name}`;
  const value = useSyncExternalStore(subscribe, () => read(key)) as T | undefined;
  const keep = useCallback((next: T | undefined) => write(key, next), [key]);
  return [value, keep];
}

/** Signing out leaves nothing half done behind on a shared device. */
export function forgetKept(): void {
  homeless.clear();
  for (const name of Object.keys(localStorage)) if (name.startsWith(PREFIX)) localStorage.removeItem(name);
  dispatchEvent(new Event(CHANGED));
}
