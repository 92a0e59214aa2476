import { seededRandom } from '../signal/random.js';
import { drawsOf } from './draws.js';
import { drawn, still, train } from './wide-drive.js';

/**
 * A record in which somebody steps a driver module's command, or a controller lets it slide: command and output edge by edge,
 * current and pressure following with a lag, supply sagging with the current. The analysis knows nothing of it. One seed is
 * one record.
 */
export interface SweepCapture {
  readonly sampleRateHz: number;
  readonly commandV: Float32Array;
  readonly outputV: Float32Array;
  readonly currentA: Float32Array;
  readonly pressurePa: Float32Array;
  readonly supplyV: Float32Array;
  /** What the clamp shows at no current, A. */
  readonly offsetA: number;
  readonly truth: readonly SteppedTruth[];
  readonly bars: number;
}

/** What holds at the end of a step. */
export interface SteppedTruth {
  readonly commandPercent: number;
  readonly fromS: number;
  readonly toS: number;
  readonly currentA: number;
  readonly pressurePa: number;
  readonly rpm: number;
}

const BURNT_BAR = 2;

/** @param burnt share of the draw that one bar doesn't carry */
export function sweepCapture(seed: number, kind: 'stepped' | 'sliding' | 'still', burnt = 0): SweepCapture {
  const random = seededRandom(seed * 6007 + 31);
  const { between } = drawsOf(random);
  const sampleRateHz = [20e3, 50e3][Math.floor(2 * random.uniform())];
  const commandHz = between(60, 300);
  const outputHz = between(300, sampleRateHz / 25);
  const count = kind === 'stepped' ? 2 + Math.floor(5 * random.uniform()) : 1;
  const up = random.uniform() < 0.5;
  // A scan tool jumps, a person's foot takes its time.
  const slideS = random.uniform() < 0.5 ? 0 : between(0.05, 0.6);
  const spacing = 60 / Math.max(1, count);
  const steps = Array.from({ length: count }, (_, i) => {
    const rank = up ? i : count - 1 - i;
    return {
      duty: 20 + spacing * rank + between(0, spacing - 4),
      lengthS: slideS + between(1.5, 4) + (i === 0 ? 1 : 0),
    };
  });
  const ends: number[] = [];
  for (const { lengthS } of steps) ends.push((ends.at(-1) ?? 0) + lengthS);
  const durationS = ends[ends.length - 1];
  const slope = kind === 'sliding' ? between(8, 20) : 0;
  const asked = (t: number) => {
    const now = ends.findIndex((end) => t < end);
    const i = now < 0 ? count - 1 : now;
    const since = t - (ends[i - 1] ?? 0);
    const share = i === 0 || slideS === 0 ? 1 : Math.min(1, since / slideS);
    const from = steps[Math.max(0, i - 1)].duty;
    return Math.min(95, from + share * (steps[i].duty - from) + slope * t);
  };
  const perPercent = between(0.05, 0.12);
  const pressureOf = (amperes: number) => 60e3 * amperes;
  const lagS = between(0.05, 0.25);
  const length = Math.floor(durationS * sampleRateHz);
  const currentA = new Float32Array(length);
  const pressurePa = new Float32Array(length);
  const supplyV = new Float32Array(length);
  // Speed goes with the volts, and so do the amperes, roughly.
  const rpmPerAmpere = between(0.7, 1.3) * (6000 / (perPercent * 60));
  const bars = 6 + 2 * Math.floor(3 * random.uniform());
  const heights = Array.from({ length: bars }, () => 1 + 0.25 * random.normal());
  const rotor = (turn: number) => {
    const at = (turn - Math.floor(turn)) * bars;
    const bar = Math.floor(at);
    const hump = Math.sin(Math.PI * (at - bar));
    return 1 + 0.06 * (heights[bar] * hump - 2 / Math.PI) - (bar === BURNT_BAR ? burnt * hump : 0);
  };
  // The clamp sees the pump off first in half of them, and isn't zeroed.
  const offS = random.uniform() < 0.5 ? 0 : between(0.2, 0.7);
  const offsetA = offS > 0 ? between(-0.4, 0.4) : 0;
  let turns = random.uniform();
  let amperes = offS > 0 ? 0 : perPercent * asked(0);
  let pascals = pressureOf(amperes);
  for (let i = 0; i < length; i++) {
    const fed = i / sampleRateHz < offS ? 0 : perPercent * asked(i / sampleRateHz);
    amperes += (fed - amperes) / (lagS * sampleRateHz);
    pascals += (pressureOf(amperes) - pascals) / (lagS * sampleRateHz);
    turns += (rpmPerAmpere * amperes) / 60 / sampleRateHz;
    currentA[i] = offsetA + amperes * rotor(turns) + 0.03 * random.normal();
    pressurePa[i] = pascals + 2e3 * random.normal();
    supplyV[i] = 13.6 - 0.04 * amperes + 0.02 * random.normal();
  }
  const recorder = { sampleRateHz, durationS, bits: 12, random };
  const command = kind === 'still' ? still(true) : train(random, durationS, commandHz, asked);
  return {
    sampleRateHz,
    commandV: drawn(command, { ...recorder, low: 0.1, high: 5, noise: 0.03, edge: 0 }),
    outputV: drawn(train(random, durationS, outputHz, asked), {
      ...recorder,
      ...{ low: 0.05, high: 13.3, noise: 0.05, edge: 0 },
    }),
    ...{ currentA, pressurePa, supplyV, bars, offsetA },
    truth: steps.map(({ duty }, i) => ({
      commandPercent: duty,
      fromS: ends[i - 1] ?? 0,
      toS: ends[i],
      currentA: perPercent * duty,
      pressurePa: pressureOf(perPercent * duty),
      rpm: rpmPerAmpere * perPercent * duty,
    })),
  };
}
