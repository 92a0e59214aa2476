import type { BarState } from '@jarro/core';

export const BAR_STATE_NAMES: Record<BarState, string> = { sound: 'sound', weak: 'weak', open: 'open' };

export function when(iso: string): string {
  return new Intl.DateTimeFormat(undefined, { dateStyle: 'medium', timeStyle: 'short' }).format(new Date(iso));
}
