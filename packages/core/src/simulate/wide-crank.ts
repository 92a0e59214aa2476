import { seededRandom } from '../signal/random.js';
import { drawsOf, type Draws } from './draws.js';
import { record, withPickUp } from './instrument.js';
import { currentOf, drawPlant, OPEN_OHM, runMotor, SOUND, sourceOhmOf, type Moment, type Plant } from './motor.js';

/**
 * Records of a key turned to start: a prime, perhaps a pause, and an engine that cranks and perhaps catches, with the battery
 * that its starter pulls down at every compression. The analysis knows nothing of it. One seed is one record.
 */
export interface CrankRecord {
  readonly sampleRateHz: number;
  readonly currentA: Float32Array;
  readonly feedV?: Float32Array;
  readonly batteryV?: Float32Array;
  readonly truth: CrankTruth;
}

const CRANK_FAULTS = ['healthy', 'burnt-bars', 'bind', 'brush-open', 'contact-open'] as const;
export type CrankFault = (typeof CRANK_FAULTS)[number];

export interface CrankTruth {
  readonly fault: CrankFault;
  /** When current may flow, from and until, s. */
  readonly runs: readonly (readonly [number, number])[];
  /** When the starter turns the engine, s. */
  readonly crank: readonly [number, number];
  readonly catches: boolean;
  /** Compressions a second when it has come to its speed. */
  readonly compressionsHz: number;
  /** Lowest of the battery while it cranks, V. */
  readonly lowestV: number;
  /** Of the moment in which the pump or its feed falters, s. */
  readonly incident?: readonly [number, number];
  /** From battery to pump feed, ohm. */
  readonly sourceOhm: number;
  /** Of the pump between two times. */
  readonly rpm: (fromS: number, untilS: number) => number;
  readonly meanA: (fromS: number, untilS: number) => number;
  /** The clamp's recorder's step, A. */
  readonly stepA: number;
  readonly instrument: string;
}

const RATES = [1e3, 2e3, 5e3, 10e3, 20e3, 50e3];

/**
 * Draws one record of a prime and a start, from a motor as differential equations on a battery whose volts are drawn.
 *
 * @param seed a whole number; the same one always draws the same record
 * @param asked the fault to draw; any where absent
 */
export function crankRecord(seed: number, asked?: CrankFault): CrankRecord {
  const draws = drawsOf(seededRandom(seed * 7919 + 3));
  const { between, pick, random } = draws;
  const fault = asked ?? pick([...CRANK_FAULTS, 'healthy', 'healthy'] as const);
  const sampleRateHz = pick(RATES);
  const restV = between(12.1, 12.8);
  const key = drawKey(draws);
  const battery = drawBattery(restV, key, draws);
  const plant = { ...drawPlant(seed, draws), emfV: restV, ...(fault === 'burnt-bars' && { barOhm: drawBurnt(draws) }) };
  const incident = drawIncident(fault, key, draws);
  const motion = runMotor(plant, {
    emfV: battery.volts,
    demand: () => 1,
    at: (t) => momentAt(t, key, fault, incident, plant),
    turned: random.uniform(),
    isAtRest: true,
    durationS: key.endS,
    sampleRateHz,
  });
  const bits = pick([8, 10, 12, 14]);
  const noise = between(0.005, 0.06);
  const clamp = {
    bandwidthHz: pick([5e3, 20e3]),
    offset: pick([0, 0, between(-0.5, 0.5)]),
    gain: pick([1, 1, 1, -1]),
    noiseRms: noise,
    bits,
    fullScale: pick([20, 40]),
  };
  const probe = { bandwidthHz: 20e3, offset: 0, gain: 1, noiseRms: between(0.003, 0.04), bits, fullScale: 20 };
  const hum = pick([0, 0, between(0.02, 0.2)]);
  const [hasFeed, hasBattery] = [random.uniform() < 0.7, random.uniform() < 0.4];
  const batteryV = motion.current.map((_, i) => battery.volts(i / sampleRateHz));
  const [from, until] = key.crank.map((t) => Math.round(t * sampleRateHz));
  return {
    sampleRateHz,
    currentA: record(withPickUp(motion.current, sampleRateHz, hum, draws), sampleRateHz, clamp, random),
    ...(hasFeed && { feedV: record(motion.feed, sampleRateHz, probe, random) }),
    ...(hasBattery && { batteryV: record(batteryV, sampleRateHz, probe, random) }),
    truth: {
      fault,
      runs: incident && fault !== 'bind' ? parted(key.powered, incident) : key.powered,
      crank: key.crank,
      catches: key.catches,
      compressionsHz: battery.compressionsHz,
      lowestV: batteryV.subarray(from, until).reduce((a, b) => Math.min(a, b), Infinity),
      ...(incident && { incident }),
      sourceOhm: sourceOhmOf(plant),
      stepA: (2 * clamp.fullScale) / 2 ** bits,
      rpm: (a, b) => motion.rpm(b, a),
      meanA: (a, b) => meanBetween(motion.current, a * sampleRateHz, b * sampleRateHz),
      instrument: `${sampleRateHz} S/s, ${bits} bits, noise ${noise.toFixed(3)} A, hum ${hum.toFixed(2)} A, ${currentOf(plant).toFixed(1)} A, feed ${hasFeed} battery ${hasBattery}`,
    },
  };
}

