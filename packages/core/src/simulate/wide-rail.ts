import { seededRandom } from '../signal/random.js';
import { drawsOf } from './draws.js';

/**
 * A rail that injectors take fuel from and a pump and regulator fill again, stepped through time by dP/dt = (K / V) (Q in −
 * Q out), with the line's own ringing and a sensor that lags. The analysis knows nothing of it. One seed is one record.
 */
export interface RailRecord {
  readonly sampleRateHz: number;
  readonly railPa: Float32Array;
  /** At the first cylinder's injector: the battery's volts, pulled down while it is open, with its kick. */
  readonly injectorV: Float32Array;
  readonly currentA: Float32Array;
  readonly truth: {
    readonly cylinders: number;
    /** What each takes in the firing order, beside the mean of all. */
    readonly shares: readonly number[];
    readonly pumpStopsS: number | undefined;
  };
}

const CYLINDERS = [3, 4, 4, 4, 5, 6, 6, 8];
const RATES = [5e3, 10e3, 20e3, 50e3];
const LEVEL_PA = 380e3;
const BATTERY_V = 13.8;

/** @param kind all alike, one that takes less or more, or one that takes nothing; the pump running or stopped midway */
export function railRecord(seed: number, kind: 'alike' | 'weak' | 'rich' | 'dead', pumpStops = false): RailRecord {
  const random = seededRandom(seed * 15_731 + 41);
  const { between, pick } = drawsOf(random);
  const cylinders = pick(CYLINDERS);
  const rateHz = pick(RATES);
  const durationS = between(4, 8);
  const rpm = between(700, 1500);
  const wanders = between(0, 0.02);
  const odd = Math.floor(random.uniform() * cylinders);
  const factor = { alike: 1, weak: between(0.55, 0.78), rich: between(1.3, 1.6), dead: 0 }[kind];
  const own = Array.from({ length: cylinders }, (_, c) => (1 + 0.02 * random.normal()) * (c === odd ? factor : 1));
  const mean = own.reduce((sum, value) => sum + value, 0) / cylinders;
  const openS = between(0.002, 0.004);
  // A rail that nothing fills again has to last for some engine cycles.
  const fallPa = between(1.5e3, pumpStops ? 4e3 : 12e3);
  const refillS = between(0.02, 0.12);
  const ringHz = between(60, 250);
  const ringPa = fallPa * between(0, 0.25);
  const lagS = between(0.2e-3, 1.5e-3);
  const noisePa = pick([100, 300, 1000]);
  const stepPa = pick([0, 50, 250]);
  const stopsS = pumpStops ? durationS / 2 : undefined;
  const count = Math.round(durationS * rateHz);
  const [railPa, injectorV, currentA] = [0, 1, 2].map(() => new Float32Array(count));
  let [turns, pressure, seen, closed, ringSince] = [random.uniform(), LEVEL_PA, LEVEL_PA, -1, Infinity];
  for (let i = 0; i < count; i++) {
    const t = i / rateHz;
    const cycleS = 120 / (rpm * (1 + wanders * Math.sin(2 * Math.PI * 0.7 * t)));
    const before = Math.floor(turns * cylinders);
    turns += 1 / rateHz / cycleS;
    const now = turns * cylinders;
    if (Math.floor(now) !== before) ringSince = t;
    const cylinder = Math.floor(now) % cylinders;
    const intoS = ((now - Math.floor(now)) / cylinders) * cycleS;
    const isOpen = intoS < openS;
    const runs = stopsS === undefined || t < stopsS;
    const flow = runs ? (LEVEL_PA - pressure) / refillS : 0;
    pressure +=
      (flow - (isOpen ? (fallPa * own[cylinder] * Math.sqrt(Math.max(0, pressure) / LEVEL_PA)) / openS : 0)) / rateHz;
    const ring =
      ringPa * own[cylinder] * Math.exp(-(t - ringSince) / 0.01) * Math.sin(2 * Math.PI * ringHz * (t - ringSince));
    seen += (1 - Math.exp(-1 / (lagS * rateHz))) * (pressure + (Number.isFinite(ring) ? ring : 0) - seen);
    const read = seen + noisePa * random.normal();
    railPa[i] = stepPa > 0 ? Math.round(read / stepPa) * stepPa : read;
    if (cylinder === 0 && !isOpen && closed < 0) closed = t;
    if (cylinder === 0 && isOpen) closed = -1;
    const kick = cylinder === 0 && closed >= 0 ? 40 * Math.exp(-(t - closed) / 0.4e-3) : 0;
    injectorV[i] = (cylinder === 0 && isOpen ? 0.3 : BATTERY_V + kick) + 0.05 * random.normal();
    currentA[i] = (runs ? 5 + 0.3 * Math.sin(2 * Math.PI * 800 * t) : 0) + 0.03 * random.normal();
  }
  return {
    ...{ sampleRateHz: rateHz, railPa, injectorV, currentA },
    truth: { cylinders, shares: own.map((value) => value / mean), pumpStopsS: stopsS },
  };
}
