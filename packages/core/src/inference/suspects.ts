import type { Fault } from '../physics/fault.js';
import { SOUND } from '../physics/fault.js';
import type { Station, StationKind, SystemProfile } from '../vehicle/profile.js';
import type { Family } from '../terms/families.js';

/** One size of a fault. */
export interface Severity {
  readonly fault: Fault;
  /** Share of the suspect's own prior. */
  readonly share: number;
  /** The same, one spread larger: severities are a grid, and the truth lies between its points. */
  readonly larger?: Fault;
}

/** Nothing wrong. */
export const HEALTHY: Severity = { fault: SOUND, share: 1 };

/** Something that may be guilty, over all its severities. */
export interface Suspect {
  readonly id: string;
  readonly title: string;
  readonly family: Family;
  readonly station?: string;
  readonly prior: number;
  readonly severities: readonly Severity[];
  /** It may come and go: sound at one moment and faulty at the next, more or less. */
  readonly varies: boolean;
}

/** From a contact that costs this much to one that passes next to nothing, in even ratios; then the open. */
const LEAST_DROP_V = 0.3;
const RATIO = 2.2;
const STEPS = 8;
const OPEN_SHARE = 0.35;

/** Prior weights by what a station is: how often such faults come (common practice, no published source). */
const STATION_FAULTS: Readonly<Partial<Record<StationKind, readonly [family: Family, prior: number]>>> = {
  'fusible-link': ['fuse', 0.02],
  fuse: ['fuse', 0.06],
  relay: ['relay-contact', 0.08],
  'junction-box': ['relay-contact', 0.08],
  'cutoff-switch': ['cutoff-switch', 0.06],
  module: ['module', 0.02],
};
const FEED_PRIOR = 0.035;
const GROUND_PRIOR = 0.035;
const SHORT_PRIOR = 0.012;

type Sized = readonly [share: number, fault: Fault, larger?: Fault];

/** Every suspect of a path. The priors are weights; they needn't sum to one. */
export function makeSuspects(profile: SystemProfile): Suspect[] {
  const { stations } = profile;
  const pumpAt = stations.findIndex(({ kind }) => kind === 'pump');
  return [
    ...stations.flatMap((station, i) => stationSuspects(profile, station, i, pumpAt)),
    ...shortSuspects(profile, pumpAt),
    ...batterySuspects(stations[0].id),
    ...relaySuspects(profile),
    ...moduleSuspects(profile),
    ...pumpSuspects(stations[pumpAt].id),
    ...(stations.some(({ secondPump }) => secondPump) ? liftSuspects() : []),
    ...fuelSuspects(profile),
    suspect('not-fuel', 'Not the fuel system', 'not-fuel', 0.1, [
      [1, { lacks: 'spark' }],
      [1, { lacks: 'injection' }],
      [1, { lacks: 'immobiliser' }],
      [0.7, { lacks: 'compression' }],
      [2, { lacks: 'other' }],
      [0.5, { lacks: 'air' }],
    ]),
    suspect('healthy', 'Nothing wrong here', 'healthy', 0.06, [[1, SOUND]]),
  ];
}

function suspect(
  id: string,
  title: string,
  family: Family,
  prior: number,
  faults: readonly Sized[],
  { station, varies = false }: { readonly station?: string; readonly varies?: boolean } = {},
): Suspect {
  const sum = faults.reduce((total, [share]) => total + share, 0);
  const severities = faults.map(([share, fault, larger]) => ({ share: share / sum, fault, ...(larger && { larger }) }));
  return { id, title, family, prior, severities, varies, ...(station !== undefined && { station }) };
}

/** A grid of sizes, each with the fault half a step further: the truth lies within one spread of a point. */
function sized(sizes: readonly number[], make: (size: number) => Fault, share = 1): Sized[] {
  return sizes.map((size, i) => {
    const next = sizes[i + 1] ?? size + (size - (sizes[i - 1] ?? 0));
    return [share / sizes.length, make(size), make((size + next) / 2)] as const;
  });
}

function stationSuspects({ stations, pump }: SystemProfile, station: Station, i: number, pumpAt: number): Suspect[] {
  const { id, kind, name } = station;
  if (kind === 'battery' || kind === 'pump') return [];
  // The clamp on the post is the battery's own joint.
  const clamp = i === 1 && kind === 'connector' && (station.sharedA ?? 0) > 0;
  const [family, prior] =
    STATION_FAULTS[kind] ??
    (clamp
      ? (['supply', 0.03] as const)
      : i < pumpAt
        ? (['feed-wiring', FEED_PRIOR] as const)
        : (['ground-wiring', GROUND_PRIOR] as const));
  const title =
    kind === 'relay' || kind === 'cutoff-switch'
      ? `${name}: contact`
      : kind === 'junction-box'
        ? `${name}: relay inside it`
        : name;
  // A fuse blows far more often than it corrodes.
  const open = kind === 'fuse' || kind === 'fusible-link' ? 0.6 : OPEN_SHARE;
  // What other loads draw through the same contact counts too.
  const others = i < pumpAt ? stations.slice(i, pumpAt).reduce((sum, { sharedA = 0 }) => sum + sharedA, 0) : 0;
  const amperes = pump.amperes + others;
  const ohms = Array.from({ length: STEPS }, (_, n): Sized => {
    const ohm = (LEAST_DROP_V / amperes) * RATIO ** n;
    return [(1 - open) / STEPS, { at: id, ohm }, { at: id, ohm: ohm * Math.sqrt(RATIO) }];
  });
  const faults: Sized[] = [...ohms, [open, { at: id, ohm: Infinity }]];
  const all = station.bypass ? faults.flatMap(eitherWay) : faults;
  return [suspect(id, title, family, prior, all, { station: id, varies: true })];
}

