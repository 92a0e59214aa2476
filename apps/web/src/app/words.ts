import type { BarState } from '@jarro/core';

export const BAR_STATE_NAMES: Record<BarState, string> = { sound: 'sound', weak: 'weak', open: 'open' };

export function when(iso: string): string {
  return new Intl.DateTimeFormat(undefined, { dateStyle: 'medium', timeStyle: 'short' }).format(new Date(iso));
}

/** So many of something: "1 capture", "3 captures". */
export const counted = (count: number, one: string, more: string) => `${count} ${count === 1 ? one : more}`;
