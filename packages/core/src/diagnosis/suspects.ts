import type { PumpFault } from '../path/pump-model.js';
import type { Station, StationKind, SystemProfile } from '../systems/profile.js';
import type { Family } from './families.js';

/** A change of the path model: what is wrong, and how much of it. All absent: nothing is. */
export interface Fault {
  /** Ohm added at a station; Infinity is an open. */
  readonly at?: string;
  readonly ohm?: number;
  /** The relay is never commanded. */
  readonly relayOff?: boolean;
  /** Volts that the battery is below a sound one. */
  readonly batteryLow?: number;
  readonly pump?: PumpFault;
  /** Bars burnt, or brushes that leave them: what the current's pattern shows. */
  readonly commutator?: 'burnt' | 'brushes';
  /** Share of its duty that the module passes. */
  readonly modulePasses?: number;
  /** Duty that is commanded, whatever is needed: 0 for none. */
  readonly commanded?: number;
  /** Share of the set pressure that the regulator holds. */
  readonly regulator?: number;
  /** The pressure leaks away after shut-down. */
  readonly leaksDown?: boolean;
  readonly fuel?: 'empty' | 'stale';
  /** The rail sensor shows this share of the pressure. */
  readonly sensorGain?: number;
  /** The engine lacks something else. */
  readonly lacks?: 'spark' | 'injection' | 'immobiliser' | 'air';
  /** Volts lost in the meter's own ground lead, as a share. */
  readonly meterLoses?: number;
  /** Any reading may be a slipped probe. */
  readonly slips?: boolean;
}

export interface Severity {
  readonly fault: Fault;
  /** Share of the suspect's own prior. */
  readonly share: number;
}

/** Something that may be guilty, over all its severities. */
export interface Suspect {
  readonly id: string;
  readonly title: string;
  readonly family: Family;
  readonly station?: string;
  readonly prior: number;
  readonly severities: readonly Severity[];
}

/** From a contact that costs a quarter of a volt to one that passes next to nothing, in even ratios; then the open. */
const LEAST_OHM = 0.05;
const RATIO = 1.45;
const STEPS = 17;
const OPEN_SHARE = 0.3;

/** Prior weights by what a station is: how often such faults come (common practice, no published source). */
const STATION_FAULTS: Readonly<Partial<Record<StationKind, readonly [family: Family, prior: number]>>> = {
  'fusible-link': ['fuse', 0.02],
  fuse: ['fuse', 0.06],
  relay: ['relay-contact', 0.09],
  'junction-box': ['relay-contact', 0.08],
  'cutoff-switch': ['cutoff-switch', 0.06],
  module: ['module', 0.04],
};
const FEED_PRIOR = 0.04;
const GROUND_PRIOR = 0.04;

