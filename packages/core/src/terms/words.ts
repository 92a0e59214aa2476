import type { KeyState } from './key-states.js';
import type { Reference, Trust } from './references.js';

/** The terms as they stand on screen, in a report and at the command line. */
export const REFERENCE_NAMES: Readonly<Record<Reference, string>> = {
  'battery-': 'Battery −',
  'battery+': 'Battery +',
  chassis: 'Chassis',
  'local-ground': 'Ground nearby',
};

/** How far a reading is trusted, in words. */
export const TRUST_NAMES: Readonly<Record<Trust, string>> = { high: 'Sure', normal: 'As usual', low: 'Doubtful' };

/** The key states in words. */
export const KEY_STATE_NAMES: Readonly<Record<KeyState, string>> = {
  off: 'Key off',
  prime: 'Prime',
  cranking: 'Cranking',
  idle: 'Idle',
  loaded: 'Loaded',
  'after-off': 'After shut-down',
};
