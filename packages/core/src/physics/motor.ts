import { CHURNING } from './parameters.js';

/** A permanent-magnet brushed pump motor with its hydraulic load, SI units: the steady laws of `pump.ts` as they act in time. */
export interface Motor {
  readonly windingOhm: number;
  readonly inductanceH: number;
  /** Back-EMF per speed, V s/rad; equals torque per current, N m/A. */
  readonly emfConstant: number;
  readonly inertiaKgM2: number;
  /** Load torque that doesn't depend on speed (pressure and friction), N m. */
  readonly steadyTorqueNm: number;
  /** Load torque per speed (viscous, flow), N m s/rad. */
  readonly viscousNms: number;
}

/** A motor named by what a technician knows of it: what it draws and turns at a voltage. */
export interface MotorRating {
  /** Voltage across the pump's own terminals. */
  readonly voltageV: number;
  readonly currentA: number;
  readonly rpm: number;
  readonly windingOhm: number;
}

/** Electrical time constant of small pump motors, s (common practice, no published source). */
const ELECTRICAL_TIME_S = 0.00025;
/** Mechanical spin-up time constant, s (common practice, no published source). */
const SPIN_UP_S = 0.025;

/**
 * Finds motor constants from V = I R + k w and torque = k I at the rated point. A regulated pump works against constant
 * pressure: of its load only what is churned follows the speed.
 * The inertia follows from the spin-up time constant J R / k^2.
 */
export function motorFromRating({ voltageV, currentA, rpm, windingOhm }: MotorRating): Motor {
  const speed = (rpm * 2 * Math.PI) / 60;
  const emfConstant = (voltageV - currentA * windingOhm) / speed;
  const torque = emfConstant * currentA;
  return {
    windingOhm,
    inductanceH: windingOhm * ELECTRICAL_TIME_S,
    emfConstant,
    inertiaKgM2: (SPIN_UP_S * emfConstant * emfConstant) / windingOhm,
    steadyTorqueNm: (1 - CHURNING) * torque,
    viscousNms: (CHURNING * torque) / speed,
  };
}
