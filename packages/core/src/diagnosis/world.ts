import type { KeyState } from '../evidence/entry.js';
import { IDLE_DEMAND } from '../path/pump-model.js';
import { solve, type PathModel, type PathState } from '../path/solve-path.js';
import type { Fault } from './suspects.js';

/** How the path is helped while it is watched. */
export type Helped = 'no' | 'bridged' | 'module-bypassed' | 'direct';

/** What the model foretells for one fault in one key state. */
export interface World {
  readonly powered: boolean;
  readonly batteryV: number;
  readonly state: PathState;
  /** Speed as a share of the rated one. */
  readonly speed: number;
  readonly currentA: number;
  readonly pressurePa: number;
  /** What the rail sensor makes the control unit believe, Pa. */
  readonly sensedPa: number;
}

/** Usual battery voltage by key state, and how far a sound one may be from it (common practice, no published source). */
export const BATTERY: Readonly<Record<KeyState, { readonly volts: number; readonly spread: number }>> = {
  off: { volts: 12.5, spread: 0.2 },
  prime: { volts: 12.3, spread: 0.3 },
  cranking: { volts: 10.4, spread: 0.7 },
  idle: { volts: 14.1, spread: 0.35 },
  loaded: { volts: 14.0, spread: 0.4 },
  'after-off': { volts: 12.6, spread: 0.3 },
};

const RUNNING: ReadonlySet<KeyState> = new Set(['idle', 'loaded']);
const LOADED_DEMAND = 0.6;
/** Output duty of two-speed and stepped modules when slow (common practice, no published source). */
const SLOW_DUTY = 0.65;
const ATMOSPHERIC_LEAK = 1;

/**
 * Works out what a fault would do in a key state.
 * @param knownDuty output duty that was measured in that state, 0 to 1
 * @param sourceV the battery's voltage; that which is usual in the state when absent
 */
export function foretell(
  path: PathModel,
  fault: Fault,
  keyState: KeyState,
  helped: Helped,
  knownDuty?: number,
  sourceV: number = BATTERY[keyState].volts,
): World {
  const { profile } = path;
  const powered =
    keyState !== 'off' && keyState !== 'after-off' && !(keyState === 'prime' && profile.crankOnly && helped === 'no');
  const batteryV = sourceV - (fault.batteryLow ?? 0) * (keyState === 'cranking' ? 1.3 : 1);
  const target = profile.pump.pressurePa;
  // A controller that believes a lying sensor holds what the sensor shows at its target.
  const closedLoop = profile.control === 'module-commanded' || profile.control === 'module-self';
  const set = target * (fault.regulator ?? 1) * (closedLoop ? 1 / (fault.sensorGain ?? 1) : 1);
  const direct = helped === 'direct';
  const closed = helped === 'bridged' || direct;
  const contact = fault.at !== undefined && fault.ohm !== undefined && !isBypassed(path, fault.at, helped);
  const measured = knownDuty !== undefined || direct || helped === 'module-bypassed';
  const passes = measured ? undefined : fault.modulePasses;
  const state = solve(path, {
    batteryV,
    duty: dutyOf(path, fault, keyState, helped, knownDuty),
    ...(passes !== undefined && { modulePasses: passes }),
    ...(contact && { addedOhm: { [fault.at]: fault.ohm } }),
    ...(fault.pump && { pump: fault.pump }),
    relayOff: !closed && (!powered || fault.relayOff === true),
    bypassClosed: RUNNING.has(keyState),
    setPressurePa: set,
    demand: keyState === 'loaded' ? LOADED_DEMAND : IDLE_DEMAND,
  });
  const dry = (fault.pump?.leak ?? 0) >= ATMOSPHERIC_LEAK;
  const pressurePa = dry ? 0 : state.pump.pressurePa;
  return {
    powered: powered || closed,
    batteryV,
    state,
    speed: state.pump.speedRadS / path.pump.ratedSpeed,
    currentA: state.currentA,
    pressurePa,
    sensedPa: pressurePa * (fault.sensorGain ?? 1),
  };
}

function dutyOf(
  { profile, moduleAt }: PathModel,
  fault: Fault,
  keyState: KeyState,
  helped: Helped,
  knownDuty: number | undefined,
): number | 'regulated' {
  if (moduleAt < 0 || helped === 'module-bypassed' || helped === 'direct') return 1;
  if (knownDuty !== undefined) return knownDuty;
  if (fault.commanded !== undefined) return fault.commanded;
  if (profile.control === 'two-speed') return keyState === 'loaded' ? 1 : SLOW_DUTY;
  if (profile.control === 'stepped') return keyState === 'idle' ? SLOW_DUTY : 1;
  return keyState === 'prime' || keyState === 'cranking' ? 1 : 'regulated';
}

/** Whether the help goes round that station: a bridge round the relay, a direct feed round all but the pump. */
function isBypassed({ profile: { stations }, relayAt, moduleAt }: PathModel, station: string, helped: Helped): boolean {
  const at = stations.findIndex(({ id }) => id === station);
  if (helped === 'direct') return true;
  if (helped === 'module-bypassed') return at === moduleAt;
  return helped === 'bridged' && at === relayAt;
}
