import { USUAL_OHM, type Station, type SystemProfile } from '../systems/profile.js';
import { dutyFor, makePump, runPump, type PumpConstants, type PumpFault, type PumpPoint } from './pump-model.js';
import { wireOhm } from './wire.js';

/** A profile made ready to be solved many times. */
export interface PathModel {
  readonly profile: SystemProfile;
  readonly pump: PumpConstants;
  /** Place of the pump; stations before it are the supply side, those after it the ground side. */
  readonly pumpAt: number;
  /** Places of the driver module and of the relay (or the box that holds it); -1 without one. */
  readonly moduleAt: number;
  readonly relayAt: number;
  /** Sound resistance of each station, ohm. */
  readonly soundOhm: Float64Array;
  /** Other loads behind each station, as conductance at 12 V, S. */
  readonly sharedS: Float64Array;
}

/** What the path is asked to do, and what is wrong with it. */
export interface Condition {
  /** At the posts, with the path's current flowing. */
  readonly batteryV: number;
  /** Output duty of a driver module, 0 to 1; 1 without one. 'regulated': as much as holds the set pressure. */
  readonly duty?: number | 'regulated';
  /** Share of its duty that a faulty module really passes. */
  readonly modulePasses?: number;
  /** Ohm beside the sound ones, by station; Infinity is an open. */
  readonly addedOhm?: Readonly<Record<string, number>>;
  readonly pump?: PumpFault;
  /** The relay is open: not commanded, or its control side is dead. */
  readonly relayOff?: boolean;
  /** The second way round a relay is closed too (oil pressure is up). */
  readonly bypassClosed?: boolean;
  readonly setPressurePa: number;
  /** Share of the pump's rated flow that the engine takes; that of an idling one when absent. */
  readonly demand?: number;
}

/** The path in steady state. */
export interface PathState {
  /**
   * Volts from battery -. Supply stations: at their pump side. Pump: at its feed. Ground side: at their pump side, so that
   * the first of them is the pump's ground pin.
   */
  readonly volts: Readonly<Record<string, number>>;
  /** Through the pump, mean, A. */
  readonly currentA: number;
  /** Output duty of the module, 0 to 1. */
  readonly duty: number;
  readonly pump: PumpPoint;
}

const SHARED_AT_V = 12;

/** Healthy resistance across a station, ohm. */
export function soundOhm(station: Station): number {
  if (station.ohm !== undefined) return station.ohm;
  if (station.wire) return wireOhm(station.wire.lengthM, station.wire.areaMm2 * 1e-6);
  return USUAL_OHM[station.kind];
}

export function makePath(profile: SystemProfile): PathModel {
  const { stations } = profile;
  const place = (...kinds: readonly Station['kind'][]) => stations.findIndex(({ kind }) => kinds.includes(kind));
  return {
    profile,
    pump: makePump(profile.pump),
    pumpAt: place('pump'),
    moduleAt: place('module'),
    relayAt: place('relay') >= 0 ? place('relay') : place('junction-box'),
    soundOhm: Float64Array.from(stations, soundOhm),
    sharedS: Float64Array.from(stations, ({ sharedA = 0 }) => sharedA / SHARED_AT_V),
  };
}

export function solvePath(profile: SystemProfile, condition: Condition): PathState {
  return solve(makePath(profile), condition);
}

/**
 * Solves the path as a chain: everything upstream of the pump is one voltage behind one resistance (Thevenin), the pump
 * takes its current from that, and the voltages follow walking back station by station. A driver module with freewheeling
 * acts on mean values like a transformer of ratio `duty`: V2 = d V1, I1 = d I2.
 */
export function solve(path: PathModel, condition: Condition): PathState {
  const { profile, pumpAt } = path;
  const count = profile.stations.length;
  const ohm = stationOhms(path, condition);
  // The first open ends the supply: what lies behind it hangs on nothing.
  let reach = 1;
  while (reach < pumpAt && ohm[reach] !== Infinity) reach++;
  const supplied = reach === pumpAt;
  let returnOhm = 0;
  for (let i = pumpAt + 1; i < count; i++) returnOhm += ohm[i];
  const duty = moduleDuty(path, condition, ohm, returnOhm, supplied);
  const source = thevenin(path, condition.batteryV, ohm, reach, duty);
  const pump = runPump(path.pump, condition.pump ?? {}, {
    openV: supplied ? source.openV : 0,
    sourceOhm: source.ohm + returnOhm,
    setPressurePa: condition.setPressurePa,
    ...(condition.demand !== undefined && { demand: condition.demand }),
  });
  const volts: Record<string, number> = {};
  supplyVolts(path, condition.batteryV, ohm, reach, duty, source, pump.currentA, volts);
  groundVolts(path, ohm, pump, volts);
  return { volts, currentA: pump.currentA, duty, pump };
}

