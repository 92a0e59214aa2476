import type { Control, Station, StationKind, SystemProfile } from './profile.js';
import { SYSTEMS, type SystemKind } from './system-kinds.js';

/** The kinds of supply path that ship, by the trade's own description. */
export const PATHS = ['P1', 'P2', 'P3', 'P4', 'P5', 'P6', 'P7', 'P8', 'P9'] as const;
export type PathKind = (typeof PATHS)[number];

/** The shipped paths by what switches the pump. */
export const PATH_TITLES: Readonly<Record<PathKind, string>> = {
  P1: 'Relay, cut-off switch, pump',
  P2: 'Relay with an oil-pressure switch beside it',
  P3: 'Relay inside a junction box',
  P4: 'Relay and driver module, regulated by the control unit',
  P5: 'Driver module that regulates by itself',
  P6: 'Two-speed pump, regulator in the tank',
  P7: 'Driver module with fixed steps',
  P8: 'Lift pump and frame pump on one relay',
  P9: 'Lift pump feeding a mechanical high-pressure pump',
};

const station = (
  id: string,
  kind: StationKind,
  name: string,
  accessMinutes: number,
  more: Partial<Station> = {},
): Station => ({
  id,
  kind,
  name,
  accessMinutes,
  backProbe: true,
  ...more,
});

const battery = station('battery', 'battery', 'Battery +', 1);
const link = station('link', 'fusible-link', 'Fusible link', 2);
const fuse = station('fuse', 'fuse', 'Fuse', 2);
const relay = station('relay', 'relay', 'Relay 87', 4);
const cutoff = station('cutoff', 'cutoff-switch', 'Cut-off switch', 8);
const wire = station('harness', 'wire', 'Harness to the rear', 15, { wire: { lengthM: 4.5, areaMm2: 2.5 } });
const connector = station('connector', 'connector', 'Tank connector, feed', 12);
const pump = station('pump', 'pump', 'Pump', 12);
const groundPin = station('ground-pin', 'connector', 'Tank connector, ground', 12);
const groundWire = station('ground-wire', 'wire', 'Ground wire', 12, { wire: { lengthM: 1.5, areaMm2: 2.5 } });
const ground = station('ground', 'ground', 'Ground point', 10);
const driver = station('module', 'module', 'Driver module, out', 15);
const moduleFeed = station('module-feed', 'connector', 'Driver module, supply pin', 15);

const returnSide = [pump, groundPin, groundWire, ground];

interface Shape {
  readonly control: Control;
  readonly system: SystemKind;
  readonly stations: readonly Station[];
  readonly amperes: number;
  readonly pressureKpa: number;
  readonly more?: Partial<SystemProfile>;
}

/** Straight through: what is commanded comes out. A profile of one's own may say otherwise. */
const SAME_DUTY = [
  [0, 0],
  [100, 100],
] as const;
const SENSOR = [
  [0.5, 0],
  [4.5, 1e6],
] as const;

const SHAPES: Readonly<Record<PathKind, Shape>> = {
  P1: {
    control: 'relay',
    system: 'return-rail',
    stations: [battery, link, fuse, relay, cutoff, wire, connector, ...returnSide],
    amperes: 5,
    pressureKpa: 300,
  },
  P2: {
    control: 'relay-oil-switch',
    system: 'return-rail',
    stations: [
      battery,
      link,
      fuse,
      { ...relay, bypass: { name: 'Oil-pressure switch', ohm: 0.03 } },
      wire,
      connector,
      ...returnSide,
    ],
    amperes: 5,
    pressureKpa: 300,
  },
  P3: {
    control: 'relay',
    system: 'returnless-mechanical',
    stations: [
      battery,
      link,
      station('box', 'junction-box', 'Junction box, out', 6, { ohm: 0.02 }),
      wire,
      connector,
      ...returnSide,
    ],
    amperes: 5.5,
    pressureKpa: 380,
  },
  P4: {
    control: 'module-commanded',
    system: 'returnless-electronic',
    stations: [battery, fuse, relay, cutoff, moduleFeed, driver, connector, ...returnSide],
    amperes: 6,
    pressureKpa: 380,
    more: { commandTable: SAME_DUTY, sensorTable: SENSOR },
  },
  P5: {
    control: 'module-self',
    system: 'returnless-electronic',
    stations: [battery, fuse, relay, moduleFeed, driver, connector, ...returnSide],
    amperes: 6,
    pressureKpa: 400,
    more: { sensorTable: SENSOR },
  },
  P6: {
    control: 'two-speed',
    system: 'returnless-two-speed',
    stations: [battery, fuse, relay, moduleFeed, driver, wire, connector, ...returnSide],
    amperes: 5.5,
    pressureKpa: 380,
    more: { commandTable: SAME_DUTY },
  },
  P7: {
    control: 'stepped',
    system: 'returnless-electronic',
    stations: [battery, fuse, relay, moduleFeed, driver, connector, ...returnSide],
    amperes: 6,
    pressureKpa: 400,
    more: { commandTable: SAME_DUTY },
  },
  P8: {
    control: 'relay',
    system: 'return-rail',
    stations: [
      battery,
      link,
      fuse,
      relay,
      station('splice', 'splice', 'Splice to the lift pump', 10, { sharedA: 2.5, secondPump: true }),
      wire,
      connector,
      ...returnSide,
    ],
    amperes: 6,
    pressureKpa: 300,
  },
  P9: {
    control: 'lift',
    system: 'direct-injection',
    stations: [battery, fuse, relay, wire, connector, ...returnSide],
    amperes: 6,
    pressureKpa: 450,
  },
};

/** A profile to start one's own from: generic names, an invented pump. */
export function templateProfile(path: PathKind): SystemProfile {
  const { control, system, stations, amperes, pressureKpa, more } = SHAPES[path];
  return {
    format: 'jarro.system/1',
    id: path.toLowerCase(),
    name: PATH_TITLES[path],
    control,
    stations,
    pump: { volts: 12, amperes, rpm: 6500, pressurePa: pressureKpa * 1e3, windingOhm: 0.55 },
    primeS: 2,
    crankOnly: false,
    currentWindows: {
      prime: { minA: amperes - 1.5, maxA: amperes + 1.5 },
      idle: { minA: amperes - 1.5, maxA: amperes + 2 },
    },
    pressureWindows: SYSTEMS[system].windows,
    ...more,
  };
}
