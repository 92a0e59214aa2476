import { useSyncExternalStore } from 'react';

const KEY = 'jarro-theme';

export type Theme = 'light' | 'dark';

/** Light by default; dark for night work, remembered on this device. */
export function restoreTheme(): void {
  if (localStorage.getItem(KEY) === 'dark') document.documentElement.dataset.theme = 'dark';
}

export function toggleTheme(): void {
  const next: Theme = theme() === 'dark' ? 'light' : 'dark';
  document.documentElement.dataset.theme = next;
  localStorage.setItem(KEY, next);
}

function theme(): Theme {
  return document.documentElement.dataset.theme === 'dark' ? 'dark' : 'light';
}

function subscribe(changed: () => void): () => void {
  const observer = new MutationObserver(changed);
  observer.observe(document.documentElement, { attributeFilter: ['data-theme'] });
  return () => observer.disconnect();
}

/** The theme as it is: what is drawn on a canvas has to be drawn anew when it changes. */
export function useTheme(): Theme {
  return useSyncExternalStore(subscribe, theme);
}
