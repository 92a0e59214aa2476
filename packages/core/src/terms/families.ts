/** What may be guilty, as families of faults. The names are part of the command line contract. */
export const FAMILIES = [
  'supply',
  'fuse',
  'relay-contact',
  'relay-control',
  'cutoff-switch',
  'feed-wiring',
  'ground-wiring',
  'module',
  'module-command',
  'pump-electrical',
  'pump-mechanical',
  'hydraulic',
  'sensor',
  'not-fuel',
  'measurement-error',
  'healthy',
] as const;

export type Family = (typeof FAMILIES)[number];

/** The families of suspects, as they stand within a sentence. */
export const FAMILY_NAMES: Readonly<Record<Family, string>> = {
  supply: 'battery and charging',
  fuse: 'fuse',
  'relay-contact': 'relay contact',
  'relay-control': 'relay control side',
  'cutoff-switch': 'cut-off switch',
  'feed-wiring': 'feed wiring',
  'ground-wiring': 'ground wiring',
  module: 'driver module',
  'module-command': 'module command',
  'pump-electrical': 'pump, electrically',
  'pump-mechanical': 'pump, mechanically',
  hydraulic: 'fuel side: tank, filter, regulator, lines',
  sensor: 'a sensor that lies',
  'not-fuel': 'not the fuel system',
  'measurement-error': 'the measurement itself',
  healthy: 'nothing wrong with the pump',
};
