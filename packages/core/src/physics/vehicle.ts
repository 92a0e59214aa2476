import type { KeyState } from '../terms/key-states.js';
import { USUAL_OHM, type Station, type SystemProfile } from '../vehicle/profile.js';
import type { Chain } from './network.js';
import { BATTERY, CHURNING, FRICTION, type Parameters, type Spread, type Wish } from './parameters.js';
import { wireOhm } from './wire.js';

/** A profile made ready to be solved many times. */
export interface Vehicle {
  readonly profile: SystemProfile;
  readonly chain: Chain;
  /** The same with the key off: the other loads rest. */
  readonly unloaded: Chain;
  readonly pumpAt: number;
  /** -1 without one. */
  readonly moduleAt: number;
  /** The same with the lift pump drawing nothing. */
  readonly withoutLift: Chain;
  /** The station that feeds a second pump; -1 without one. */
  readonly liftAt: number;
  /** The relay, or the box that holds it; -1 without one. */
  readonly relayAt: number;
  /** Whether a controller holds the pressure by the duty, so that the duty is what is needed. */
  readonly closedLoop: boolean;
  /** Held pressure as a share of the rated one, before any vacuum. */
  readonly heldShare: number;
  readonly sound: Omit<Parameters, 'batteryV' | 'wish' | 'demand' | 'vacuum'>;
  readonly vacuum: number;
  readonly spreads: readonly Spread[];
}

const LOADS_AT_V = 12;

/** Healthy resistance across a station, ohm. */
export function soundOhm(station: Station): number {
  if (station.ohm !== undefined) return station.ohm;
  if (station.wire) return wireOhm(station.wire.lengthM, station.wire.areaMm2 * 1e-6);
  return USUAL_OHM[station.kind];
}

/** Resistance of a side of the path, as far as its profile states all of it, ohm. @param end exclusive */
export function statedOhm({ profile: { stations }, sound }: Vehicle, from: number, end: number): number | undefined {
  let sum = 0;
  for (let i = from; i < end; i++) {
    if (stations[i].ohm === undefined && !stations[i].wire) return undefined;
    sum += sound.ohm[i];
  }
  return sum;
}

/** Of the rated flow; a pump shut off at its outlet then makes about four times its rated pressure (no published source). */
const SLIP = 0.3;
/** Of the rated flow: an idling engine, and the jets that some tanks drive with it (no published source). */
const DEMAND = 0.2;
const LOADED_DEMAND = 0.6;
/** Of the rated pressure, lost in a sound filter at rated flow (common practice, no published source). */
const FILTER = 0.04;
/** 180 L/h, m3/s (common practice, no published source). */
const FREE_FLOW = 180e-3 / 3600;
/** Manifold vacuum of an idling engine, Pa (common practice, from memory). */
const VACUUM_PA = 55e3;

/**
 * Prepares a path for the model: where each part stands, what is sound in it, and every pressure that is held.
 *
 * @param profile a checked path: it has a pump, and ends at a ground point
 */
export function makeVehicle(profile: SystemProfile): Vehicle {
  const { stations, pump, control } = profile;
  const place = (...kinds: readonly Station['kind'][]) => stations.findIndex(({ kind }) => kinds.includes(kind));
  const pumpAt = place('pump');
  const moduleAt = place('module');
  const relayAt = place('relay') >= 0 ? place('relay') : place('junction-box');
  const liftAt = stations.findIndex(({ secondPump }) => secondPump);
  const loadS = Float64Array.from(stations, ({ sharedA = 0 }) => sharedA / LOADS_AT_V);
  const { held, spread, vacuum } = pressuresOf(profile);
  const sound: Vehicle['sound'] = {
    ohm: Float64Array.from(stations, soundOhm),
    windingOhm: pump.windingOhm,
    inducedV: pump.volts - pump.amperes * pump.windingOhm,
    ratedA: pump.amperes,
    churning: CHURNING,
    friction: FRICTION,
    slip: SLIP,
    filter: FILTER,
    setShare: 1,
    wishShift: 0,
    gauge: 1,
    freeFlow: FREE_FLOW,
  };
  return {
    profile,
    chain: { pumpAt, moduleAt, loadS },
    unloaded: { pumpAt, moduleAt, loadS: loadS.map(() => 0) },
    withoutLift: { pumpAt, moduleAt, loadS: loadS.map((load, i) => (i === liftAt ? 0 : load)) },
    liftAt,
    pumpAt,
    moduleAt,
    relayAt,
    closedLoop: moduleAt >= 0 && (control === 'module-commanded' || control === 'module-self'),
    heldShare: held,
    sound,
    vacuum,
    spreads: makeSpreads(profile, moduleAt, spread, vacuum),
  };
}

