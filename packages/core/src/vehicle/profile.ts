import type { KeyState } from '../terms/key-states.js';
import type { SensorTable } from './rail-sensor.js';
import type { PressureWindow } from './system-kinds.js';

/** What a supply path is made of, from battery + through the pump back to battery -. */
export const STATION_KINDS = [
  'battery',
  'fusible-link',
  'fuse',
  'relay',
  'cutoff-switch',
  'junction-box',
  'module',
  'splice',
  'connector',
  'wire',
  'pump',
  'ground',
] as const;

export type StationKind = (typeof STATION_KINDS)[number];

/** A place on the path from battery to ground where a probe can be put. */
export interface Station {
  /** Unique within the path: small letters, digits and hyphens. */
  readonly id: string;
  readonly kind: StationKind;
  readonly name: string;
  readonly pin?: string;
  readonly colour?: string;
  readonly location?: string;
  /** To put a probe there, with what must come off first. */
  readonly accessMinutes: number;
  readonly backProbe: boolean;
  /** Healthy resistance across it, ohm; absent: the usual one of its kind. */
  readonly ohm?: number;
  readonly wire?: { readonly lengthM: number; readonly areaMm2: number };
  /** A second way round this station: an oil-pressure switch beside a relay. Ohm when closed. */
  readonly bypass?: { readonly name: string; readonly ohm: number };
  /** Other loads that take their current after this station, A. */
  readonly sharedA?: number;
  /** That load is a second pump: a lift pump in the tank before the one on this path. */
  readonly secondPump?: boolean;
  /** Of a relay or a driver module: its other terminals, for whoever stands before them. */
  readonly pins?: readonly Pin[];
}

/** Where a driver module's own supply is read: the station before it. Undefined on a path without a module. */
export function moduleSupply(stations: readonly Pick<Station, 'id' | 'kind'>[]): string | undefined {
  const module = stations.findIndex(({ kind }) => kind === 'module');
  return module < 0 ? undefined : stations[module - 1]?.id;
}

/** A terminal beside the path: a relay's coil, a module's command. */
export interface Pin {
  readonly role: string;
  readonly pin: string;
  readonly colour?: string;
}

/** Terminals that a kind of station has beside the path. Relays: DIN 72552 numbers. */
export const PIN_ROLES: Readonly<Partial<Record<StationKind, readonly string[]>>> = {
  relay: ['30, feed', '85, coil', '86, coil', '87, output'],
  'junction-box': ['Feed', 'Coil feed', 'Coil ground'],
  module: ['Supply', 'Ground', 'Command', 'Feedback', 'Output', 'Event signal'],
};

/** How the pump is switched and its pressure held. */
export const CONTROLS = [
  'relay',
  'relay-oil-switch',
  'module-commanded',
  'module-self',
  'two-speed',
  'stepped',
  'lift',
] as const;
export type Control = (typeof CONTROLS)[number];

/** From where to where a pump’s draw is as it should be. */
export interface CurrentWindow {
  readonly minA: number;
  readonly maxA: number;
}

/** From where to where a pump’s speed is as it should be. */
export interface SpeedWindow {
  readonly minRpm: number;
  readonly maxRpm: number;
}

/** What holds the pressure. */
export const REGULATORS = ['rail-vacuum', 'tank', 'module', 'control-unit', 'none'] as const;
export type Regulator = (typeof REGULATORS)[number];

/** A module's command duty and the output duty that it means, both in per cent; straight between rows. */
export type CommandTable = readonly (readonly [commandPercent: number, outputPercent: number])[];

/** A feedback duty and what it means. */
export interface FeedbackMeaning {
  readonly fromPercent: number;
  readonly toPercent: number;
  readonly meaning: string;
}

/** The pump as it is meant to be: one point at which everything about it is known. */
export interface PumpRating {
  /** At the pump's own terminals. */
  readonly volts: number;
  readonly amperes: number;
  readonly rpm: number;
  readonly pressurePa: number;
  readonly windingOhm: number;
}

/** One kind of vehicle's supply path with all that is expected of it. */
export interface SystemProfile {
  readonly format: 'jarro.system/1';
  readonly id: string;
  readonly name: string;
  readonly control: Control;
  readonly stations: readonly Station[];
  readonly pump: PumpRating;
  readonly primeS: number;
  /** No prime: power comes only while it cranks. */
  readonly crankOnly: boolean;
  readonly bars?: number;
  readonly currentWindows: Partial<Record<KeyState, CurrentWindow>>;
  readonly pressureWindows: Partial<Record<KeyState, PressureWindow>>;
  readonly speedWindows?: Partial<Record<KeyState, SpeedWindow>>;
  /** Most ripple of a sound pump, per cent of its draw. */
  readonly ripplePercent?: number;
  readonly regulator?: Regulator;
  readonly commandTable?: CommandTable;
  readonly feedbackTable?: readonly FeedbackMeaning[];
  readonly sensorTable?: SensorTable;
}

/** Whether fuel comes back from the rail through a line that can be pinched: not on a system that is regulated at the tank. */
export function hasReturn({ control, regulator }: Pick<SystemProfile, 'control' | 'regulator'>): boolean {
  const atTheRail = regulator === undefined || regulator === 'rail-vacuum';
  return atTheRail && (control === 'relay' || control === 'relay-oil-switch');
}

/**
 * Usual resistance across a sound station, ohm. Common practice, no published source: a 15 A blade fuse and a relay
 * contact lose some tens of millivolts at five amperes, a plug some ten.
 */
export const USUAL_OHM: Readonly<Record<StationKind, number>> = {
  battery: 0,
  'fusible-link': 0.002,
  fuse: 0.006,
  relay: 0.01,
  'cutoff-switch': 0.01,
  'junction-box': 0.005,
  module: 0.03,
  splice: 0.001,
  connector: 0.004,
  wire: 0.012,
  pump: 0,
  ground: 0.004,
};
