import type { KeyState } from '../terms/key-states.js';
import type { Fault } from './fault.js';
import { DIODE_V, firstOpen, thevenin, walkBack } from './network.js';
import type { Parameters, Wish } from './parameters.js';
import { needed, runPump } from './pump.js';
import type { Vehicle } from './vehicle.js';

/** How the circuit is helped while it is watched. */
export interface Help {
  /** A fused bridge across that station. */
  readonly bridged?: number;
  /** Fed from the battery at that station. */
  readonly fedAt?: number;
  /** Fed and grounded at the pump itself: nothing of the path is in it. */
  readonly direct?: boolean;
  /** Full battery voltage past the module, from its supply to its output. */
  readonly moduleBypassed?: boolean;
  /** The control unit was told by scan tool to run the pump. */
  readonly commanded?: boolean;
  /** A charger or jump pack carries the battery. */
  readonly boosted?: boolean;
  /** The return pinched shut: nothing holds the pressure down. */
  readonly pinched?: boolean;
}

/** A circuit as it is: nothing bridged, fed or passed by. */
export const UNHELPED: Help = {};

/** A vehicle at one moment, all that can be read of it. Pressures in Pa, duties from 0 to 1. */
export interface Snapshot {
  readonly keyState: KeyState;
  /** Whether the control unit wants the pump to run. */
  readonly powered: boolean;
  readonly batteryV: number;
  /** By station, from battery -; and through each. */
  readonly volts: Float64Array;
  readonly amperes: Float64Array;
  readonly currentA: number;
  /** What the pump's feed loses for each ampere, ohm, and what its ground side does; infinite where they are open. */
  readonly feedOhm: number;
  readonly groundOhm: number;
  /** Standing still it would draw this, A. */
  readonly stallA: number;
  /** First station of the supply side that is open; the pump's place when none is. */
  readonly reach: number;
  /** Share of the rated speed. */
  readonly speed: number;
  readonly locked: boolean;
  readonly railPa: number;
  readonly beforeFilterPa: number;
  /** What a hand gauge shows of a pressure, as a share. */
  readonly gauge: number;
  /** What the rail would show without vacuum on the regulator. */
  readonly hoseOffPa: number;
  readonly vacuumPa: number;
  readonly desiredPa: number;
  readonly sensedPa: number;
  /** Share of the rated flow that passes the filter. */
  readonly flow: number;
  /** Of a second pump: its current, and the pressure it lifts to; 0 without one. */
  readonly liftA: number;
  readonly liftPa: number;
  /** Into a measuring jar, m3/s. */
  readonly freeFlow: number;
  /** What the control unit wishes, what arrives of it at the module, what the module gives out. */
  readonly wish: number;
  readonly pin: number;
  readonly output: number;
  /** The module has supply and ground. */
  readonly moduleAlive: boolean;
}

/** A clip lead and its fuse, ohm. */
const LEAD_OHM = 0.02;
const RUNNING: ReadonlySet<KeyState> = new Set(['idle', 'loaded']);
/** A relief valve opens this far above the held pressure (common practice, no published source). */
const RELIEF = 1.6;
/** With its return shut a pump comes to no more than a relief valve in it lets it, share of the rated pressure (common practice, no published source). */
const PINCHED = 2.2;
/** Below this a module's own electronics rest (common practice, no published source). */
const MODULE_LEAST_V = 5;
/** A relay's coil pulls from about here on (half of its rated 12 V and a little; common practice, no published source). */
const PULLS_V = 6.5;
const LEAST_DUTY = 0.05;
/** What a clogged filter lets through with nothing behind it, beside what pressure explains (no published source). */
const CLOGGED_FREE = 0.6;

