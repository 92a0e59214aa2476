import { LARGEST_VOLTAGE_V } from '../../limits/limits.js';
import type { Snapshot } from '../../physics/solve.js';
import { atTheTank } from '../dangers.js';
import type { EvidenceKind, NamedPlace } from '../kind.js';
import { answers, sigmoid, slack, type NumberPart, type Part, type Scene } from '../part.js';
import type { Reading } from '../reading.js';
import { minutesToKind, minutesToModule, minutesToPump, READ_MINUTES, type Site } from '../site.js';
import type { NumberValue } from '../values.js';

export const VOLTS: NumberValue = {
  type: 'number',
  unit: 'V',
  least: -LARGEST_VOLTAGE_V,
  most: LARGEST_VOLTAGE_V,
  beyond: `No voltage here is below -${LARGEST_VOLTAGE_V} or above ${LARGEST_VOLTAGE_V} V; check the decimal point.`,
  inFiles: [-60, 60],
};
/** As people say it who didn't write the number down. */
const VOLTS_OR_WORDS: NumberValue = { ...VOLTS, words: ['full', 'low', 'none'] };
const RUNNING_STATES = ['prime', 'cranking', 'idle', 'loaded'] as const;

const beside = (at: string, title: string, howTo: string): NamedPlace => ({
  at,
  title,
  stage: 'power-path',
  value: VOLTS_OR_WORDS,
  states: RUNNING_STATES,
  howTo,
});

/** Read at the engine, away from fuel and the pump's circuit. */
const KICK = 'injector_kick';

export const voltage: EvidenceKind = {
  key: 'Volts',
  places: [
    {
      at: KICK,
      title: 'Injector kick',
      stage: 'first-checks',
      value: {
        type: 'number',
        unit: 'V',
        least: 0,
        most: 400,
        beyond: 'An injector kicks below 400 V; check the decimal point.',
        inFiles: [-60, 400],
      },
      states: ['cranking', 'idle'],
    },
    beside(
      'module_ground',
      'Driver module, ground pin',
      'Black lead on the battery’s own post, the module plugged in and asked to run.',
    ),
    beside(
      'coil_feed',
      'Relay coil, feed',
      'At the socket with the relay in, or on a breakout: battery voltage while it should pull. Measure only, never power it.',
    ),
    beside(
      'coil_ground',
      'Relay coil, ground',
      'Near nothing while the control unit pulls it; battery voltage when nobody does.',
    ),
    beside(
      'unit_supply',
      'Control unit, own supply',
      'At its own fuse or main relay, by the diagram: without it nothing is commanded at all.',
    ),
    beside(
      'neighbour_fuse',
      'Neighbour of the pump’s fuse',
      'A fuse on the same bar, both its test points: whether only the pump’s own is short of volts.',
    ),
    beside(
      'lift_pump',
      'Lift pump, feed',
      'At the lift pump’s own connector, plugged in and running, from the battery’s own post.',
    ),
  ],
  stations: { value: VOLTS_OR_WORDS },
  onPath: true,
  title: ({ name, state, reference }) =>
    `Volts at ${name}, ${state}, from battery ${reference === 'battery+' ? '+' : '-'}`,
  minutes: (site) => minutesTo(site) + READ_MINUTES,
  cautions: atTheTank,
  danger: (at) => (at === KICK ? undefined : 'power-path'),
  foresee: voltageParts,
  probe: 0,
  example: { at: 'relay', value: 11.2, state: 'prime', reference: 'battery-' },
};

/** A control unit's fuse or main relay by its diagram (common practice, no published source). */
const TO_UNIT_MINUTES = 6;

function minutesTo(site: Site): number {
  switch (site.at) {
    case 'module_ground':
      return minutesToModule(site);
    case 'coil_feed':
    case 'coil_ground':
      return minutesToKind(site, 'relay', 'junction-box');
    case 'neighbour_fuse':
      return minutesToKind(site, 'fuse');
    case 'lift_pump':
      return minutesToPump(site);
    case 'unit_supply':
      return TO_UNIT_MINUTES;
    default:
      return site.access;
  }
}

/** Meter error: 0.5 % of the reading and 20 mV. */
const METER_SHARE = 0.005;
const METER_V = 0.025;
/** Beyond what resistances explain (shares of other loads, a moment later), no published source. */
const LAWS = 0.03;
/** A meter behind a chopping module shows the mean more or less (common practice, no published source). */
const CHOPPED = 0.06;
/** Width of all that a meter on a vehicle may show. */
const RANGE_V = 18;

