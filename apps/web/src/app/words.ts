import type { BarState, KeyState, Pattern } from '@jarro/core';
import type { ReadingKind, VerdictKind } from './types';

export const STATION_NAMES: Record<ReadingKind, string> = {
  battery: 'Battery +',
  fuse_output: 'Fuse, out',
  relay_output: 'Relay 87',
  switch_output: 'Cut-off, out',
  pump_feed: 'Pump feed',
  pump_ground: 'Ground pin',
  current: 'Pump current',
};

export const KEY_STATE_NAMES: Record<KeyState, string> = {
  off: 'Key off',
  prime: 'Prime',
  cranking: 'Cranking',
  idle: 'Idle',
  loaded: 'Loaded',
  'after-off': 'After shut-down',
};

export const VERDICT_NAMES: Record<VerdictKind, string> = {
  'replace-pump': 'Pump condemned',
  'repair-supply': 'Supply side to repair',
  'repair-ground': 'Ground side to repair',
  'no-fault-found': 'Pump cleared',
};

export const PATTERN_NAMES: Record<Pattern, string> = {
  even: 'Even humps',
  'locked-notch': 'One notch, every turn',
  'burnt-bars': 'Notches, every turn',
  'random-dropouts': 'Dropouts at random',
  'dead-stretch': 'Dead stretches',
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
