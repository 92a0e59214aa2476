import { seededRandom, type Random } from '../signal/random.js';
import { record } from './instrument.js';

/**
 * Records of pumps that falter for a moment, or don't: a motor with inertia on a wired feed, a hydraulic load, and recorders of
 * several kinds, stepped through time by their differential equations. The analysis knows nothing of it. One seed is one record.
 */
export interface IntermittentRecord {
  readonly sampleRateHz: number;
  readonly feedV: Float32Array;
  readonly currentA: Float32Array;
  readonly groundV?: Float32Array;
  readonly pressurePa?: Float32Array;
  readonly truth: IntermittentTruth;
}

const INTERMITTENT_FAULTS = [
  'healthy',
  'contact-open',
  'contact-bounce',
  'feed-step',
  'ground-step',
  'battery-sag',
  'brush-open',
  'brush-weak',
  'bind',
  'starve',
  'clog',
] as const;
export type IntermittentFault = (typeof INTERMITTENT_FAULTS)[number];

export interface IntermittentTruth {
  readonly fault: IntermittentFault;
  readonly cause: 'none' | 'upstream' | 'pump' | 'hydraulic';
  /** Whether the channels on the record can tell it from every other cause. */
  readonly causeTold: boolean;
  /** Begin and end of each time, s. */
  readonly incidents: readonly (readonly [number, number])[];
  readonly isSharp: boolean;
  /** From battery to pump feed, ohm. */
  readonly sourceOhm: number;
  /** Mean speed before anything happens. */
  readonly rpm: number;
  /** Something happens, and the whole draw costs more than five times what the recorder's noise and step hide. */
  readonly sagTold: boolean;
  readonly instrument: string;
}

interface Draws {
  readonly random: Random;
  readonly between: (low: number, high: number) => number;
  readonly pick: <T>(choices: readonly T[]) => T;
}

/** A pump on its wiring. SI units. */
interface Plant {
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
}

/** What is different from a sound pump at a moment. */
interface Disturbance {
  readonly contactOhm: number;
  readonly groundOhm: number;
  readonly sagV: number;
  readonly brushOhm: number;
  readonly dragTorque: number;
  readonly fill: number;
}

const RATES = [1e3, 2e3, 5e3, 10e3, 20e3, 50e3];
const STEP_RATE = 40e3;
const OPEN_OHM = 1e6;

const CAUSES: Readonly<Record<IntermittentFault, IntermittentTruth['cause']>> = {
  healthy: 'none',
  'contact-open': 'upstream',
  'contact-bounce': 'upstream',
  'feed-step': 'upstream',
  'ground-step': 'upstream',
  'battery-sag': 'upstream',
  'brush-open': 'pump',
  'brush-weak': 'pump',
  bind: 'pump',
  starve: 'hydraulic',
  clog: 'hydraulic',
};
const GRADUAL: ReadonlySet<IntermittentFault> = new Set(['bind', 'starve', 'clog']);

/**
 * Draws one record of volts, current and pressure while something falters, from a motor, its wiring and its fuel side
 * as differential equations.
 *
 * @param seed a whole number; the same one always draws the same record
 * @param fault the fault to draw; any where absent
 * @returns the channels in SI units, and all that is true of them
 */
