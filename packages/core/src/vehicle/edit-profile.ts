import type { Station, StationKind, SystemProfile } from './profile.js';

/** What a station is called and takes until somebody says better. */
const USUAL: Readonly<Record<StationKind, Pick<Station, 'name' | 'accessMinutes'> & Partial<Station>>> = {
  battery: { name: 'Battery +', accessMinutes: 1 },
  'fusible-link': { name: 'Fusible link', accessMinutes: 2 },
  fuse: { name: 'Fuse', accessMinutes: 2 },
  relay: { name: 'Relay 87', accessMinutes: 4 },
  'cutoff-switch': { name: 'Cut-off switch', accessMinutes: 8 },
  'junction-box': { name: 'Junction box, out', accessMinutes: 6, ohm: 0.02 },
  module: { name: 'Driver module, out', accessMinutes: 15 },
  splice: { name: 'Splice', accessMinutes: 10 },
  connector: { name: 'Connector', accessMinutes: 8 },
  wire: { name: 'Harness', accessMinutes: 15, wire: { lengthM: 3, areaMm2: 2.5 } },
  pump: { name: 'Pump', accessMinutes: 12 },
  ground: { name: 'Ground point', accessMinutes: 10 },
};

/** A station of that kind under an id that the path hasn't got yet. */
export function newStation(kind: StationKind, stations: readonly Pick<Station, 'id'>[]): Station {
  const taken = new Set(stations.map(({ id }) => id));
  let id: string = kind;
  for (let i = 2; taken.has(id); i++) id = `${kind}-${i}`;
  return { id, kind, backProbe: true, ...USUAL[kind] };
}

/** Nothing but what every path has. */
export function emptyProfile(): SystemProfile {
  const stations: Station[] = [];
  for (const kind of ['battery', 'pump', 'connector', 'ground'] as const) stations.push(newStation(kind, stations));
  return {
    format: 'jarro.system/1',
    id: 'own',
    name: '',
    control: 'relay',
    stations,
    pump: { volts: 12, amperes: 5, rpm: 6500, pressurePa: 350e3, windingOhm: 0.55 },
    primeS: 2,
    crankOnly: false,
    currentWindows: {},
    pressureWindows: {},
  };
}