/** Every suspect of a path. The priors are weights; they needn't sum to one. */
export function makeSuspects(profile: SystemProfile): Suspect[] {
  const { stations, control } = profile;
  const pumpAt = stations.findIndex(({ kind }) => kind === 'pump');
  const suspects: Suspect[] = [];
  const add = (
    id: string,
    title: string,
    family: Family,
    prior: number,
    faults: readonly (readonly [share: number, fault: Fault])[],
    station?: string,
  ) => {
    const sum = faults.reduce((total, [share]) => total + share, 0);
    const severities = faults.map(([share, fault]) => ({ share: share / sum, fault }));
    suspects.push({ id, title, family, prior, severities, ...(station !== undefined && { station }) });
  };

  stations.forEach((station, i) => {
    if (station.kind === 'battery' || station.kind === 'pump') return;
    const [family, prior] =
      STATION_FAULTS[station.kind] ??
      (i < pumpAt ? (['feed-wiring', FEED_PRIOR] as const) : (['ground-wiring', GROUND_PRIOR] as const));
    add(station.id, contactTitle(station), family, prior, contactFaults(station), station.id);
  });

  const battery = stations[0].id;
  add(
    'battery-weak',
    'Battery or charging',
    'supply',
    0.05,
    [
      [2, { batteryLow: 1 }],
      [2, { batteryLow: 2 }],
      [1, { batteryLow: 3.5 }],
      [0.2, { batteryLow: 6 }],
    ],
    battery,
  );
  const relay = stations.find(({ kind }) => kind === 'relay') ?? stations.find(({ kind }) => kind === 'junction-box');
  if (relay) add('relay-control', 'Relay never commanded', 'relay-control', 0.09, [[1, { relayOff: true }]], relay.id);
  const module = stations.find(({ kind }) => kind === 'module');
  if (module) {
    add(
      'module-weak',
      'Driver module passes too little',
      'module',
      0.05,
      [
        [1, { modulePasses: 0 }],
        ...[0.1, 0.2, 0.3, 0.4, 0.5, 0.6].map((modulePasses) => [0.4, { modulePasses }] as const),
      ],
      module.id,
    );
    add(
      'module-command',
      'Wrong or missing command to the module',
      'module-command',
      0.06,
      [[2, { commanded: 0 }], ...[0.1, 0.2, 0.3, 0.4].map((commanded) => [0.4, { commanded }] as const)],
      module.id,
    );
  }

  const pump = stations[pumpAt].id;
  const brushes = [0.4, 0.6, 0.85, 1.2, 1.7, 2.4, 3.4, 5, 8].map(
    (ohm) => [1, { pump: { addedOhm: ohm }, commutator: 'brushes' }] as const,
  );
  add('pump-open', 'Pump open inside', 'pump-electrical', 0.05, [[1, { pump: { addedOhm: Infinity } }]], pump);
  add('pump-brushes', 'Worn brushes', 'pump-electrical', 0.04, brushes, pump);
  add(
    'pump-commutator',
    'Burnt commutator bars',
    'pump-electrical',
    0.05,
    [
      [1, { commutator: 'burnt', pump: { addedOhm: 0.05 } }],
      [1, { commutator: 'burnt', pump: { addedOhm: 0.2 } }],
      [1, { commutator: 'burnt', pump: { addedOhm: 0.5 } }],
    ],
    pump,
  );
  add(
    'pump-drag',
    'Pump drags',
    'pump-mechanical',
    0.04,
    [0.25, 0.35, 0.45, 0.6, 0.8, 1.1].map((drag) => [1, { pump: { drag } }] as const),
    pump,
  );
  add('pump-locked', 'Pump locked', 'pump-mechanical', 0.03, [[1, { pump: { drag: Infinity } }]], pump);
  add(
    'pump-worn',
    'Worn pump: turns, but doesn’t pump',
    'pump-mechanical',
    0.04,
    [0.35, 0.45, 0.55, 0.65, 0.75, 0.85].map((leak) => [1, { pump: { leak } }] as const),
    pump,
  );

  const { pressurePa } = profile.pump;
  add(
    'restriction',
    'Clogged filter or line',
    'hydraulic',
    0.04,
    [0.3, 0.45, 0.6, 0.8, 1, 1.3].map((share) => [1, { pump: { restrictionPa: share * pressurePa } }] as const),
  );
  add(
    'regulator-low',
    'Regulator holds too little',
    'hydraulic',
    // Where the control unit holds the pressure only a relief valve is left to fail.
    control === 'module-commanded' || control === 'module-self' ? 0.01 : 0.03,
    [0.1, 0.2, 0.3, 0.42, 0.55, 0.68, 0.8].map((regulator) => [1, { regulator }] as const),
  );
  add(
    'regulator-high',
    'Regulator or return holds too much',
    'hydraulic',
    0.015,
    [1.25, 1.5, 1.8].map((regulator) => [1, { regulator }] as const),
  );
  add('leak-down', 'Check valve, injector or line leaks down', 'hydraulic', 0.02, [[1, { leaksDown: true }]]);
  add('dry', 'No fuel, or fuel that doesn’t burn', 'hydraulic', 0.03, [
    [2, { fuel: 'empty', pump: { leak: 1 } }],
    [1, { fuel: 'stale' }],
  ]);
  add('split', 'Split hose or no suction', 'hydraulic', 0.015, [
    [1, { pump: { leak: 0.9 } }],
    [1, { pump: { leak: 1 } }],
  ]);
  const sensed = control === 'module-commanded' || control === 'module-self' || profile.sensorTable !== undefined;
  if (sensed) {
    add(
      'rail-sensor',
      'Rail sensor lies',
      'sensor',
      0.04,
      [0.4, 0.55, 0.7, 0.85, 1.2, 1.45].map((sensorGain) => [1, { sensorGain }] as const),
    );
  }
  add('not-fuel', 'Not the fuel system', 'not-fuel', 0.06, [
    [1, { lacks: 'spark' }],
    [1, { lacks: 'injection' }],
    [1, { lacks: 'immobiliser' }],
    [0.5, { lacks: 'air' }],
  ]);
  const losses = Array.from({ length: 19 }, (_, i) => [1, { meterLoses: 0.1 + 0.05 * i }] as const);
  add('meter-ground', 'The meter’s own ground', 'measurement-error', 0.04, losses);
  add('slipped-probe', 'A slipped probe, all else sound', 'measurement-error', 0.015, [[1, { slips: true }]]);
  add('healthy', 'Nothing wrong here', 'healthy', 0.06, [[1, {}]]);
  return suspects;
}

function contactTitle({ kind, name }: Station): string {
  if (kind === 'relay' || kind === 'cutoff-switch') return `${name}: contact`;
  return kind === 'junction-box' ? `${name}: relay inside it` : name;
}

function contactFaults({ id, kind }: Station): readonly (readonly [share: number, fault: Fault])[] {
  const steps = Array.from({ length: STEPS }, (_, i) => LEAST_OHM * RATIO ** i);
  // A fuse blows far more often than it corrodes.
  const open = kind === 'fuse' || kind === 'fusible-link' ? 0.65 : OPEN_SHARE;
  return [
    ...steps.map((ohm) => [(1 - open) / STEPS, { at: id, ohm }] as const),
    [open, { at: id, ohm: Infinity }] as const,
  ];
}
