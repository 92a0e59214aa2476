import type { KeyState } from '../terms/key-states.js';
import { COMMON_PRACTICE } from '../limits/limits.js';

/** How fuel pressure is made and held, as far as it matters for a diagnosis. */
export const SYSTEM_KINDS = [
  'unknown',
  'throttle-body',
  'return-rail',
  'returnless-mechanical',
  'returnless-two-speed',
  'returnless-electronic',
  'direct-injection',
  'diesel-lift',
] as const;

export type SystemKind = (typeof SYSTEM_KINDS)[number];

/** From where to where a pressure is as it should be. */
export interface PressureWindow {
  readonly minPa: number;
  readonly maxPa: number;
}

/** What is usual on a kind of fuel system (common practice, no published source). */
export interface SystemInfo {
  readonly title: string;
  /** How the pressure is held. */
  readonly regulation: string;
  /** Rule-of-thumb gauge pressures by state. */
  readonly windows: Partial<Record<KeyState, PressureWindow>>;
  readonly highSide: boolean;
  /** Vacuum acts on the regulator, so idle reads below prime. */
  readonly vacuumRegulator: boolean;
}

const window = (minKpa: number, maxKpa: number): PressureWindow => ({ minPa: minKpa * 1e3, maxPa: maxKpa * 1e3 });
const steady = (minKpa: number, maxKpa: number): SystemInfo['windows'] => ({
  prime: window(minKpa, maxKpa),
  cranking: window(minKpa, maxKpa),
  idle: window(minKpa, maxKpa),
  loaded: window(minKpa, maxKpa),
});

/** Kinds of fuel system and the pressures usual for them. All windows: common practice, from memory; the maker's own come first. */
export const SYSTEMS: Readonly<Record<SystemKind, SystemInfo>> = {
  unknown: {
    title: 'Not known yet',
    regulation: 'Answer the three questions, or look at the rail.',
    windows: {},
    highSide: false,
    vacuumRegulator: false,
  },
  'throttle-body': {
    title: 'Throttle-body injection',
    regulation: 'Low pressure, regulator at the throttle body, return line.',
    windows: steady(60, 200),
    highSide: false,
    vacuumRegulator: false,
  },
  'return-rail': {
    title: 'Port injection with return',
    regulation: 'Regulator at the rail, vacuum on it; the rest goes back to the tank.',
    windows: { prime: window(270, 420), cranking: window(250, 420), idle: window(200, 350), loaded: window(250, 420) },
    highSide: false,
    vacuumRegulator: true,
  },
  'returnless-mechanical': {
    title: 'Returnless, regulator in the tank',
    regulation: 'One pressure, held in the tank; no sensor on the rail.',
    windows: steady(340, 430),
    highSide: false,
    vacuumRegulator: false,
  },
  'returnless-two-speed': {
    title: 'Returnless, two-speed pump',
    regulation: 'Regulator in the tank, a module chooses the speed; no sensor on the rail.',
    windows: steady(340, 430),
    highSide: false,
    vacuumRegulator: false,
  },
  'returnless-electronic': {
    title: 'Returnless, electronically regulated',
    regulation: 'A rail sensor and a driver module hold the pressure asked for.',
    windows: steady(250, 500),
    highSide: false,
    vacuumRegulator: false,
  },
  'direct-injection': {
    title: 'Direct injection, low side',
    regulation: 'The tank pump feeds a mechanical high-pressure pump.',
    windows: steady(350, 650),
    highSide: true,
    vacuumRegulator: false,
  },
  'diesel-lift': {
    title: 'Diesel with a lift pump',
    regulation: 'The lift pump feeds a mechanical high-pressure pump; use the maker’s window.',
    windows: {},
    highSide: true,
    vacuumRegulator: false,
  },
};

/** Answers to whether something is fitted. */
export const YES_NO_UNKNOWN = ['yes', 'no', 'unknown'] as const;
export type YesNoUnknown = (typeof YES_NO_UNKNOWN)[number];

/** What anybody can see on a vehicle, and what tells its fuel system. */
export interface SystemFeatures {
  readonly railSensor: YesNoUnknown;
  readonly returnLine: YesNoUnknown;
  readonly module: YesNoUnknown;
}

/** The fuel system that fits what is fitted. */
export interface SystemGuess {
  readonly kind: SystemKind;
  /** What could make the guess wrong, and what would settle it. */
  readonly doubts: readonly string[];
}

/** Which system it is, from what is seen under the bonnet; service information contradicts itself on this. */
export function guessSystem({ railSensor, returnLine, module }: SystemFeatures): SystemGuess {
  const doubts: string[] = [];
  if (railSensor === 'unknown')
    doubts.push('Look for a pressure sensor on the rail: with one it is electronically regulated.');
  if (railSensor === 'yes') {
    if (returnLine === 'yes')
      doubts.push(
        'A rail sensor beside a return line is unusual: the sensor may belong to a direct-injection high side.',
      );
    if (module === 'no')
      doubts.push('A rail sensor without a driver module: find what drives the pump before trusting this.');
    if (module === 'unknown') doubts.push('Find the driver module, often beside the tank or behind a rear panel.');
    return { kind: 'returnless-electronic', doubts };
  }
  if (returnLine === 'yes') {
    if (module === 'yes')
      doubts.push(
        'A driver module with a return line: some step the pump’s speed; look for its duty in the scan data.',
      );
    return { kind: 'return-rail', doubts };
  }
  if (returnLine === 'no') {
    if (module === 'unknown') doubts.push('With a driver module it is a two-speed system; without one, single speed.');
    return { kind: module === 'yes' ? 'returnless-two-speed' : 'returnless-mechanical', doubts };
  }
  doubts.push('Follow the lines from the rail: one line means returnless, two mean a return.');
  return { kind: 'unknown', doubts };
}

/** A pressure window with who set it; the maker’s goes before the system’s, and that before the rule of thumb. */
export interface Spec extends PressureWindow {
  readonly basis: 'maker' | 'system' | 'rule-of-thumb';
  readonly source: string;
}

/** Whose window it is, in words. */
export const SPEC_BASIS_NAMES: Readonly<Record<Spec['basis'], string>> = {
  maker: 'maker’s',
  system: 'this system’s',
  'rule-of-thumb': 'rule of thumb',
};

type Windows = Partial<Record<KeyState, PressureWindow>>;

/**
 * The window to judge a pressure by: the maker's for this vehicle, then that of the case's own system, then the rule of
 * thumb, labelled as such.
 */
export function pressureSpec(
  kind: SystemKind,
  state: KeyState,
  makers: Windows = {},
  system?: { readonly name: string; readonly windows: Windows },
): Spec | undefined {
  const maker = makers[state];
  if (maker) return { ...maker, basis: 'maker', source: 'entered for this vehicle' };
  const own = system?.windows[state];
  const usual = SYSTEMS[kind].windows[state];
  // A system composed from a shipped path keeps its windows until somebody writes better ones.
  const copied = own && own.minPa === usual?.minPa && own.maxPa === usual.maxPa;
  if (own && !copied) return { ...own, basis: 'system', source: system.name };
  return usual && { ...usual, basis: 'rule-of-thumb', source: COMMON_PRACTICE };
}
