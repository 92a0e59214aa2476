import type { Reading } from '../reading.js';
import { answers, sigmoid, slack, type NumberPart, type Part, type Scene } from '../part.js';
import type { Snapshot } from '../../physics/solve.js';

/** Meter error: 0.5 % of the reading and 20 mV. */
const METER_SHARE = 0.005;
const METER_V = 0.025;
/** Beyond what resistances explain (shares of other loads, a moment later), no published source. */
const LAWS = 0.03;
/** A meter behind a chopping module shows the mean more or less (common practice, no published source). */
const CHOPPED = 0.06;
/** Width of all that a meter on a vehicle may show. */
const RANGE_V = 18;

/** Volts at a station. */
export function voltageParts({ at, value, reference, unloaded }: Reading, scene: Scene): Part[] {
  const { vehicle, now } = scene;
  const place = vehicle.profile.stations.findIndex(({ id }) => id === at);
  if (typeof value !== 'number') return [];
  if (at === 'module_ground' && vehicle.moduleAt >= 0) return [moduleGround(value, scene)];
  if (at === 'coil_feed' || at === 'coil_ground') return [coil(at, value, scene)];
  if (place < 0) return [];
  const node = unloaded
    ? (s: Snapshot) => unloadedVolts(s, place, vehicle.pumpAt, vehicle.moduleAt)
    : (s: Snapshot) => s.volts[place];
  const of: NumberPart['of'] = reference === 'battery+' ? (s) => s.batteryV - node(s) : node;
  const behind = vehicle.moduleAt > 0 && place >= vehicle.moduleAt && place <= vehicle.pumpAt;
  const chopped = behind && now.output < 0.97 && now.output > 0 ? CHOPPED * Math.abs(of(now)) : 0;
  const sd = Math.hypot(METER_V, METER_SHARE * of(now), slack(of, scene, LAWS), chopped);
  return [{ value, of, sd, range: RANGE_V }];
}

/**
 * A relay's coil pin while it should pull: fed or not, pulled to ground or not. Which of the two sides the control unit
 * switches differs from maker to maker (common practice, no published source).
 */
function coil(at: 'coil_feed' | 'coil_ground', value: number, { fault, now }: Scene): Part {
  const high = value > now.batteryV / 2 ? 'high' : 'low';
  const off = fault.relayOff ?? (now.powered ? undefined : 'control');
  const share =
    at === 'coil_feed'
      ? { feed: 0.02, control: 0.7, coil: 0.97 }[off ?? 'coil']
      : { feed: 0.08, control: 0.72, coil: 0.03 }[off ?? 'coil'];
  return { value: high, shares: answers({ high: share }, 'low') };
}

/** What a sound module ground rises by, and how much of its supply an open one hangs at (common practice, no published source). */
const GROUND_RISE_V = 0.03;
const HANGING = 0.9;

/** A module's own ground pin: next to nothing, or near its supply when that ground is open. */
function moduleGround(value: number, { vehicle, fault, now }: Scene): NumberPart {
  const open = fault.module?.groundOpen === true && now.powered;
  const of: NumberPart['of'] = (s) => (open ? HANGING * s.volts[vehicle.moduleAt - 1] : GROUND_RISE_V);
  return { value, of, sd: Math.hypot(METER_V, open ? 0.2 * of(now) : 0.05), range: RANGE_V };
}

/** Across the battery's posts. */
export function batteryParts(reading: Reading, scene: Scene): Part[] {
  return voltageParts({ ...reading, at: scene.vehicle.profile.stations[0].id, reference: 'battery-' }, scene);
}

/** With the plug off nothing flows: any finite resistance passes the voltage, only an open doesn't. */
function unloadedVolts({ reach, batteryV, output }: Snapshot, place: number, pumpAt: number, moduleAt: number): number {
  if (place > pumpAt || reach <= place - (place === pumpAt ? 1 : 0)) return 0;
  return batteryV * (moduleAt > 0 && place >= moduleAt ? output : 1);
}

/** Volts at which a lamp of a few watts is dark, and bright (common practice, no published source). */
const DARK_V = 3;
const BRIGHT_V = 8;

/** A test light: to ground it asks for feed, to battery + for ground. */
export function lampParts({ at, value, reference }: Reading, { vehicle, fault, now }: Scene): Part[] {
  const { stations } = vehicle.profile;
  const place = stations.findIndex(({ id }) => id === at);
  if (place < 0 || typeof value !== 'string') return [];
  const node = now.volts[place];
  const groundOpen = stations.slice(vehicle.pumpAt + 1).some(({ id }) => id === fault.at && fault.ohm === Infinity);
  const noReturn = fault.pump?.addedOhm === Infinity || groundOpen;
  const floats = place <= vehicle.pumpAt && node < 0.5 && noReturn;
  const lampV = reference === 'battery+' ? (floats ? 0 : now.batteryV - node) : node;
  const bright = sigmoid((lampV - BRIGHT_V) / 0.8);
  const off = sigmoid((DARK_V - lampV) / 0.6);
  return [{ value, shares: answers({ bright: 0.96 * bright, flash: 0.02 * bright, off: 0.98 * off }, 'dim') }];
}
