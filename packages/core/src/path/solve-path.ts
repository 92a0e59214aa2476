import { USUAL_OHM, type Station, type SystemProfile } from '../systems/profile.js';
import { makePump, runPump, type PumpFault, type PumpPoint } from './pump-model.js';
import { wireOhm } from './wire.js';

/** What the path is asked to do, and what is wrong with it. */
export interface Condition {
  /** At the posts, with the path's current flowing. */
  readonly batteryV: number;
  /** Output duty of a driver module, 0 to 1; 1 without one. */
  readonly duty?: number;
  /** Ohm beside the sound ones, by station; Infinity is an open. */
  readonly addedOhm?: Readonly<Record<string, number>>;
  readonly pump?: PumpFault;
  /** The control side keeps the relay open. */
  readonly relayOff?: boolean;
  /** The second way round a relay is closed too (oil pressure is up). */
  readonly bypassClosed?: boolean;
  readonly setPressurePa: number;
  /** Share of the pump's rated flow that the engine takes; that of an idling one when absent. */
  readonly demand?: number;
  /** Meter input across what is measured; it loads an open path, ohm. */
  readonly meterOhm?: number;
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
  readonly pump: PumpPoint;
}

/** Ten megohm, as meters have. */
const METER_OHM = 10e6;

/** Healthy resistance across a station, ohm. */
export function soundOhm(station: Station): number {
  if (station.ohm !== undefined) return station.ohm;
  if (station.wire) return wireOhm(station.wire.lengthM, station.wire.areaMm2 * 1e-6);
  return USUAL_OHM[station.kind];
}

/**
 * Solves the path as a chain: everything upstream of the pump is one voltage behind one resistance (Thevenin), the pump
 * takes its current from that, and the voltages follow station by station. A driver module with freewheeling acts on mean
 * values like a transformer of ratio `duty`: V2 = d V1, I1 = d I2.
 */
export function solvePath(profile: SystemProfile, condition: Condition): PathState {
  const { stations } = profile;
  const pumpAt = stations.findIndex(({ kind }) => kind === 'pump');
  const supply = stations.slice(1, pumpAt);
  const ground = stations.slice(pumpAt + 1);
  const ohms = (list: readonly Station[]) => list.map((station) => ohmOf(station, condition));
  const supplyOhm = ohms(supply);
  const groundOhm = ohms(ground);
  const duty = condition.duty ?? 1;
  const shared = sharedCurrents(supply);
  let openV = condition.batteryV;
  let sourceOhm = 0;
  supply.forEach(({ kind }, i) => {
    openV -= supplyOhm[i] * shared[i];
    sourceOhm += supplyOhm[i];
    if (kind === 'module') {
      openV *= duty;
      // The module's own resistance carries the output current; what lies before it carries `duty` of that.
      sourceOhm = duty * duty * (sourceOhm - supplyOhm[i]) + supplyOhm[i];
    }
  });
  const returnOhm = groundOhm.reduce((sum, ohm) => sum + ohm, 0);
  const pump = runPump(makePump(profile.pump), condition.pump ?? {}, {
    openV: Number.isFinite(openV) ? openV : 0,
    sourceOhm: sourceOhm + returnOhm,
    setPressurePa: condition.setPressurePa,
    ...(condition.demand !== undefined && { demand: condition.demand }),
  });
  return {
    volts: voltages(profile, condition, { supplyOhm, groundOhm, shared, duty, pump }),
    currentA: pump.currentA,
    pump,
  };
}

function ohmOf(station: Station, { addedOhm = {}, relayOff, bypassClosed }: Condition): number {
  const own = soundOhm(station) + (addedOhm[station.id] ?? 0);
  const contact = station.kind === 'relay' && relayOff ? Infinity : own;
  if (!station.bypass || !bypassClosed) return contact;
  return 1 / (1 / contact + 1 / station.bypass.ohm);
}

/** Current of other loads through each supply station: taps behind it draw through it, a module lets none pass. */
function sharedCurrents(supply: readonly Station[]): number[] {
  let behind = 0;
  const through = supply.map(() => 0);
  for (let i = supply.length - 1; i >= 0; i--) {
    behind += supply[i].sharedA ?? 0;
    through[i] = behind;
  }
  return through;
}

interface Solved {
  readonly supplyOhm: readonly number[];
  readonly groundOhm: readonly number[];
  readonly shared: readonly number[];
  readonly duty: number;
  readonly pump: PumpPoint;
}

/**
 * Walks from battery + down to the feed and from battery - up to the ground pin. Behind an open the meter itself is the
 * only load: the node takes the voltage of the side it still hangs on.
 */
function voltages({ stations }: SystemProfile, condition: Condition, solved: Solved): Record<string, number> {
  const { supplyOhm, groundOhm, shared, duty, pump } = solved;
  const pumpAt = stations.findIndex(({ kind }) => kind === 'pump');
  const supply = stations.slice(1, pumpAt);
  const ground = stations.slice(pumpAt + 1);
  const meter = condition.meterOhm ?? METER_OHM;
  const moduleAt = supply.findIndex(({ kind }) => kind === 'module');
  const volts: Record<string, number> = { [stations[0].id]: condition.batteryV };
  const supplyOpen = supplyOhm.includes(Infinity);
  const groundOpen = groundOhm.includes(Infinity);
  let here = condition.batteryV;
  let cut = false;
  supply.forEach(({ id, kind }, i) => {
    const current = (i < moduleAt ? duty : 1) * pump.currentA + shared[i];
    if (supplyOhm[i] === Infinity) cut = true;
    if (cut) here = 0;
    else {
      if (kind === 'module') here *= duty;
      here -= current * supplyOhm[i];
    }
    volts[id] = here;
  });
  volts[stations[pumpAt].id] = here;
  // With an open ground nothing flows, and the pin stands at the feed's voltage through the pump's winding.
  const hangs = groundOpen && !supplyOpen && !pump.open;
  let after = pump.currentA * groundOhm.reduce((sum, ohm) => sum + (Number.isFinite(ohm) ? ohm : 0), 0);
  let passed = false;
  ground.forEach(({ id }, i) => {
    volts[id] = hangs && !passed ? (here * meter) / (meter + pump.windingOhm) : after;
    if (groundOhm[i] === Infinity) {
      passed = true;
      after = 0;
    } else if (!hangs || passed) after -= pump.currentA * groundOhm[i];
  });
  return volts;
}