/** A feed that touches ground behind a fuse. */
function shortSuspects({ stations }: SystemProfile, pumpAt: number): Suspect[] {
  const fuse = stations.findIndex(({ kind }) => kind === 'fuse' || kind === 'fusible-link');
  if (fuse < 0 || fuse > pumpAt) return [];
  const wires = stations.slice(fuse + 1, pumpAt).filter(({ kind }) => kind === 'wire' || kind === 'connector');
  return wires.map(({ id, name }) =>
    suspect(
      `${id}-short`,
      `${name}: touches ground`,
      'feed-wiring',
      SHORT_PRIOR / wires.length,
      [[1, { shortBehind: id }]],
      {
        station: id,
      },
    ),
  );
}

/** Oil pressure may close the second way already while it cranks, or not yet. */
function eitherWay([share, fault, larger]: Sized): Sized[] {
  return [
    [share / 2, fault, larger],
    [share / 2, { ...fault, oilUp: true }, larger && { ...larger, oilUp: true }],
  ];
}

function batterySuspects(battery: string): Suspect[] {
  const lacks = (restV: number, crankV: number): Fault => ({ battery: { restV, crankV } });
  // Discharged: low at rest and lower under load. Worn inside: well at rest, collapses under load.
  const rests = [
    [0, 1],
    [0.3, 1],
    [0.7, 1],
    [1.4, 0.5],
    [2.5, 0.15],
  ] as const;
  const grid: Sized[] = rests.flatMap(([rest, share]) =>
    [0, 0.8, 1.8, 3, 4.5].flatMap((crank): Sized[] =>
      rest + crank < 0.8
        ? []
        : [[rest > 1 && crank < 1 ? 0.3 * share : share, lacks(rest, crank), lacks(rest * 1.25, crank + 0.5)]],
    ),
  );
  return [
    suspect('battery-weak', 'Battery', 'supply', 0.05, grid, { station: battery }),
    suspect(
      'charging-low',
      'Charging',
      'supply',
      0.015,
      sized([1, 1.8, 2.8], (chargeV) => ({ battery: { restV: 0.3, crankV: 0.4, chargeV } })),
      { station: battery },
    ),
  ];
}

function relaySuspects({ stations }: SystemProfile): Suspect[] {
  const relay = stations.find(({ kind }) => kind === 'relay') ?? stations.find(({ kind }) => kind === 'junction-box');
  if (!relay) return [];
  const off = (share: number, fault: Fault): Sized[] => (relay.bypass ? eitherWay([share, fault]) : [[share, fault]]);
  return [
    suspect(
      'relay-control',
      'Relay never pulled: control or coil feed',
      'relay-control',
      0.08,
      [
        ...off(0.45, { relayOff: 'control' }),
        ...off(0.4, { relayOff: 'feed' }),
        ...off(0.15, { relayOff: 'control', crankingOnly: true }),
      ],
      { station: relay.id, varies: true },
    ),
    suspect('relay-coil', 'Relay coil open', 'relay-control', 0.015, off(1, { relayOff: 'coil' }), {
      station: relay.id,
      varies: true,
    }),
  ];
}

function moduleSuspects({ stations }: SystemProfile): Suspect[] {
  const module = stations.find(({ kind }) => kind === 'module');
  if (!module) return [];
  const at = { station: module.id, varies: true };
  return [
    suspect(
      'module-weak',
      'Driver module passes too little',
      'module',
      0.06,
      [
        [0.4, { module: { passes: 0 } }],
        ...sized([0.15, 0.25, 0.35, 0.45, 0.55, 0.65, 0.75], (passes) => ({ module: { passes } }), 0.35),
        ...sized([0.15, 0.3, 0.45, 0.6, 0.8], (stuckAt) => ({ module: { stuckAt } }), 0.2),
        [0.05, { module: { stuckAt: 1 } }],
      ],
      at,
    ),
    suspect(
      'module-ground',
      'Driver module’s own ground',
      'ground-wiring',
      0.01,
      [[1, { module: { groundOpen: true } }]],
      at,
    ),
    suspect(
      'module-command',
      'Wrong or missing command to the module',
      'module-command',
      0.06,
      [
        [0.45, { command: { arrives: 0 } }],
        [0.15, { command: { notAsked: true } }],
        ...sized([0.15, 0.25, 0.35, 0.45, 0.55, 0.65, 0.75], (arrives) => ({ command: { arrives } }), 0.4),
      ],
      at,
    ),
  ];
}