/** What a fault makes of a vehicle in a key state. */
export function solve(vehicle: Vehicle, p: Parameters, fault: Fault, keyState: KeyState, help: Help): Snapshot {
  const { pumpAt, moduleAt, profile } = vehicle;
  const keyOn = keyState !== 'off' && keyState !== 'after-off';
  const running = fault.lift === 'open' ? vehicle.withoutLift : vehicle.chain;
  const chain = keyOn ? running : vehicle.unloaded;
  const wanted = keyOn && !(keyState === 'prime' && profile.crankOnly && !help.commanded);
  const batteryV = p.batteryV - (help.boosted ? 0 : lackOf(fault, keyState));
  const ohm = pathOhms(vehicle, p, fault, keyState, wanted && batteryV >= PULLS_V, help);
  const starved = fault.fuel === 'empty' || fault.lift !== undefined;
  const pump = starved ? { ...fault.pump, dry: true } : (fault.pump ?? {});
  const vacuum = fault.regulatorDeaf ? 0 : p.vacuum;
  const set = p.setShare * vehicle.heldShare * (fault.regulator ?? 1);
  const gain = fault.sensorGain ?? 1;
  const hydraulics = {
    held: vehicle.closedLoop ? set / gain : Math.max(0, set - vacuum),
    demand: p.demand,
    filter: p.filter + (fault.clogged ?? 0),
    split: fault.split ?? 0,
  };
  const before = moduleAt >= 0 ? thevenin(chain, batteryV, ohm, moduleAt, 1, false) : undefined;
  const reach = firstOpen(chain, ohm);
  const supplied = reach === pumpAt;
  const feeds = firstOpen({ ...chain, pumpAt: Math.max(1, moduleAt) }, ohm) >= moduleAt;
  const moduleAlive =
    moduleAt >= 0 &&
    feeds &&
    !fault.module?.groundOpen &&
    (before?.openV ?? 0) > MODULE_LEAST_V &&
    (wanted || isHelped(help));
  let after = 0;
  for (let i = moduleAt + 1; i < ohm.length; i++) if (i !== pumpAt) after += ohm[i];
  const duties = dutiesOf(vehicle, p, fault, help, moduleAlive, () => {
    const { volts, amperes } = needed(p, pump, hydraulics);
    const own = moduleAt >= 0 ? ohm[moduleAt] : 0;
    return before ? dutyFor(before.openV, before.ohm, own, after, volts, amperes) : 1;
  });
  // A controller that gives more than is needed is stopped by a relief valve.
  const regulated = !vehicle.closedLoop || duties.holds;
  const held = help.pinched ? PINCHED : regulated ? hydraulics.held : hydraulics.held * RELIEF;
  const surroundings = { ...hydraulics, held };
  const ground = help.direct ? LEAD_OHM : groundOhm(ohm, pumpAt);
  const feed = help.direct
    ? () => ({ openV: batteryV, ohm: LEAD_OHM })
    : (freewheels: boolean) => thevenin(chain, batteryV, ohm, pumpAt, duties.output, freewheels);
  const settle = (freewheels: boolean) => {
    const { openV, ohm: feedOhm } = supplied || help.direct ? feed(freewheels) : { openV: 0, ohm: Infinity };
    return { ...runPump(p, pump, { ...surroundings, openV, sourceOhm: feedOhm + ground }), feedOhm };
  };
  const freewheeling = settle(true);
  const freewheels = freewheeling.currentA > 0;
  const point = freewheels ? freewheeling : settle(false);
  const pathA = help.direct ? 0 : point.currentA;
  const { volts, amperes } = walkBack(chain, batteryV, ohm, duties.output, freewheels, pathA, point.open);
  if (help.direct) volts[pumpAt] = batteryV - LEAD_OHM * point.currentA;
  const rated = profile.pump.pressurePa;
  const lifted = point.pressure > 0 && point.pressure >= surroundings.held ? vacuum : 0;
  return {
    keyState,
    powered: wanted || isHelped(help),
    batteryV,
    volts,
    amperes,
    currentA: point.currentA,
    feedOhm: point.feedOhm,
    groundOhm: ground,
    stallA: point.stallA,
    reach,
    speed: point.speed,
    locked: point.locked,
    railPa: point.pressure * rated,
    beforeFilterPa: point.before * rated,
    gauge: p.gauge,
    hoseOffPa: (point.pressure + lifted) * rated,
    vacuumPa: p.vacuum * rated,
    desiredPa: vehicle.heldShare * rated,
    sensedPa: point.pressure * rated * gain,
    flow: point.flow,
    ...liftOf(vehicle, fault, volts, chain.loadS),
    freeFlow: starved ? 0 : p.freeFlow * point.speed * ((fault.clogged ?? 0) > 0 ? CLOGGED_FREE : 1),
    ...duties,
    moduleAlive,
  };
}

/** A lift pump fills the other one at next to no pressure (common practice, no published source). */
const LIFT_PA = 35e3;
/** Below this it stands still (common practice, no published source). */
const LIFT_LEAST_V = 4;

function liftOf({ liftAt }: Vehicle, { lift }: Fault, volts: Float64Array, loadS: Float64Array) {
  if (liftAt < 0 || volts[liftAt] < LIFT_LEAST_V) return { liftA: 0, liftPa: 0 };
  return {
    liftA: volts[liftAt] * loadS[liftAt],
    liftPa: lift === undefined ? (LIFT_PA * volts[liftAt]) / RATED_V : 0,
  };
}

/** What a pump's loads are rated at. */
const RATED_V = 12;

function isHelped({ bridged, fedAt, direct, moduleBypassed }: Help): boolean {
  return bridged !== undefined || fedAt !== undefined || direct === true || moduleBypassed === true;
}

/** Volts that a bad battery or alternator lacks in a key state. */
function lackOf({ battery }: Fault, keyState: KeyState): number {
  if (!battery) return 0;
  const { restV, crankV, chargeV = 0 } = battery;
  if (RUNNING.has(keyState)) return chargeV;
  return restV + (keyState === 'cranking' ? crankV : 0);
}

