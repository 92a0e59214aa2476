import type { ClampSignal } from '../../src/measure/current/analyze-ramp.js';
import { seededRandom, type Random } from '../../src/signal/random.js';

/**
 * A pump current drawn by shape, not by physics: it shares nothing with the analysis, nor with the motor model but its
 * random numbers. Humps are arches, cosines or saw teeth; bars differ in height and level; burnt bars are gaps.
 */
export interface DrawnSpec {
  readonly seed: number;
  readonly rateHz: number;
  readonly durationS: number;
  readonly onS: number;
  readonly bars: number;
  readonly rpm: number;
  readonly meanA: number;
  readonly humpShare: number;
  readonly heightSpread: number;
  readonly levelSpread: number;
  readonly burnt: readonly { readonly bar: number; readonly depth: number }[];
  readonly shape: 'arch' | 'cosine' | 'saw';
  readonly bandwidthHz: number;
  readonly sign: 1 | -1;
  readonly offsetA: number;
  readonly noiseA: number;
  readonly stepA: number;
  /** Gaps at random moments, each two humps long. */
  readonly randomGaps: number;
}

export const DRAWN: DrawnSpec = {
  seed: 1,
  rateHz: 50_000,
  durationS: 1,
  onS: 0.1,
  bars: 8,
  rpm: 6000,
  meanA: 5,
  humpShare: 0.1,
  heightSpread: 0.1,
  levelSpread: 0.006,
  burnt: [],
  shape: 'arch',
  bandwidthHz: 15_000,
  sign: 1,
  offsetA: 0,
  noiseA: 0.03,
  stepA: 0.01,
  randomGaps: 0,
};

export interface Drawn {
  readonly channel: ClampSignal;
  /** Without noise, offset and sign. */
  readonly trueA: Float64Array;
  readonly rpmAt: Float64Array;
  readonly humps: number;
}

const SHAPES: Record<DrawnSpec['shape'], (u: number) => number> = {
  arch: (u) => Math.sin(Math.PI * u) - 2 / Math.PI,
  cosine: (u) => -0.5 * Math.cos(2 * Math.PI * u),
  saw: (u) => (u < 0.7 ? u / 0.7 : (1 - u) / 0.3) - 0.5,
};

const SPIN_UP_S = 0.018;
const PEAK = 3;

export function draw(partial: Partial<DrawnSpec>): Drawn {
  const spec = { ...DRAWN, ...partial };
  const random = seededRandom(spec.seed);
  const humps = spec.bars % 2 ? 2 * spec.bars : spec.bars;
  const heights = Array.from({ length: humps }, () => 1 + spec.heightSpread * random.normal());
  const offsets = Array.from({ length: humps }, () => spec.levelSpread * random.normal());
  const burnt = new Map(spec.burnt.map(({ bar, depth }) => [spec.bars % 2 ? 2 * bar : bar, depth]));
  const gaps = Array.from({ length: spec.randomGaps }, () => 0.3 + (spec.durationS - 0.35) * random.uniform());
  const gapS = (2 * 60) / spec.rpm / humps;
  const count = Math.round(spec.durationS * spec.rateHz);
  const samples = new Float32Array(count);
  const trueA = new Float64Array(count);
  const rpmAt = new Float64Array(count);
  const follow = 1 - Math.exp((-2 * Math.PI * spec.bandwidthHz) / spec.rateHz);
  let turns = random.uniform();
  let passed = 0;
  for (let i = 0; i < count; i++) {
    const time = i / spec.rateHz;
    let current = 0;
    if (time >= spec.onS) {
      const since = time - spec.onS;
      rpmAt[i] = spec.rpm * (1 - Math.exp(-since / SPIN_UP_S)) * (1 + 0.002 * Math.sin(20 * time));
      turns += rpmAt[i] / 60 / spec.rateHz;
      const position = (turns - Math.floor(turns)) * humps;
      const hump = Math.floor(position);
      const level = spec.meanA * (1 + (PEAK - 1) * Math.exp(-since / SPIN_UP_S)) * (1 - Math.exp(-since / 0.0004));
      current = level * (1 + spec.humpShare * heights[hump] * SHAPES[spec.shape](position - hump) + offsets[hump]);
      current *= 1 - (burnt.get(hump) ?? 0) * Math.sin(Math.PI * (position - hump));
      if (gaps.some((gap) => time >= gap && time < gap + gapS)) current *= 0.3;
    }
    passed += follow * (current - passed);
    trueA[i] = passed;
    samples[i] = quantise(spec.sign * passed + spec.offsetA + spec.noiseA * random.normal(), spec.stepA);
  }
  return { channel: asChannel(samples), trueA, rpmAt, humps };
}

export function asChannel(samples: Float32Array): ClampSignal {
  return { samples, zeroStated: false };
}

function quantise(value: number, step: number): number {
  return step > 0 ? Math.round(value / step) * step : value;
}

export function pick<T>(random: Random, choices: readonly T[]): T {
  return choices[Math.floor(random.uniform() * choices.length)];
}

export function between(random: Random, low: number, high: number): number {
  return low + (high - low) * random.uniform();
}
