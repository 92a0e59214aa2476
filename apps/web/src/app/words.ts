import type { BarState, Pattern } from '@jarro/core';
import type { VerdictKind } from '@jarro/api-types';

export const VERDICT_NAMES: Record<VerdictKind, string> = {
  'replace-pump': 'Pump condemned',
  'replace-relay': 'Relay condemned',
  'repair-relay-control': 'Relay’s control side to repair',
  'replace-module': 'Driver module condemned',
  'repair-module-command': 'Module’s command to repair',
  'repair-feed-wiring': 'Feed wiring to repair',
  'repair-ground': 'Ground side to repair',
  'replace-fuse': 'Fuse to replace, and what blew it to find',
  'replace-switch': 'Cut-off switch condemned',
  'repair-battery': 'Battery or charging to repair',
  'replace-sensor': 'Sensor condemned',
  'repair-fuel-side': 'Fuel side to repair',
  'repair-supply': 'Supply side to repair',
  'no-fault-found': 'Pump cleared',
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
