import type { Pattern, RampResult } from '../measure/current/types.js';

/** What was seen in a pump current, as a technician would call it. */
export const PATTERN_NAMES: Readonly<Record<Pattern, string>> = {
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

/** What was measured of a capture of the pump current, in a line. */
export function captureText({ steady, rpm, pattern }: RampResult): string {
  return [
    steady && `${steady.meanA.toFixed(2)} A`,
    steady && `ripple ${steady.ripplePercent.toFixed(0)} %`,
    rpm !== undefined && `${grouped(rpm)} rpm`,
    PATTERN_NAMES[pattern].toLowerCase(),
  ]
    .filter(Boolean)
    .join(', ');
}

/** Groups thousands by a thin space, as on the trace and the map. */
export function grouped(value: number): string {
  return Math.round(value)
    .toString()
    .replace(/\B(?=(\d{3})+$)/g, '\u2009');
}
