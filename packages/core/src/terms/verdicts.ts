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
