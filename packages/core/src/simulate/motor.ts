import { seededRandom } from '../signal/random.js';
import { drawsOf, type Draws } from './draws.js';

/** A pump on its wiring. SI units. */
export interface Plant {
  readonly emfV: number;
  readonly feedOhm: number;
  readonly groundOhm: number;
  readonly windingOhm: number;
  readonly inductanceH: number;
  /** V s/rad, N m/A. */
  readonly constant: number;
  readonly inertia: number;
  /** Torque at nominal pressure and that of friction, N m. */
  readonly pumpTorque: number;
  readonly frictionTorque: number;
  readonly speed: number;
  readonly humps: number;
  readonly humpDepth: number;
  readonly turnDepth: number;
  /** Of the line, s. */
  readonly pressureS: number;
  readonly pressurePa: number;
  /** Another consumer on the pump's side of the contact, S: what a pump that coasts can drive its current through. */
  readonly besideS: number;
  /** What burnt bars add to the winding, by the share of a turn; nothing where the commutator is sound. */
  readonly barOhm?: (turn: number) => number;
}

/** What is different from a sound pump at a moment. */
export interface Moment {
  readonly contactOhm: number;
  readonly groundOhm: number;
  readonly sagV: number;
  readonly brushOhm: number;
  readonly dragTorque: number;
  readonly fill: number;
}

export const SOUND: Moment = { contactOhm: 0, groundOhm: 0, sagV: 0, brushOhm: 0, dragTorque: 0, fill: 1 };
export const OPEN_OHM = 1e6;
const STEP_RATE = 40e3;

export const currentOf = ({ pumpTorque, frictionTorque, constant }: Plant) => (pumpTorque + frictionTorque) / constant;

/** Of every third feed, by a stream of its own: what a seed draws otherwise doesn't hang on it. */
function drawBeside(seed: number): number {
  const { between, random } = drawsOf(seededRandom(seed * 15_013 + 7));
  return random.uniform() < 0.35 ? 1 / between(4, 60) : 0;
}

export function drawPlant(seed: number, { between, pick }: Draws): Plant {
  const windingOhm = between(0.35, 1);
  const emfV = between(12.2, 14.4);
  const feedOhm = between(0.06, 0.7);
  const groundOhm = between(0.01, 0.05);
  const speed = (2 * Math.PI * between(3600, 8500)) / 60;
  const besideS = drawBeside(seed);
  const total = sourceOhmOf({ feedOhm, besideS }) + groundOhm + windingOhm;
  const openV = emfV * feedShare(feedOhm, besideS);
  // More than half of the volts lost in copper is no pump that runs.
  const current = Math.min(between(3, 9), (0.5 * openV) / total);
  const constant = (openV - current * total) / speed;
  const torque = constant * current;
  return {
    emfV,
    feedOhm,
    groundOhm,
    windingOhm,
    inductanceH: between(0.0001, 0.0007),
    constant,
    // Mechanical time constant J R / k^2.
    inertia: (between(0.02, 0.09) * constant * constant) / total,
    pumpTorque: 0.75 * torque,
    frictionTorque: 0.25 * torque,
    speed,
    humps: pick([6, 8, 8, 8, 10, 12, 14, 18]),
    humpDepth: between(0.01, 0.04),
    turnDepth: between(0.001, 0.01),
    pressureS: between(0.05, 0.4),
    pressurePa: between(2.5e5, 5e5),
    besideS,
  };
}

/** From battery to pump feed as the pump meets it, with another consumer beside it, ohm (Thévenin). */
export const sourceOhmOf = ({ feedOhm, besideS }: Pick<Plant, 'feedOhm' | 'besideS'>, contactOhm = 0) =>
  (feedOhm + contactOhm) * feedShare(feedOhm + contactOhm, besideS);

/** What a consumer on the pump's side leaves of the volts. */
const feedShare = (ohm: number, besideS: number) => 1 / (1 + ohm * besideS);