function stationOhms(path: PathModel, { addedOhm, relayOff, bypassClosed }: Condition): Float64Array {
  const ohm = path.soundOhm.slice();
  const { stations } = path.profile;
  for (const id in addedOhm) {
    const at = stations.findIndex((station) => station.id === id);
    if (at >= 0) ohm[at] += addedOhm[id];
  }
  const { relayAt } = path;
  if (relayAt < 0) return ohm;
  if (relayOff) ohm[relayAt] = Infinity;
  const { bypass } = stations[relayAt];
  if (bypass && bypassClosed) ohm[relayAt] = 1 / (1 / ohm[relayAt] + 1 / bypass.ohm);
  return ohm;
}

interface Source {
  readonly openV: number;
  readonly ohm: number;
}

/** Everything from the battery to station `reach` (exclusive) as one voltage behind one resistance. */
function thevenin(path: PathModel, batteryV: number, ohm: Float64Array, reach: number, duty: number): Source {
  let openV = batteryV;
  let sourceOhm = 0;
  for (let i = 1; i < reach; i++) {
    if (i === path.moduleAt) {
      openV *= duty;
      sourceOhm *= duty * duty;
    }
    sourceOhm += ohm[i];
    const loading = 1 + path.sharedS[i] * sourceOhm;
    openV /= loading;
    sourceOhm /= loading;
  }
  return { openV, ohm: sourceOhm };
}

function moduleDuty(
  path: PathModel,
  condition: Condition,
  ohm: Float64Array,
  returnOhm: number,
  supplied: boolean,
): number {
  const { duty = 1, modulePasses = 1 } = condition;
  if (path.moduleAt < 0) return 1;
  if (duty !== 'regulated') return duty * modulePasses;
  if (!supplied) return modulePasses;
  const before = thevenin(path, condition.batteryV, ohm, path.moduleAt, 1);
  let after = returnOhm;
  for (let i = path.moduleAt; i < path.pumpAt; i++) after += ohm[i];
  const { pump = {}, setPressurePa, demand } = condition;
  // The controller makes up for a module that passes too little, until it can ask for no more.
  const needed = dutyFor(path.pump, pump, { ...before, afterOhm: after, setPressurePa, demand });
  return Math.min(needed, modulePasses);
}

/** Walks back from the last station that is supplied; what lies behind an open stands at nothing. */
function supplyVolts(
  { profile: { stations }, pumpAt, moduleAt, sharedS }: PathModel,
  batteryV: number,
  ohm: Float64Array,
  reach: number,
  duty: number,
  source: Source,
  pumpA: number,
  volts: Record<string, number>,
): void {
  for (let i = reach; i < pumpAt; i++) volts[stations[i].id] = 0;
  let ampere = reach === pumpAt ? pumpA : 0;
  let here = source.openV - ampere * source.ohm;
  volts[stations[pumpAt].id] = reach === pumpAt ? here : 0;
  for (let i = reach - 1; i > 0; i--) {
    volts[stations[i].id] = here;
    ampere += sharedS[i] * here;
    here += ampere * ohm[i];
    if (i !== moduleAt) continue;
    if (duty > 0) here /= duty;
    // A module that passes nothing loads nothing: what lies before it stands at the battery, but for other loads.
    else here = batteryV;
    ampere *= duty;
  }
  volts[stations[0].id] = batteryV;
}

function groundVolts(
  { profile: { stations }, pumpAt }: PathModel,
  ohm: Float64Array,
  { currentA, open }: PumpPoint,
  volts: Record<string, number>,
): void {
  // With an open ground nothing flows, and everything up to the open stands at the feed's voltage through the pump.
  let hanging = -1;
  for (let i = pumpAt + 1; i < stations.length && hanging < 0; i++) if (ohm[i] === Infinity) hanging = i;
  let rise = 0;
  for (let i = stations.length - 1; i > pumpAt; i--) {
    rise += currentA * (ohm[i] === Infinity ? 0 : ohm[i]);
    volts[stations[i].id] = i <= hanging ? (open ? 0 : volts[stations[pumpAt].id]) : rise;
  }
}