/** Volts at a station, or beside the path. */
export function voltageParts(reading: Reading, scene: Scene): Part[] {
  const { at, value, reference, unloaded } = reading;
  const { vehicle, now } = scene;
  switch (at) {
    case KICK:
      return typeof value === 'number' ? [kicks(value, scene)] : [];
    case 'module_ground':
      return vehicle.moduleAt >= 0 ? [moduleGround(value, scene)] : [];
    case 'coil_feed':
    case 'coil_ground':
      return [coil(at, value, scene)];
    case 'unit_supply':
      return [unitSupply(value, scene)];
  }
  const place = at === 'neighbour_fuse' ? barBefore(scene) : stationOf(scene, at);
  if (place < 0) return [];
  const node = unloaded
    ? (s: Snapshot) => unloadedVolts(s, place, vehicle.pumpAt, vehicle.moduleAt)
    : (s: Snapshot) => s.volts[place];
  const of: NumberPart['of'] = reference === 'battery+' ? (s) => s.batteryV - node(s) : node;
  if (typeof value !== 'number') return saidInWords(value, of(now), now.batteryV);
  const behind = vehicle.moduleAt > 0 && place >= vehicle.moduleAt && place <= vehicle.pumpAt;
  const chopped = behind && now.output < 0.97 && now.output > 0 ? CHOPPED * Math.abs(of(now)) : 0;
  const sd = Math.hypot(METER_V, METER_SHARE * of(now), slack(of, scene, LAWS), chopped);
  return [{ value, of, sd, range: RANGE_V }];
}

/** The lift pump hangs on the station that feeds it. */
function stationOf({ vehicle: { profile, liftAt } }: Scene, at: string): number {
  return at === 'lift_pump' ? liftAt : profile.stations.findIndex(({ id }) => id === at);
}

/** The bar that the pump's fuse and its neighbours hang on. */
function barBefore({ vehicle }: Scene): number {
  return vehicle.profile.stations.findIndex(({ kind }) => kind === 'fuse') - 1;
}

/** Shares of the battery's volts from which on people say "full", and volts below which they say "none" (no published source). */
const FULL = 0.93;
const NONE_V = 1.2;

function saidInWords(value: Reading['value'], volts: number, batteryV: number): Part[] {
  if (typeof value !== 'string') return [];
  const full = sigmoid((volts / batteryV - FULL) / 0.025);
  const none = sigmoid((NONE_V - volts) / 0.35);
  return [{ value, shares: answers({ full: 0.96 * full + 0.01, none: 0.97 * none + 0.01 }, 'low') }];
}

/** In between the words and the number: high or low. */
function level(value: Reading['value'], batteryV: number): 'high' | 'low' {
  return value === 'full' || (typeof value === 'number' && value > batteryV / 2) ? 'high' : 'low';
}

/** A solenoid let go kicks far above what feeds it, if it was driven at all. */
const KICKS_V = 20;

function kicks(value: number, { fault }: Scene): Part {
  const driven = fault.lacks === 'injection' ? 0.1 : fault.lacks === 'immobiliser' ? 0.3 : 0.97;
  return { value: value > KICKS_V ? 'kicks' : 'dead', shares: answers({ kicks: driven }, 'dead') };
}

/**
 * A relay's coil pin while it should pull: fed or not, pulled to ground or not. Which of the two sides the control unit
 * switches differs from maker to maker (common practice, no published source).
 */
function coil(at: 'coil_feed' | 'coil_ground', value: Reading['value'], { fault, now }: Scene): Part {
  const off = fault.relayOff ?? (now.powered ? undefined : 'control');
  const share =
    at === 'coil_feed'
      ? { feed: 0.02, control: 0.7, coil: 0.97 }[off ?? 'coil']
      : { feed: 0.08, control: 0.72, coil: 0.03 }[off ?? 'coil'];
  return { value: level(value, now.batteryV), shares: answers({ high: share }, 'low') };
}

/** A control unit without supply commands nothing, and pulses no injector. */
function unitSupply(value: Reading['value'], { fault, now }: Scene): Part {
  const unasked = fault.relayOff === 'control' || fault.relayOff === 'feed' || fault.command?.notAsked === true;
  const low = fault.lacks === 'injection' ? 0.25 : unasked ? 0.2 : 0.012;
  return { value: level(value, now.batteryV), shares: answers({ low }, 'high') };
}

/** What a sound module ground rises by, and how much of its supply an open one hangs at (common practice, no published source). */
const GROUND_RISE_V = 0.03;
const HANGING = 0.9;

/** A module's own ground pin: next to nothing, or near its supply when that ground is open. */
function moduleGround(value: Reading['value'], { vehicle, fault, now }: Scene): Part {
  const open = fault.module?.groundOpen === true && now.powered;
  if (typeof value !== 'number') {
    return {
      value: level(value, now.batteryV) === 'high' ? 'full' : value === 'low' ? 'low' : 'none',
      shares: answers({ full: open ? 0.8 : 0.01, low: open ? 0.15 : 0.03 }, 'none'),
    };
  }
  const of: NumberPart['of'] = (s) => (open ? HANGING * s.volts[vehicle.moduleAt - 1] : GROUND_RISE_V);
  return { value, of, sd: Math.hypot(METER_V, open ? 0.2 * of(now) : 0.05), range: RANGE_V };
}

/** With the plug off nothing flows: any finite resistance passes the voltage, only an open doesn't. */
function unloadedVolts({ reach, batteryV, output }: Snapshot, place: number, pumpAt: number, moduleAt: number): number {
  if (place > pumpAt || reach <= place - (place === pumpAt ? 1 : 0)) return 0;
  return batteryV * (moduleAt > 0 && place >= moduleAt ? output : 1);
}