/** A record of a pump: what feeds it, what it has to do, and what is wrong with it, by the time. */
export interface Course {
  readonly emfV: (t: number) => number;
  /** Share of the usual load. */
  readonly demand: (t: number) => number;
  readonly at: (t: number) => Moment;
  /** Turns at the record's begin. */
  readonly turned: number;
  /** The record begins with the pump at rest and its line empty. */
  readonly isAtRest?: boolean;
  readonly durationS: number;
  readonly sampleRateHz: number;
}

/** What is true of the pump, sample by sample. SI units. */
export interface Motion {
  readonly current: Float64Array;
  /** Against battery −. */
  readonly feed: Float64Array;
  readonly ground: Float64Array;
  readonly pressure: Float64Array;
  /** Mean speed between two times, to the record's begin where there is but one. */
  readonly rpm: (untilS: number, fromS?: number) => number;
}

/** Follows current, speed and pressure in small steps; the current implicitly, since an open circuit is stiff. */
export function runMotor(plant: Plant, course: Course): Motion {
  const { emfV, demand, at, isAtRest = false, durationS, sampleRateHz } = course;
  const inner = Math.max(1, Math.ceil(STEP_RATE / sampleRateHz));
  const dt = 1 / (sampleRateHz * inner);
  const count = Math.floor(durationS * sampleRateHz);
  const out = {
    current: new Float64Array(count),
    feed: new Float64Array(count),
    ground: new Float64Array(count),
    pressure: new Float64Array(count),
  };
  const turns = new Float64Array(count);
  let [speed, current, pressure] = isAtRest ? [0, 0, 0] : [plant.speed, currentOf(plant), 1];
  let angle = course.turned;
  for (let i = 0; i < count; i++) {
    const t0 = i / sampleRateHz;
    const now = at(t0);
    const share = feedShare(plant.feedOhm + now.contactOhm, plant.besideS);
    const sourceOhm = sourceOhmOf(plant, now.contactOhm);
    for (let k = 0; k < inner; k++) {
      const t = t0 + k * dt;
      const emf = (emfV(t) - now.sagV) * share;
      const turn = angle - Math.floor(angle);
      const ripple =
        1 +
        plant.humpDepth * (Math.abs(Math.sin(Math.PI * plant.humps * turn)) - 2 / Math.PI) +
        plant.turnDepth * Math.cos(2 * Math.PI * turn + 1);
      const bars = plant.barOhm?.(turn) ?? 0;
      const ohm = sourceOhm + plant.groundOhm + plant.windingOhm + bars + now.groundOhm + now.brushOhm;
      const back = plant.constant * ripple * speed;
      const gain = dt / plant.inductanceH;
      current = (current + gain * (emf - back)) / (1 + gain * ohm);
      const load =
        plant.pumpTorque * pressure * now.fill * demand(t) + plant.frictionTorque * Math.sqrt(speed / plant.speed);
      speed = Math.max(0, speed + (dt * (plant.constant * current - load - now.dragTorque)) / plant.inertia);
      // The regulator returns what is too much; a line keeps its pressure for a while.
      const flow = 1.4 * now.fill * (speed / plant.speed);
      const wanted = Math.min(1, flow);
      pressure += (dt * (wanted - pressure)) / plant.pressureS;
      angle += (dt * speed) / (2 * Math.PI);
      if (k === 0) {
        turns[i] = angle;
        out.current[i] = current;
        out.feed[i] = emf - current * sourceOhm;
        out.ground[i] = current * (plant.groundOhm + now.groundOhm);
        out.pressure[i] = pressure * plant.pressurePa;
      }
    }
  }
  const rpm = (untilS: number, fromS = 0) => {
    const last = Math.min(count, Math.floor(untilS * sampleRateHz)) - 1;
    const first = Math.floor(fromS * sampleRateHz);
    return (60 * (turns[last] - turns[first]) * sampleRateHz) / (last - first);
  };
  return { ...out, rpm };
}