/** Held pressure and vacuum as shares of the rated pressure, from the windows where the profile has them. */
function pressuresOf({ pump, pressureWindows, regulator, control }: SystemProfile) {
  const window = pressureWindows.prime ?? pressureWindows.cranking ?? pressureWindows.loaded;
  const middle = (of: typeof window) => (of ? (of.minPa + of.maxPa) / 2 : undefined);
  const held = (middle(window) ?? pump.pressurePa) / pump.pressurePa;
  const half = window ? (window.maxPa - window.minPa) / 2 / pump.pressurePa : 0;
  const idle = middle(pressureWindows.idle);
  const differs = idle === undefined ? 0 : held - idle / pump.pressurePa;
  const follows = regulator === 'rail-vacuum' || (regulator === undefined && differs > 0.05);
  const vacuum = follows ? (differs > 0.05 ? differs : VACUUM_PA / pump.pressurePa) : 0;
  // A window is what a maker lets pass: two spreads of what really comes.
  return { held, spread: Math.max(0.03, half / 2), vacuum: control === 'relay' || follows ? vacuum : 0 };
}

/** How far two sound contacts of one kind differ in resistance, as a factor's logarithm: stated, and only usual. */
const STATED_SPREAD = 0.3;
const USUAL_SPREAD = 0.55;
const DRIVEN_STATES: readonly KeyState[] = ['prime', 'cranking', 'idle', 'loaded'];

function makeSpreads(profile: SystemProfile, moduleAt: number, setSpread: number, vacuum: number): Spread[] {
  const scaled = (name: keyof Vehicle['sound'] | 'demand', factor: number): Spread => ({
    name,
    turning: true,
    step: (p, z) => ({ ...p, [name]: p[name as 'slip'] * factor ** z }),
  });
  const shifted = (name: keyof Parameters, by: number): Spread => ({
    name,
    step: (p, z) => ({ ...p, [name]: p[name as 'slip'] + by * z }),
  });
  return [
    ...(Object.keys(BATTERY) as KeyState[]).map((keyState): Spread => ({
      ...shifted('batteryV', BATTERY[keyState].spread),
      name: `battery ${keyState}`,
      keyState,
    })),
    ...(moduleAt < 0
      ? []
      : DRIVEN_STATES.map((keyState): Spread => ({
          ...shifted(
            'wishShift',
            WISH_SPREAD[profile.control === 'two-speed' || profile.control === 'stepped' ? 'stepped' : 'held'],
          ),
          name: `wish ${keyState}`,
          keyState,
        }))),
    ...profile.stations.flatMap((station, i): Spread[] =>
      i === 0 || i === profile.stations.findIndex(({ kind }) => kind === 'pump')
        ? []
        : [
            {
              name: `ohm ${station.id}`,
              station: { at: i, factor: factorOf(station) },
              step: (p, z) => ({ ...p, ohm: withFactor(p.ohm, i, factorOf(station) ** z) }),
            },
          ],
    ),
    // How far a pump is from its rating: ten per cent of draw and speed are ordinary (common practice, no published source).
    scaled('windingOhm', 1.15),
    scaled('inducedV', 1.1),
    scaled('ratedA', 1.1),
    { ...shifted('churning', 0.1), turning: true },
    { ...shifted('friction', 0.05), turning: true },
    scaled('slip', 1.3),
    scaled('demand', 1.4),
    scaled('filter', 1.5),
    scaled('setShare', 1 + setSpread),
    ...(vacuum > 0 ? [shifted('vacuum', 0.25 * vacuum)] : []),
    scaled('freeFlow', 1.25),
    // A hand gauge's class, the same wherever it is screwed in (common practice, no published source).
    scaled('gauge', 1.025),
  ];
}

/** Of a duty: what a controller's own margins move it by, and what a step chosen by load may be. */
const WISH_SPREAD = { held: 0.03, stepped: 0.12 } as const;

function factorOf({ ohm, wire }: Station): number {
  return Math.exp(ohm !== undefined || wire ? STATED_SPREAD : USUAL_SPREAD);
}

function withFactor(ohm: Float64Array, at: number, factor: number): Float64Array {
  const changed = ohm.slice();
  changed[at] *= factor;
  return changed;
}

/** Usual output duty of modules that step, when slow (common practice, no published source). */
const SLOW_DUTY = 0.72;

/** The sound vehicle's usual parameters in a key state. @param wish what the control unit was seen to want */
export function usualParameters(
  { sound, vacuum, moduleAt, closedLoop, profile }: Vehicle,
  keyState: KeyState,
  wish?: Wish,
): Parameters {
  const stepped = moduleAt < 0 || closedLoop ? undefined : stepOf(profile.control, keyState);
  return {
    ...sound,
    batteryV: BATTERY[keyState].volts,
    demand: keyState === 'loaded' ? LOADED_DEMAND : DEMAND,
    vacuum: keyState === 'idle' ? vacuum : 0,
    wish: wish ?? (stepped === undefined ? undefined : { duty: stepped }),
  };
}

function stepOf(control: SystemProfile['control'], keyState: KeyState): number {
  const slow = control === 'two-speed' ? keyState === 'idle' : keyState === 'idle' || keyState === 'loaded';
  return slow ? SLOW_DUTY : 1;
}
