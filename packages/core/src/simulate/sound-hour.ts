import { seededRandom, type Random } from '../signal/random.js';
import { drawsOf } from './draws.js';

/**
 * An hour of a sound pump beside a running engine: battery, load, regulator and speed wander, a fan comes and goes, an alternator
 * ripples, humps pass about as fast as they are sampled, and the recorder is noisy and coarse. The analysis knows nothing of it. One
 * seed is one record.
 */
export interface SoundHour {
  readonly sampleRateHz: number;
  readonly feedV: Float32Array;
  readonly groundV: Float32Array;
  readonly currentA: Float32Array;
  readonly railPa: Float32Array;
  readonly instrument: string;
}

const RATE_HZ = 2000;
const SECONDS = 3600;
/** A fan and whatever else an engine switches on pulls the battery down by so much, within so many seconds. */
const FAN_V = 0.35;
const FAN_S = 0.15;
const HUMPS_HZ = 640;
const ALTERNATOR_HZ = 170;

export function soundHour(seed: number): SoundHour {
  const random = seededRandom(seed * 24_593 + 3);
  const { between, pick } = drawsOf(random);
  const wanders = (seconds: number, deviation: number) => wandering(random, seconds, deviation);
  const [battery, load, regulator, speed] = [wanders(20, 0.12), wanders(60, 0.02), wanders(4, 1500), wanders(10, 0.01)];
  const [drawA, feedOhm, groundOhm] = [between(3, 8), between(0.03, 0.18), between(0.005, 0.02)];
  const [hump, rippleV] = [between(0.02, 0.08), between(0.02, 0.12)];
  const [noiseV, noiseA, noisePa] = [between(0.005, 0.035), between(0.02, 0.12), between(300, 1800)];
  const bits = pick([8, 10, 12]);
  const stored = (value: number, noise: number, range: number) => {
    const step = (2 * range) / 2 ** bits;
    return Math.round((value + noise * random.normal()) / step) * step;
  };
  const count = SECONDS * RATE_HZ;
  const [feedV, groundV, currentA, railPa] = [0, 1, 2, 3].map(() => new Float32Array(count));
  let [fanV, fanFrom, fanUntil, humps, ripples] = [0, between(10, 200), 0, 0, 0];
  for (let i = 0; i < count; i++) {
    const t = i / RATE_HZ;
    if (t > fanFrom) [fanUntil, fanFrom] = [t + between(10, 40), t + between(60, 300)];
    fanV += ((t < fanUntil ? -FAN_V : 0) - fanV) / (FAN_S * RATE_HZ);
    const faster = 1 + speed();
    humps += (HUMPS_HZ * faster) / RATE_HZ;
    ripples += (ALTERNATOR_HZ * faster) / RATE_HZ;
    const amperes = drawA * (1 + load()) * (1 + hump * (Math.abs(Math.sin(Math.PI * humps)) - 2 / Math.PI));
    const volts = 13.9 + battery() + fanV + rippleV * Math.sin(2 * Math.PI * ripples);
    feedV[i] = stored(volts - feedOhm * amperes, noiseV, 20);
    groundV[i] = stored(groundOhm * amperes, noiseV, 2);
    currentA[i] = stored(amperes, noiseA, 20);
    railPa[i] = stored(380e3 + regulator(), noisePa, 500e3);
  }
  const instrument = `${bits} bits, noise ${noiseA.toFixed(3)} A and ${noiseV.toFixed(3)} V, ${drawA.toFixed(1)} A, ${feedOhm.toFixed(3)} ohm`;
  return { sampleRateHz: RATE_HZ, feedV, groundV, currentA, railPa, instrument };
}

/** A value that wanders about nothing by `deviation` and forgets within `seconds` (an Ornstein-Uhlenbeck process). */
function wandering(random: Random, seconds: number, deviation: number): () => number {
  const keep = Math.exp(-1 / (RATE_HZ * seconds));
  const step = deviation * Math.sqrt(1 - keep * keep);
  let value = 0;
  return () => (value = keep * value + step * random.normal());
}