export function intermittentRecord(seed: number, fault?: IntermittentFault): IntermittentRecord {
  const draws = drawsOf(seededRandom(seed * 65_537 + 29));
  const { between, pick, random } = draws;
  // Sound ones as often as three faults: what is invented weighs more than what is missed.
  const kind = fault ?? pick([...INTERMITTENT_FAULTS, 'healthy', 'healthy'] as const);
  const plant = drawPlant(draws);
  const sampleRateHz = pick(RATES);
  const durationS = between(2, 12);
  const incidents = kind === 'healthy' ? [] : drawIncidents(kind, durationS, draws);
  const severity = between(0.3, 1);
  const bounceS = between(0.001, 0.006);
  const disturbed = (t: number) => disturbanceAt(t, kind, incidents, severity, bounceS, plant);
  const truth = step(plant, disturbed, durationS, sampleRateHz, draws);
  const bits = pick([8, 8, 10, 12, 12, 14]);
  const noise = between(0.005, 0.06);
  const groundRecorded = kind === 'ground-step' ? random.uniform() < 0.7 : random.uniform() < 0.3;
  const hasPressure = random.uniform() < 0.6;
  const range = pick([20, 40]);
  const voltage = { bandwidthHz: 20e3, offset: 0, gain: 1, noiseRms: between(0.003, 0.04), bits, fullScale: range };
  const clamp = {
    bandwidthHz: pick([5e3, 20e3]),
    offset: pick([0, 0, between(-0.5, 0.5)]),
    gain: pick([1, 1, 1, -1]),
    noiseRms: noise,
    bits,
    fullScale: pick([20, 40]),
  };
  const hum = pick([0, 0, between(0.02, 0.25)]);
  const currentA = record(withPickUp(truth.current, sampleRateHz, hum, draws), sampleRateHz, clamp, random);
  const sagTold =
    kind !== 'healthy' && plant.feedOhm * currentOf(plant) > 5 * Math.max(voltage.noiseRms, range / 2 ** bits);
  return {
    sampleRateHz,
    feedV: record(truth.feed, sampleRateHz, voltage, random),
    currentA,
    ...(groundRecorded && { groundV: record(truth.ground, sampleRateHz, voltage, random) }),
    ...(hasPressure && {
      pressurePa: record(truth.pressure, sampleRateHz, { ...voltage, noiseRms: 600, bits: 0 }, random),
    }),
    truth: {
      fault: kind,
      cause: CAUSES[kind],
      causeTold: kind !== 'ground-step' || groundRecorded,
      incidents,
      isSharp: !GRADUAL.has(kind),
      sourceOhm: plant.feedOhm,
      rpm: truth.rpm(incidents[0]?.[0] ?? durationS),
      sagTold,
      instrument: `${sampleRateHz} S/s, ${bits} bits, noise ${noise.toFixed(3)} A, hum ${hum.toFixed(2)} A`,
    },
  };
}

function drawsOf(random: Random): Draws {
  return {
    random,
    between: (low, high) => low + (high - low) * random.uniform(),
    pick: (choices) => choices[Math.min(choices.length - 1, Math.floor(random.uniform() * choices.length))],
  };
}

const currentOf = ({ pumpTorque, frictionTorque, constant }: Plant) => (pumpTorque + frictionTorque) / constant;

function drawPlant({ between, pick }: Draws): Plant {
  const windingOhm = between(0.35, 1);
  const emfV = between(12.2, 14.4);
  const feedOhm = between(0.06, 0.7);
  const groundOhm = between(0.01, 0.05);
  const speed = (2 * Math.PI * between(3600, 8500)) / 60;
  const total = feedOhm + groundOhm + windingOhm;
  // More than half of the volts lost in copper is no pump that runs.
  const current = Math.min(between(3, 9), (0.5 * emfV) / total);
  const constant = (emfV - current * total) / speed;
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
  };
}

function drawIncidents(kind: IntermittentFault, durationS: number, { between, pick }: Draws) {
  if (kind === 'clog') return [[between(0.3, 0.5) * durationS, 0.9 * durationS]] as const;
  const count = pick([1, 1, 2, 3]);
  const room = (durationS - 0.6) / count;
  return Array.from({ length: count }, (_, i) => {
    const from = 0.6 + i * room + between(0, 0.3) * room;
    return [from, from + Math.min(0.45 * room, between(0.025, 0.8))] as const;
  });
}

function disturbanceAt(
  t: number,
  kind: IntermittentFault,
  incidents: readonly (readonly [number, number])[],
  severity: number,
  bounceS: number,
  plant: Plant,
): Disturbance {
  const none = { contactOhm: 0, groundOhm: 0, sagV: 0, brushOhm: 0, dragTorque: 0, fill: 1 };
  const now = incidents.find(([from, to]) => t >= from && t < to);
  if (!now) return none;
  const since = t - now[0];
  const load = 12 / currentOf(plant);
  switch (kind) {
    case 'contact-open':
      return { ...none, contactOhm: OPEN_OHM };
    case 'contact-bounce':
      // Open for most of the time, shut for a moment now and then.
      return { ...none, contactOhm: since % (7 * bounceS) < 6 * bounceS ? OPEN_OHM : 0 };
    case 'feed-step':
      return { ...none, contactOhm: severity * load };
    case 'ground-step':
      return { ...none, groundOhm: severity * load };
    case 'battery-sag':
      return { ...none, sagV: 1.2 + 3 * severity };
    case 'brush-open':
      return { ...none, brushOhm: OPEN_OHM };
    case 'brush-weak':
      return { ...none, brushOhm: (0.5 + 2 * severity) * load };
    case 'bind':
      return { ...none, dragTorque: (0.6 + 2 * severity) * plant.pumpTorque * Math.min(1, since / 0.05) };
    case 'starve':
      return { ...none, fill: 1 - Math.min(1, since / 0.05) * (0.5 + 0.5 * severity) };
    case 'clog':
      return { ...none, fill: 1 - (0.5 + 0.4 * severity) * Math.min(1, since / (now[1] - now[0])) };
    default:
      return none;
  }
}

