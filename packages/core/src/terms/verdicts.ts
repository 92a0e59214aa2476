import type { Family } from './families.js';

/** What can be decided, and the families that it condemns. */
export const VERDICTS = {
  'replace-pump': ['pump-electrical', 'pump-mechanical'],
  'replace-relay': ['relay-contact'],
  'repair-relay-control': ['relay-control'],
  'replace-module': ['module'],
  'repair-module-command': ['module-command'],
  'repair-feed-wiring': ['feed-wiring'],
  'repair-ground': ['ground-wiring'],
  'replace-fuse': ['fuse'],
  'replace-switch': ['cutoff-switch'],
  'repair-battery': ['supply'],
  'replace-sensor': ['sensor'],
  'repair-fuel-side': ['hydraulic'],
  'no-fault-found': ['healthy', 'not-fuel', 'measurement-error'],
} as const satisfies Readonly<Record<string, readonly Family[]>>;
export type Verdict = keyof typeof VERDICTS;

/** Each verdict as it is chosen, the pump's first. */
export const DECISION_NAMES: Readonly<Record<Verdict, string>> = {
  'no-fault-found': 'Clear the pump',
  'replace-pump': 'Condemn the pump',
  'replace-relay': 'Condemn the relay',
  'repair-relay-control': 'Repair the relay’s control side',
  'replace-module': 'Condemn the driver module',
  'repair-module-command': 'Repair the module’s command',
  'repair-feed-wiring': 'Repair the feed wiring',
  'repair-ground': 'Repair the ground side',
  'replace-fuse': 'Replace the fuse, find what blew it',
  'replace-switch': 'Condemn the cut-off switch',
  'repair-battery': 'Repair battery or charging',
  'replace-sensor': 'Condemn the sensor',
  'repair-fuel-side': 'Repair the fuel side',
};

/** Each verdict as what it found. */
export const FOUND_NAMES: Readonly<Record<Verdict, string>> = {
  'no-fault-found': 'Pump cleared',
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
};
