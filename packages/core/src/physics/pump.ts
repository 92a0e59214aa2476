import type { PumpFault } from './fault.js';
import type { Parameters } from './parameters.js';

/** What a pump stands in: a voltage behind a resistance, and a rail that takes what it delivers. */
export interface Surroundings {
  readonly openV: number;
  readonly sourceOhm: number;
  /** Pressure that is held as long as flow is left over, share of the rated one. */
  readonly held: number;
  /** Taken by the engine, share of the rated flow. */
  readonly demand: number;
  /** Filter's loss at rated flow, share of the rated pressure. */
  readonly filter: number;
  /** Lost behind the filter at rated pressure, share of the rated flow. */
  readonly split: number;
}

/** Where a pump settles. Speed, flow and pressures as shares of the rated ones. */
export interface PumpPoint {
  readonly currentA: number;
  /** Standing still it would draw this, A. */
  readonly stallA: number;
  readonly speed: number;
  readonly flow: number;
  /** At the rail, and before the filter. */
  readonly pressure: number;
  readonly before: number;
  readonly locked: boolean;
  readonly open: boolean;
}

type Motor = Pick<Parameters, 'windingOhm' | 'inducedV' | 'ratedA' | 'churning' | 'friction' | 'slip'>;

/** A shorted turn brakes as a generator on a short does; share of the rated torque at rated speed, for a whole winding (no published source). */
const SHORT_BRAKE = 0.7;
/** Without liquid there is little to churn (no published source). */
const DRY_CHURNING = 0.5;
const LEAST_OHM = 0.05;

/** The motor's and pump's laws with a fault in them, all linear. */
function lawsOf(motor: Motor, fault: PumpFault) {
  const { addedOhm = 0, drag = 0, shorted = 0, slip = 0, dry = false } = fault;
  const live = 1 - shorted;
  const churning = motor.churning * (dry ? DRY_CHURNING : 1) + SHORT_BRAKE * shorted;
  return {
    ohm: Math.max(LEAST_OHM, motor.windingOhm * live) + addedOhm,
    inducedV: motor.inducedV * live,
    // Torque an ampere falls with the turns that are left.
    ratedA: motor.ratedA / live,
    friction: motor.friction + drag,
    churning,
    lifting: dry ? 0 : 1 - motor.friction - motor.churning,
    slip: motor.slip + slip,
    made: 1 + motor.slip,
  };
}

/**
 * Steady state. Motor: V = I R + E w, I = Ir T (permanent-magnet machine, textbook). Torque: T = friction + churning w +
 * lifting p, p before the filter. Flow: q = (1 + slip) w - slip p, so that it is 1 at rated speed and pressure. Filter:
 * p = rail + F q. Rail: at the held pressure while flow is left over, else q = demand + split rail. Every branch is one
 * linear equation in the speed w.
 */
export function runPump(
  motor: Motor,
  fault: PumpFault,
  { openV, sourceOhm, held, demand, filter, split }: Surroundings,
): PumpPoint {
  const { ohm, inducedV, ratedA, friction, churning, lifting, slip, made } = lawsOf(motor, fault);
  const loop = ohm + sourceOhm;
  const open = ohm === Infinity;
  const still = { speed: 0, flow: 0, pressure: 0, before: 0, open };
  if (loop === Infinity || openV <= 0) return { ...still, currentA: 0, stallA: 0, locked: false };
  const stallA = openV / loop;
  if (friction === Infinity) return { ...still, currentA: stallA, stallA, locked: true };
  const perTorque = loop * ratedA;
  const at = (w: number, pressure: number, flow: number): PumpPoint => ({
    currentA: (openV - inducedV * w) / loop,
    stallA,
    speed: w,
    flow,
    pressure,
    before: pressure + (pressure > 0 ? filter * flow : 0),
    locked: false,
    open,
  });
  if (lifting === 0) {
    const w = (openV - perTorque * friction) / (inducedV + perTorque * churning);
    return w > 0 ? at(w, 0, 0) : { ...still, currentA: stallA, stallA, locked: true };
  }
  // q = a w - b rail.
  const a = made / (1 + slip * filter);
  const b = slip / (1 + slip * filter);
  const full =
    (openV - perTorque * (friction + lifting * held * (1 - filter * b))) /
    (inducedV + perTorque * (churning + lifting * filter * a));
  if (full > 0 && a * full - b * held >= demand + split * held) return at(full, held, a * full - b * held);
  const through = b + split;
  const short =
    (openV - perTorque * (friction + lifting * (filter * demand - ((1 + filter * split) * demand) / through))) /
    (inducedV + perTorque * (churning + (lifting * (1 + filter * split) * a) / through));
  const rail = (a * short - demand) / through;
  if (short > 0 && rail > 0) return at(short, rail, demand + split * rail);
  const loose = (openV - perTorque * friction) / (inducedV + perTorque * (churning + lifting * filter * a));
  return loose > 0 ? at(loose, 0, a * loose) : { ...still, currentA: stallA, stallA, locked: true };
}

/** Volts at its terminals and amperes that a pump needs to just hold a pressure at a rail; infinite when it can't. */
export function needed(
  motor: Motor,
  fault: PumpFault,
  { held, demand, filter, split }: Omit<Surroundings, 'openV' | 'sourceOhm'>,
): { readonly volts: number; readonly amperes: number } {
  const { ohm, inducedV, ratedA, friction, churning, lifting, slip, made } = lawsOf(motor, fault);
  const flow = demand + split * held;
  const before = held + filter * flow;
  const w = (flow + slip * before) / made;
  const amperes = ratedA * (friction + churning * w + lifting * before);
  return { volts: inducedV * w + amperes * ohm, amperes };
}