type Times = readonly [number, number];

interface Key {
  readonly powered: readonly Times[];
  readonly crank: Times;
  readonly catches: boolean;
  readonly endS: number;
}

/** A prime ends by its timer, or goes on into the start; some systems have none. */
function drawKey({ between, pick, random }: Draws): Key {
  const on = between(0.1, 0.8);
  const primed = on + pick([2, 2, 3, between(0.8, 1.5)]);
  const way = pick(['pause', 'pause', 'pause', 'through', 'no-prime'] as const);
  const begins =
    way === 'through' ? on + between(0.7, 0.95) * (primed - on) : way === 'pause' ? primed + between(0.1, 2.5) : on;
  const ends = begins + between(0.6, 4);
  const catches = random.uniform() < 0.6;
  const endS = ends + (catches ? between(2, 5) : between(0.3, 1));
  // The control unit feeds the pump once it sees the engine turn, and lets go soon after it stands.
  const fed: Times = [begins + between(0, 0.25), catches ? endS : ends + between(0, 0.2)];
  const powered: readonly Times[] = way === 'pause' ? [[on, primed], fed] : way === 'through' ? [[on, fed[1]]] : [fed];
  return { powered, crank: [begins, ends], catches, endS };
}

/** A starter takes most as it begins to turn, and more at each compression. */
function drawBattery(restV: number, { crank: [begins, ends], catches }: Key, { between, pick, random }: Draws) {
  const settlesV = between(1.5, 3);
  const dipV = settlesV + between(0.5, 3);
  const dipS = between(0.03, 0.12);
  const compressionsHz = between(5, 15);
  /** An engine comes to its cranking speed within a turn or two. */
  const slowly = { share: between(0.6, 1), s: between(0.1, 0.5) };
  const swingV = between(0.08, 0.45) * settlesV;
  const cylinders = pick([3, 4, 4, 6, 8]);
  const weak = random.uniform() < 0.3 ? between(0.4, 0.8) : 1;
  const chargedV = between(13.4, 14.6);
  const risesS = between(0.15, 0.6);
  const compressions = (since: number) =>
    compressionsHz * (since - (1 - slowly.share) * slowly.s * (1 - Math.exp(-since / slowly.s)));
  const volts = (t: number) => {
    if (t < begins) return restV;
    if (t < ends) {
      const since = t - begins;
      const count = compressions(since);
      const stroke = Math.floor(count) % cylinders === 0 ? weak : 1;
      const pulls = stroke * (0.5 - 0.5 * Math.cos(2 * Math.PI * count));
      return restV - settlesV - (dipV - settlesV) * Math.exp(-since / dipS) - swingV * (pulls - 0.5);
    }
    const since = t - ends;
    return catches
      ? chargedV - (chargedV - restV + 0.3) * Math.exp(-since / risesS)
      : restV - 0.15 - 0.6 * Math.exp(-since / 0.3);
  };
  return { volts, compressionsHz };
}

/** Neighbouring bars with a multiple of the winding's resistance, met by either brush. */
function drawBurnt({ between }: Draws): (turn: number) => number {
  const from = between(0, 0.3);
  const width = between(0.1, 0.2);
  const ohm = between(0.6, 3);
  return (turn) => (turn >= from && turn < from + width ? ohm : 0);
}

/** In the midst of the crank or of what follows. */
function drawIncident(
  fault: CrankFault,
  { crank: [begins, ends], catches, endS }: Key,
  { between, random }: Draws,
): Times | undefined {
  const inCrank = !catches || random.uniform() < 0.5;
  const share = between(0.4, 0.6);
  const lasts = between(0.05, 0.25);
  if (fault === 'healthy' || fault === 'burnt-bars') return undefined;
  const [from, to] = inCrank ? [begins, ends] : [ends, endS];
  const at = from + share * (to - from);
  return [at, at + Math.min(lasts, 0.3 * (to - at))];
}

function momentAt(t: number, { powered }: Key, fault: CrankFault, incident: Times | undefined, plant: Plant): Moment {
  if (!powered.some(([from, until]) => t >= from && t < until)) return { ...SOUND, contactOhm: OPEN_OHM };
  if (!incident || t < incident[0] || t >= incident[1]) return SOUND;
  if (fault === 'contact-open') return { ...SOUND, contactOhm: OPEN_OHM };
  if (fault === 'brush-open') return { ...SOUND, brushOhm: OPEN_OHM };
  return { ...SOUND, dragTorque: 2 * plant.pumpTorque * Math.min(1, (t - incident[0]) / 0.03) };
}

function parted(powered: readonly Times[], [from, until]: Times): Times[] {
  return powered.flatMap(([a, b]): Times[] =>
    from >= a && until <= b
      ? [
          [a, from],
          [until, b],
        ]
      : [[a, b]],
  );
}

function meanBetween(values: Float64Array, from: number, until: number): number {
  const part = values.subarray(Math.round(from), Math.round(until));
  return part.reduce((sum, value) => sum + value, 0) / part.length;
}
