import type { Verdict } from '@jarro/core';

/** What a verdict would have replaced or repaired, as it is said in a sentence. */
export const THE_PARTS: Readonly<Record<Verdict, string>> = {
  'replace-pump': 'the pump',
  'replace-relay': 'the relay',
  'repair-relay-control': 'the relay’s control wiring',
  'replace-module': 'the driver module',
  'repair-module-command': 'the module’s command wiring',
  'repair-feed-wiring': 'the feed wiring',
  'repair-ground': 'the ground connection',
  'replace-fuse': 'the fuse',
  'replace-switch': 'the cut-off switch',
  'repair-battery': 'the battery',
  'replace-sensor': 'the sensor',
  'repair-fuel-side': 'the fuel-side part',
  'no-fault-found': 'nothing',
};
