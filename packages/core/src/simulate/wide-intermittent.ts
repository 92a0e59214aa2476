import { seededRandom } from '../signal/random.js';
import { drawsOf, type Draws } from './draws.js';
import { record, withPickUp } from './instrument.js';
import { currentOf, drawPlant, OPEN_OHM, runMotor, SOUND, sourceOhmOf, type Moment, type Plant } from './motor.js';

/**
 * Records of pumps that falter for a moment, or don't: a motor with inertia on a wired feed, a hydraulic load, and recorders of
 * several kinds, stepped through time by their differential equations. The analysis knows nothing of it. One seed is one record.
 */
export interface IntermittentRecord {
  readonly sampleRateHz: number;
  readonly feedV: Float32Array;
  readonly currentA: Float32Array;
  /** What flows, as no clamp sees it. */
  readonly flowsA: Float64Array;
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
  readonly clamp: { readonly isZeroed: boolean; readonly isBackwards: boolean; readonly stepA: number };
  /** From battery to pump feed, ohm. */
  readonly sourceOhm: number;
  /** Mean speed between two times, s. */
  readonly rpm: (fromS: number, untilS: number) => number;
  /** Something happens, and the whole draw costs more than five times what the recorder's noise and step hide. */
  readonly sagTold: boolean;
  readonly instrument: string;
}

const RATES = [1e3, 2e3, 5e3, 10e3, 20e3, 50e3];

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
  const plant = drawPlant(seed, draws);
  const sampleRateHz = pick(RATES);
  const durationS = between(2, 12);
  const incidents = kind === 'healthy' ? [] : drawIncidents(kind, durationS, draws);
  const severity = between(0.3, 1);
  const bounceS = between(0.001, 0.006);
  const disturbed = (t: number) => disturbanceAt(t, kind, incidents, severity, bounceS, plant);
  const beside = surroundings(draws);
  const truth = runMotor(plant, {
    emfV: (t) => plant.emfV + beside.volts(t),
    demand: beside.demand,
    at: disturbed,
    turned: random.uniform(),
    ...{ durationS, sampleRateHz },
  });
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
    flowsA: truth.current,
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
      clamp: { isZeroed: clamp.offset === 0, isBackwards: clamp.gain < 0, stepA: (2 * clamp.fullScale) / 2 ** bits },
      sourceOhm: sourceOhmOf(plant),
      rpm: (fromS, untilS) => truth.rpm(untilS, fromS),
      sagTold,
      instrument: `${sampleRateHz} S/s, ${bits} bits, noise ${noise.toFixed(3)} A, hum ${hum.toFixed(2)} A`,
    },
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
): Moment {
  const now = incidents.find(([from, to]) => t >= from && t < to);
  if (!now) return SOUND;
  const since = t - now[0];
  const load = 12 / currentOf(plant);
  switch (kind) {
    case 'contact-open':
      return { ...SOUND, contactOhm: OPEN_OHM };
    case 'contact-bounce':
      // Open for most of the time, shut for a moment now and then.
      return { ...SOUND, contactOhm: since % (7 * bounceS) < 6 * bounceS ? OPEN_OHM : 0 };
    case 'feed-step':
      return { ...SOUND, contactOhm: severity * load };
    case 'ground-step':
      return { ...SOUND, groundOhm: severity * load };
    case 'battery-sag':
      return { ...SOUND, sagV: 1.2 + 3 * severity };
    case 'brush-open':
      return { ...SOUND, brushOhm: OPEN_OHM };
    case 'brush-weak':
      return { ...SOUND, brushOhm: (0.5 + 2 * severity) * load };
    case 'bind':
      return { ...SOUND, dragTorque: (0.6 + 2 * severity) * plant.pumpTorque * Math.min(1, since / 0.05) };
    case 'starve':
      return { ...SOUND, fill: 1 - Math.min(1, since / 0.05) * (0.5 + 0.5 * severity) };
    case 'clog':
      return { ...SOUND, fill: 1 - (0.5 + 0.4 * severity) * Math.min(1, since / (now[1] - now[0])) };
    default:
      return SOUND;
  }
}

/** What goes on beside the pump: an alternator's ripple, a charge that drifts, a demand that goes with it. */
function surroundings({ between }: Draws) {
  const alternator = { hz: between(600, 1600), volts: between(0, 0.03) };
  const drift = { hz: between(0.03, 0.3), volts: between(0, 0.1), demand: between(0, 0.03) };
  return {
    volts: (t: number) =>
      alternator.volts * Math.sin(2 * Math.PI * alternator.hz * t) + drift.volts * Math.sin(2 * Math.PI * drift.hz * t),
    demand: (t: number) => 1 + drift.demand * Math.sin(2 * Math.PI * drift.hz * 1.7 * t),
  };
}