function groundOhm(ohm: Float64Array, pumpAt: number): number {
  let sum = 0;
  for (let i = pumpAt + 1; i < ohm.length; i++) sum += ohm[i];
  return sum;
}

/** The stations' resistances with the fault, the relay's position and the help put in. */
function pathOhms(
  { profile: { stations }, pumpAt, relayAt, moduleAt }: Vehicle,
  p: Parameters,
  fault: Fault,
  keyState: KeyState,
  pulled: boolean,
  { bridged, fedAt, moduleBypassed }: Help,
): Float64Array {
  const ohm = p.ohm.slice();
  const place = (id: string) => stations.findIndex((station) => station.id === id);
  if (fault.at !== undefined) ohm[place(fault.at)] += fault.ohm ?? 0;
  if (fault.shortBehind !== undefined) ohm[fuseBefore(stations, place(fault.shortBehind))] = Infinity;
  if (relayAt >= 0 || !pulled) {
    const off = fault.relayOff !== undefined && (!fault.crankingOnly || keyState === 'cranking');
    const opens = relayAt >= 0 ? relayAt : moduleAt >= 0 ? moduleAt : pumpAt - 1;
    if (!pulled || off) ohm[opens] = Infinity;
    const bypass = stations[opens].bypass;
    const pressed = RUNNING.has(keyState) || (keyState === 'cranking' && fault.oilUp === true);
    if (bypass && pressed) ohm[opens] = 1 / (1 / ohm[opens] + 1 / bypass.ohm);
  }
  if (bridged !== undefined) ohm[bridged] = LEAD_OHM;
  if (moduleBypassed && moduleAt >= 0) ohm[moduleAt] = LEAD_OHM;
  // Fed further down, what lies before is a lead to the battery.
  if (fedAt !== undefined) for (let i = 1; i <= fedAt; i++) ohm[i] = i === fedAt ? LEAD_OHM : 0;
  return ohm;
}

/** Place of the fuse that a short behind a station blows; the first station where there is none. */
export function fuseBefore(stations: Vehicle['profile']['stations'], place: number): number {
  for (let i = place; i > 0; i--) if (stations[i].kind === 'fuse' || stations[i].kind === 'fusible-link') return i;
  return 1;
}

interface Duties {
  readonly wish: number;
  readonly pin: number;
  readonly output: number;
  /** Of a controller: the duty is what the pressure needs, not a fixed one. */
  readonly holds: boolean;
}

function dutiesOf(
  { moduleAt, closedLoop }: Vehicle,
  { wish: seen, wishShift }: Parameters,
  { module = {}, command = {} }: Fault,
  help: Help,
  alive: boolean,
  need: () => number,
): Duties {
  if (moduleAt < 0) return { wish: 1, pin: 1, output: 1, holds: true };
  const arrives = command.arrives ?? 1;
  const passes = module.passes ?? 1;
  const share = arrives * passes;
  const free = seen ? seenWish(seen, arrives) : share > 0 && alive && module.stuckAt === undefined ? need() / share : 1;
  const wish = command.notAsked && !help.commanded ? 0 : Math.min(1, Math.max(0, free + wishShift));
  const pin = wish * arrives;
  const past = help.moduleBypassed === true || help.direct === true;
  // Fed at or behind the module's output the module has no say.
  const fed = help.fedAt !== undefined && help.fedAt >= moduleAt;
  const given = module.stuckAt ?? pin * passes;
  const output = past || fed ? 1 : alive ? given : 0;
  const holds = closedLoop && (seen ? seen.holds === true : !past && !fed && module.stuckAt === undefined);
  return { wish, pin, output, holds };
}

function seenWish({ duty, atPin }: Wish, arrives: number): number {
  return atPin && arrives > 0 ? duty / arrives : duty;
}

/**
 * Duty that puts so many volts at the pump: d (V - d I R1 - I R2) - (1 - d) Vd - I R3 = needed, solved for d; all there is (1)
 * when it isn't enough.
 */
function dutyFor(
  openV: number,
  sourceOhm: number,
  ownOhm: number,
  afterOhm: number,
  volts: number,
  amperes: number,
): number {
  const wanted = volts + amperes * afterOhm + DIODE_V;
  const linear = openV + DIODE_V - amperes * ownOhm;
  const room = linear * linear - 4 * sourceOhm * amperes * wanted;
  if (!Number.isFinite(wanted) || !Number.isFinite(linear) || !(room > 0) || openV <= 0) return 1;
  // The smaller root, in the form that stays exact as the resistance goes to nothing.
  return Math.min(1, Math.max(LEAST_DUTY, (2 * wanted) / (linear + Math.sqrt(room))));
}
