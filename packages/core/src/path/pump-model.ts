import type { PumpRating } from '../systems/profile.js';

/** What can be wrong with a pump, each 0 when it is sound. */
export interface PumpFault {
  /** In series with the winding: worn brushes, ohm; Infinity is an open. */
  readonly addedOhm?: number;
  /** Drag beside the sound friction, as a share of the rated torque; Infinity is locked. */
  readonly drag?: number;
  /** Share of the flow lost inside: worn vanes, split hose, dry tank (1: nothing is delivered). */
  readonly leak?: number;
  /** Pressure lost before the gauge at rated flow, Pa: a clogged filter. */
  readonly restrictionPa?: number;
}

/** The rating turned into constants of a permanent-magnet motor and a positive-displacement pump. SI. */
export interface PumpConstants {
  readonly windingOhm: number;
  /** Volt seconds a radian, and newton metres an ampere. */
  readonly k: number;
  readonly ratedTorque: number;
  readonly ratedSpeed: number;
  readonly ratedPressure: number;
}

export interface Feed {
  /** Voltage with nothing drawn, and what it stands behind. */
  readonly openV: number;
  readonly sourceOhm: number;
  readonly setPressurePa: number;
  /** Share of the rated flow that the engine takes; that of an idling one when absent. */
  readonly demand?: number;
}

export interface PumpPoint {
  readonly currentA: number;
  readonly speedRadS: number;
  readonly pressurePa: number;
  readonly locked: boolean;
  readonly open: boolean;
  /** Winding and brushes, ohm. */
  readonly windingOhm: number;
}

/** Of the rated torque, what goes into friction; the rest lifts pressure (common practice, no published source). */
const FRICTION = 0.25;
/**
 * Of the rated flow, what slips back inside at rated pressure: a pump shut off at its outlet then makes 2.7 times that
 * pressure, as turbine pumps do (common practice, no published source).
 */
const SLIP = 0.6;
/** Of the rated flow, what an idling engine takes and a regulator needs to hold its pressure (common practice, no published source). */
export const IDLE_DEMAND = 0.15;

const RAD_S_PER_RPM = Math.PI / 30;

/** k = (V - I R) / w from the rated point; torque is k I (machine equations of the permanent-magnet motor, textbook). */
export function makePump({ volts, amperes, rpm, pressurePa, windingOhm }: PumpRating): PumpConstants {
  const ratedSpeed = rpm * RAD_S_PER_RPM;
  const k = (volts - amperes * windingOhm) / ratedSpeed;
  return { windingOhm, k, ratedTorque: k * amperes, ratedSpeed, ratedPressure: pressurePa };
}

/**
 * Steady state on a feed. Torque: T/Tr = friction + (1 - friction) p/pr; flow: q/qr = (1 + slip) w/wr - slip p/pr.
 * The regulator holds the set pressure as long as flow is left over; below that the pressure is what the demand leaves.
 * All of it is linear, so either case is one equation in the speed.
 */
export function runPump(pump: PumpConstants, fault: PumpFault, feed: Feed): PumpPoint {
  const { addedOhm = 0, drag = 0, leak = 0, restrictionPa = 0 } = fault;
  const windingOhm = pump.windingOhm + addedOhm;
  const loop = windingOhm + feed.sourceOhm;
  const demand = feed.demand ?? IDLE_DEMAND;
  const open = !Number.isFinite(windingOhm);
  const still = { speedRadS: 0, pressurePa: 0, windingOhm };
  if (!Number.isFinite(loop) || feed.openV <= 0) return { ...still, currentA: 0, locked: false, open };
  const stallA = feed.openV / loop;
  if (!Number.isFinite(drag)) return { ...still, currentA: stallA, locked: true, open };
  const { k, ratedTorque, ratedSpeed, ratedPressure } = pump;
  const friction = (FRICTION + drag) * ratedTorque;
  const perPascal = ((1 - FRICTION) * ratedTorque) / ratedPressure;
  // A clogged filter stands between pump and gauge: the pump lifts both.
  const lifted = feed.setPressurePa + restrictionPa;
  const speedAt = (torque: number) => (feed.openV - (torque / k) * loop) / k;
  const deliverable = (speed: number) => {
    const flow = (1 - leak) * (1 + SLIP) * (speed / ratedSpeed) - demand;
    return (flow / SLIP) * ratedPressure;
  };
  const regulated = speedAt(friction + perPascal * lifted);
  if (regulated > 0 && deliverable(regulated) >= lifted) return point(regulated, feed.setPressurePa);
  // Pressure follows speed: w = (V - loop/k (Tf + c (a w - b))) / k, solved for w.
  const a = (((1 - leak) * (1 + SLIP)) / SLIP / ratedSpeed) * ratedPressure;
  const b = (demand / SLIP) * ratedPressure;
  const speed = (feed.openV - (loop / k) * (friction - perPascal * b)) / (k + (loop / k) * perPascal * a);
  if (speed > 0 && deliverable(speed) > 0) return point(speed, Math.max(0, deliverable(speed) - restrictionPa));
  const idle = speedAt(friction);
  return idle > 0 ? point(idle, 0) : { ...still, currentA: stallA, locked: true, open };

  function point(speedRadS: number, pressurePa: number): PumpPoint {
    return { currentA: (feed.openV - k * speedRadS) / loop, speedRadS, pressurePa, locked: false, open, windingOhm };
  }
}

/** What lies before and after a driver module that holds a set pressure by its duty. */
export interface Regulated {
  readonly openV: number;
  readonly ohm: number;
  /** The module's own, the feed's behind it and the ground's. */
  readonly afterOhm: number;
  readonly setPressurePa: number;
  readonly demand: number | undefined;
}

const LEAST_DUTY = 0.05;

/**
 * The duty at which the pump just delivers the set pressure: its speed from the flow balance, its current from the torque,
 * so its voltage is known; then d V - d^2 R I = V2, solved for d. All it has (1) when that isn't enough.
 */
export function dutyFor(pump: PumpConstants, fault: PumpFault, regulated: Regulated): number {
  const { addedOhm = 0, drag = 0, leak = 0, restrictionPa = 0 } = fault;
  const { openV, ohm, afterOhm, setPressurePa, demand = IDLE_DEMAND } = regulated;
  const { k, ratedTorque, ratedSpeed, ratedPressure, windingOhm } = pump;
  const lifted = setPressurePa + restrictionPa;
  const speed = (ratedSpeed * (SLIP * (lifted / ratedPressure) + demand)) / ((1 - leak) * (1 + SLIP));
  const torque = ratedTorque * (FRICTION + drag + (1 - FRICTION) * (lifted / ratedPressure));
  const ampere = torque / k;
  const neededV = k * speed + ampere * (windingOhm + addedOhm + afterOhm);
  const room = openV * openV - 4 * ohm * ampere * neededV;
  if (!Number.isFinite(neededV) || !(room > 0) || openV <= 0) return 1;
  // The smaller root, in the form that stays exact as the resistance goes to nothing.
  return Math.min(1, Math.max(LEAST_DUTY, (2 * neededV) / (openV + Math.sqrt(room))));
}