/** Follows current, speed and pressure in small steps; the current implicitly, since an open circuit is stiff. */
function step(
  plant: Plant,
  disturbed: (t: number) => Disturbance,
  durationS: number,
  sampleRateHz: number,
  { between, random }: Draws,
) {
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
  const alternator = { hz: between(600, 1600), volts: between(0, 0.03) };
  const drift = { hz: between(0.03, 0.3), volts: between(0, 0.1), demand: between(0, 0.03) };
  let { speed } = plant;
  let current = currentOf(plant);
  let pressure = 1;
  let angle = random.uniform();
  for (let i = 0; i < count; i++) {
    const now = disturbed(i / sampleRateHz);
    const t0 = i / sampleRateHz;
    for (let k = 0; k < inner; k++) {
      const t = t0 + k * dt;
      const emf =
        plant.emfV -
        now.sagV +
        alternator.volts * Math.sin(2 * Math.PI * alternator.hz * t) +
        drift.volts * Math.sin(2 * Math.PI * drift.hz * t);
      const turn = angle - Math.floor(angle);
      const ripple =
        1 +
        plant.humpDepth * (Math.abs(Math.sin(Math.PI * plant.humps * turn)) - 2 / Math.PI) +
        plant.turnDepth * Math.cos(2 * Math.PI * turn + 1);
      const ohm = plant.feedOhm + plant.groundOhm + plant.windingOhm + now.contactOhm + now.groundOhm + now.brushOhm;
      const back = plant.constant * ripple * speed;
      const gain = dt / plant.inductanceH;
      current = Math.max(0, (current + gain * (emf - back)) / (1 + gain * ohm));
      const demand = 1 + drift.demand * Math.sin(2 * Math.PI * drift.hz * 1.7 * t);
      const load =
        plant.pumpTorque * pressure * now.fill * demand + plant.frictionTorque * Math.sqrt(speed / plant.speed);
      speed = Math.max(0, speed + (dt * (plant.constant * current - load - now.dragTorque)) / plant.inertia);
      // The regulator returns what is too much; a line keeps its pressure for a while.
      const flow = 1.4 * now.fill * (speed / plant.speed);
      const wanted = Math.min(1, flow);
      pressure += (dt * (wanted - pressure)) / plant.pressureS;
      angle += (dt * speed) / (2 * Math.PI);
      if (k === 0) {
        turns[i] = angle;
        out.current[i] = current;
        out.feed[i] = emf - current * (plant.feedOhm + now.contactOhm);
        out.ground[i] = current * (plant.groundOhm + now.groundOhm);
        out.pressure[i] = pressure * plant.pressurePa;
      }
    }
  }
  const rpm = (untilS: number) => {
    const last = Math.min(count, Math.floor(untilS * sampleRateHz)) - 1;
    return (60 * (turns[last] - turns[0]) * sampleRateHz) / last;
  };
  return { ...out, rpm };
}

/** The clamp's lead picks up the mains and, now and then, an ignition's spike. */
function withPickUp(current: Float64Array, sampleRateHz: number, humA: number, { random, pick }: Draws): Float64Array {
  const hz = pick([50, 60]);
  const spikes = pick([0, 0, 0, 30]) / sampleRateHz;
  return current.map((value, i) => {
    const spike = random.uniform() < spikes ? 4 * random.normal() : 0;
    return value + humA * Math.sin((2 * Math.PI * hz * i) / sampleRateHz) + spike;
  });
}
