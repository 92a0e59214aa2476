import { makeCommutator, type CommutatorSpec } from './commutator.js';
import type { Motor } from './motor.js';
import type { Random } from '../signal/random.js';

/** The feed and the time course of one simulated capture. */
export interface TransientSpec {
  readonly motor: Motor;
  readonly commutator: CommutatorSpec;
  readonly batteryV: number;
  /** All resistance between battery + and the pump's feed pin. */
  readonly feedOhm: number;
  /** All resistance between the pump's ground pin and battery -. */
  readonly groundOhm: number;
  readonly durationS: number;
  readonly onS: number;
  readonly offS: number;
  /** Stretches in which the brushes are off the bars. */
  readonly dead: readonly { readonly startS: number; readonly durationS: number }[];
  /** Stretches in which the feed is broken upstream. */
  readonly feedOpen: readonly { readonly startS: number; readonly durationS: number }[];
  /** The rotor cannot turn. */
  readonly locked: boolean;
}

/** What really happened, free of instruments. Sampled at the rate asked for. */
export interface TransientResult {
  readonly currentA: Float64Array;
  readonly feedV: Float64Array;
  readonly groundV: Float64Array;
  readonly speedRadS: Float64Array;
}

/** Fine enough for the commutation of a fast pump and a 0.25 ms electrical time constant. */
const SMALLEST_INNER_RATE_HZ = 100_000;
const OPEN_OHM = 1e5;
const BOUNCE_S = 0.0003;
const COAST_DRAG_SHARE = 0.5;

/**
 * Integrates winding and rotor: L di/dt = V - R(angle) i - k w and J dw/dt = k i - load.
 * The current step is implicit, so an open contact (R near infinity) stays stable.
 */
export function simulateTransient(spec: TransientSpec, sampleRateHz: number, random: Random): TransientResult {
  const { motor } = spec;
  const commutator = makeCommutator(spec.commutator, random);
  const inner = Math.max(1, Math.ceil(SMALLEST_INNER_RATE_HZ / sampleRateHz));
  const dt = 1 / (sampleRateHz * inner);
  const count = Math.round(spec.durationS * sampleRateHz);
  const result: TransientResult = {
    currentA: new Float64Array(count),
    feedV: new Float64Array(count),
    groundV: new Float64Array(count),
    speedRadS: new Float64Array(count),
  };
  let current = 0;
  let speed = 0;
  let revolutions = random.uniform();
  let bounceUntil = -1;
  for (let i = 0; i < count; i++) {
    for (let step = 0; step < inner; step++) {
      const time = (i * inner + step) * dt;
      const powered = time >= spec.onS && time < spec.offS && !within(spec.feedOpen, time);
      if (spec.commutator.bouncesPerS > 0 && random.uniform() < spec.commutator.bouncesPerS * dt) {
        bounceUntil = time + BOUNCE_S * (0.5 + random.uniform());
      }
      const contact = (time < bounceUntil ? spec.commutator.bounceOhm : 0) + (within(spec.dead, time) ? OPEN_OHM : 0);
      const loop =
        motor.windingOhm +
        commutator.resistanceAt(revolutions, motor.windingOhm) +
        contact +
        spec.feedOhm +
        spec.groundOhm +
        (powered ? 0 : OPEN_OHM);
      const drive = (powered ? spec.batteryV : 0) - motor.emfConstant * speed;
      current = (current + (dt / motor.inductanceH) * drive) / (1 + (dt * loop) / motor.inductanceH);
      if (!spec.locked) {
        const load =
          speed > 1 ? motor.steadyTorqueNm + motor.viscousNms * speed : COAST_DRAG_SHARE * motor.steadyTorqueNm;
        const torque = motor.emfConstant * current - load;
        speed = Math.max(0, speed + (dt / motor.inertiaKgM2) * torque);
        revolutions += (speed * dt) / (2 * Math.PI);
      }
      if (step === 0) {
        result.currentA[i] = current;
        result.speedRadS[i] = speed;
        result.groundV[i] = current * spec.groundOhm;
        result.feedV[i] = powered ? spec.batteryV - current * spec.feedOhm : motor.emfConstant * speed;
      }
    }
  }
  return result;
}

function within(stretches: readonly { startS: number; durationS: number }[], time: number): boolean {
  for (const { startS, durationS } of stretches) if (time >= startS && time < startS + durationS) return true;
  return false;
}
