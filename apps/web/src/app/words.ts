import { FOUND_NAMES, type BarState, type Pattern } from '@jarro/core';
import type { VerdictKind } from '@jarro/api-types';

/** The first version had one word for every fault before the pump. */
export const VERDICT_NAMES: Readonly<Record<VerdictKind, string>> = {
  ...FOUND_NAMES,
  'repair-supply': 'Supply side to repair',
};

export const PATTERN_NAMES: Record<Pattern, string> = {
  even: 'Even humps',
  'locked-notch': 'One notch, every turn',
  'burnt-bars': 'Notches, every turn',
  'random-dropouts': 'Dropouts at random',
  'brush-bounce': 'Brushes bounce',
  'dead-stretch': 'Dead stretches',
  'locked-rotor': 'Rotor stands still',
  'no-current': 'No current',
  pulsed: 'Switched by a driver',
  irregular: 'No pattern',
};

export const BAR_STATE_NAMES: Record<BarState, string> = { sound: 'sound', weak: 'weak', open: 'open' };

export function when(iso: string): string {
  return new Intl.DateTimeFormat(undefined, { dateStyle: 'medium', timeStyle: 'short' }).format(new Date(iso));
}

/** Groups thousands by a thin space, as on the trace and the map. */
export function grouped(value: number): string {
  return Math.round(value)
    .toString()
    .replace(/\B(?=(\d{3})+$)/g, '\u2009');
}