function pumpSuspects(pump: string): Suspect[] {
  const at = { station: pump };
  const electrical = 'pump-electrical' as const;
  return [
    suspect('pump-open', 'Pump open inside', electrical, 0.045, [[1, { pump: { addedOhm: Infinity } }]], {
      ...at,
      varies: true,
    }),
    suspect(
      'pump-dead-spot',
      'Pump with a dead spot',
      electrical,
      0.02,
      [[1, { commutator: 'dead-spot', pump: { addedOhm: Infinity } }]],
      { ...at, varies: true },
    ),
    suspect(
      'pump-brushes',
      'Worn brushes',
      electrical,
      0.04,
      sized([0.3, 0.5, 0.8, 1.2, 1.8, 2.7, 4, 6], (addedOhm) => ({ pump: { addedOhm }, commutator: 'brushes' })),
      { ...at, varies: true },
    ),
    suspect(
      'pump-commutator',
      'Burnt commutator bars',
      electrical,
      0.045,
      sized([0.05, 0.15, 0.35, 0.7], (addedOhm) => ({ commutator: 'burnt', pump: { addedOhm } })),
      at,
    ),
    suspect(
      'pump-shorted',
      'Pump winding shorted',
      electrical,
      0.025,
      sized([0.1, 0.2, 0.3, 0.4, 0.55], (shorted) => ({ pump: { shorted } })),
      at,
    ),
    suspect(
      'pump-drag',
      'Pump drags',
      'pump-mechanical',
      0.04,
      sized([0.2, 0.35, 0.5, 0.7, 0.95, 1.25], (drag) => ({ pump: { drag } })),
      at,
    ),
    suspect('pump-locked', 'Pump locked', 'pump-mechanical', 0.03, [[1, { pump: { drag: Infinity } }]], {
      ...at,
      varies: true,
    }),
    suspect(
      'pump-worn',
      'Worn pump: turns, but doesn’t pump',
      'pump-mechanical',
      0.04,
      sized([0.45, 0.8, 1.3, 2.1, 4], (slip) => ({ pump: { slip } })),
      at,
    ),
  ];
}

/** Where a second pump is read; it is no station of the path. */
export const LIFT_PUMP = 'lift_pump';

/** Of two pumps the one in the tank: without it the other turns dry. */
function liftSuspects(): Suspect[] {
  return [
    suspect('lift-open', 'Lift pump open inside', 'pump-electrical', 0.03, [[1, { lift: 'open' }]], {
      station: LIFT_PUMP,
      varies: true,
    }),
    suspect('lift-worn', 'Lift pump turns, but lifts nothing', 'pump-mechanical', 0.02, [[1, { lift: 'idle' }]], {
      station: LIFT_PUMP,
    }),
  ];
}

function fuelSuspects({ control, regulator, sensorTable, pump: { pressurePa } }: SystemProfile): Suspect[] {
  const controlled = control === 'module-commanded' || control === 'module-self';
  const vacuum = regulator === 'rail-vacuum' || (regulator === undefined && !controlled);
  const hydraulic = 'hydraulic' as const;
  return [
    suspect(
      'restriction',
      'Clogged filter or line',
      hydraulic,
      0.04,
      sized([0.35, 0.55, 0.8, 1.1, 1.5, 2.1], (clogged) => ({ clogged })),
    ),
    suspect(
      'regulator-low',
      'Regulator holds too little',
      hydraulic,
      // Where the control unit holds the pressure only a relief valve is left to fail.
      controlled ? 0.005 : 0.03,
      sized([0.15, 0.27, 0.4, 0.53, 0.66, 0.79], (share) => ({ regulator: share })),
    ),
    suspect('regulator-high', 'Regulator or return holds too much', hydraulic, 0.015, [
      ...sized([1.2, 1.4, 1.65], (share) => ({ regulator: share }), 0.8),
      ...(vacuum ? [[0.2, { regulatorDeaf: true }] as const] : []),
    ]),
    suspect(
      'leak-down',
      'Check valve, injector or line leaks down',
      hydraulic,
      0.03,
      sized([0.12, 0.25, 0.5, 1, 2], (share) => ({ leaksDown: share * pressurePa })),
    ),
    suspect('dry', 'No fuel, or fuel that doesn’t burn', hydraulic, 0.03, [
      [2, { fuel: 'empty' }],
      [1, { fuel: 'stale' }],
    ]),
    suspect('split', 'Split hose, or no suction', hydraulic, 0.02, [
      ...sized([0.4, 0.8, 1.4, 2.2, 3.5], (split) => ({ split }), 0.8),
      [0.2, { pump: { dry: true } }],
    ]),
    ...(controlled || sensorTable !== undefined
      ? [
          suspect('rail-sensor', 'Rail sensor lies', 'sensor', 0.04, [
            ...sized([0.4, 0.52, 0.64, 0.76, 0.86], (sensorGain) => ({ sensorGain }), 0.6),
            ...sized([1.14, 1.28, 1.45, 1.7], (sensorGain) => ({ sensorGain }), 0.4),
          ]),
        ]
      : []),
  ];
}
