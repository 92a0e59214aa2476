import { makeWorkingSignal } from '../src/measure/current/working-signal.js';
import { seededRandom } from '../src/signal/random.js';

// What the humps are looked for in: upright, at a rate that serves them, and no larger than a long record leaves room for.

const humps = (count: number, rateHz: number, of: (value: number, i: number) => number = (value) => value) =>
  Float32Array.from({ length: count }, (_, i) => of(5 + 0.5 * Math.sin((2 * Math.PI * 800 * i) / rateHz), i));
const working = (samples: Float32Array, rateHz: number, zero = 0, inverted = false) =>
  makeWorkingSignal(samples, rateHz, { from: 0, to: samples.length }, zero, inverted, 0);
const swing = (samples: Float32Array) => {
  const part = samples.subarray(0, 20_000);
  return (Math.max(...part) - Math.min(...part)) / 2;
};

it.each([
  [10_000, 1],
  [50_000, 1],
  [100_000, 2],
  [500_000, 11],
])('takes a record of %i samples a second at its every sample, or at every few: %i', (rateHz, factor) => {
  const signal = working(humps(4 * rateHz, rateHz), rateHz);
  expect(signal.factor).toBe(factor);
  expect(signal.sampleRateHz).toBeCloseTo(rateHz / factor, 6);
  expect(signal.current).toHaveLength(Math.floor((4 * rateHz) / factor));
  expect(signal.level).toBeCloseTo(5, 1);
  // Averaging over less than a sixth of a hump leaves nearly all of it.
  expect(swing(signal.current)).toBeGreaterThan(0.48);
});

it('takes a run of many minutes slower, with its humps still there', () => {
  const rateHz = 44_100;
  const long = working(humps(11_000_000, rateHz), rateHz);
  expect(long.factor).toBe(2);
  expect(long.current).toHaveLength(5_500_000);
  expect(swing(long.current)).toBeGreaterThan(0.48);
  // Slower than the fastest humps bear it isn’t taken, however long it is.
  expect(working(humps(11_000_000, 30_000), 30_000).factor).toBe(1);
});

it('stands a clamp upright that sat backwards, with its zero taken off', () => {
  const samples = humps(40_000, 20_000, (value) => 0.3 - value);
  const { current, level } = working(samples, 20_000, 0.3, true);
  expect(level).toBeCloseTo(5, 1);
  expect(Math.min(...current)).toBeGreaterThan(4.4);
});

it('cuts spikes and dropouts off for the humps’ sake, and keeps them in the current', () => {
  const { current, fenced } = working(
    humps(40_000, 20_000, (value, i) => (i % 5000 === 7 ? 20 : i % 5000 === 99 ? 0 : value)),
    20_000,
  );
  const followed = fenced.read(0, fenced.length);
  expect([Math.min(...current), Math.max(...current)]).toEqual([0, 20]);
  expect(Math.max(...followed)).toBeLessThan(8);
  expect(Math.min(...followed)).toBeGreaterThan(2);
  expect(followed[50]).toBe(current[50]);
});

it('takes out what a recorder makes by keeping the lowest and the highest of what it saw by turns', () => {
  const noise = seededRandom(3);
  const apart = humps(40_000, 20_000, (value, i) => value + (i % 2 ? 0.2 : -0.2) + 0.01 * noise.normal());
  const { current } = working(apart, 20_000);
  const roughness = current.reduce((sum, value, i) => sum + Math.abs(value - current[Math.max(0, i - 1)]), 0);
  // Humps alone climb by 4 · 0.5 A each, 25 samples long.
  expect(roughness / current.length).toBeLessThan(1.2 * (2 / 25));
});
