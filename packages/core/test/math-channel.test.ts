import fc from 'fast-check';
import { checkMath, inShopUnit, mathOperand, mathReach, mathSamples, type MathChannel } from '../src/index.js';
import { minMaxWindow, pyramidOf } from '../src/signal/pyramid.js';

const CHANNELS = [
  { name: 'Feed', unit: 'V' },
  { name: 'Current', unit: 'A' },
  { name: 'Ground', unit: 'V' },
];
const RATE = 10_000;

/** Worked out as the server does it: part by part, each with what lies around it. */
function inParts(math: MathChannel, of: Float32Array, second: Float32Array | undefined, size: number): Float32Array {
  const out = new Float32Array(of.length);
  const reach = mathReach(math, RATE);
  for (let from = 0; from < of.length; from += size) {
    const count = Math.min(size, of.length - from);
    const [first, last] = [Math.max(0, from - reach), Math.min(of.length, from + count + reach)];
    const around = { before: from - first, count, mostOfSecond: Math.max(0, ...(second ?? [])) };
    const part = { of: of.subarray(first, last), ...(second && { with: second.subarray(first, last) }), ...around };
    out.set(mathSamples(math, RATE, part), from);
  }
  return out;
}

const whole = (math: MathChannel, of: Float32Array, second?: Float32Array) => inParts(math, of, second, of.length);
const sine = (hz: number, count: number) =>
  Float32Array.from({ length: count }, (_, i) => Math.sin((2 * Math.PI * hz * i) / RATE));

describe('channels worked out of others', () => {
  it('names them with the units that they have: volts times amperes are watts, volts by amperes ohms', () => {
    expect(mathOperand({ kind: 'difference', of: 0, with: 2 }, CHANNELS)).toEqual({ name: 'Feed − Ground', unit: 'V' });
    expect(mathOperand({ kind: 'product', of: 1, with: 0 }, CHANNELS).unit).toBe('W');
    expect(mathOperand({ kind: 'ratio', of: 0, with: 1 }, CHANNELS).unit).toBe('Ω');
    expect(mathOperand({ kind: 'low-pass', of: 1, cutoffHz: 50 }, CHANNELS)).toEqual({
      name: 'Current, below 50 Hz',
      unit: 'A',
    });
  });

  it('shows pascals as the shop’s own unit, in a product or a quotient too', () => {
    // 1 bar = 100 kPa (BIPM, SI brochure, table 8 of its eighth edition).
    expect(inShopUnit('Pa', 'kPa')).toEqual({ unit: 'kPa', factor: 1e-3 });
    expect(inShopUnit('Pa/A', 'bar')).toEqual({ unit: 'bar/A', factor: 1e-5 });
    expect(inShopUnit('A/Pa', 'bar').factor).toBeCloseTo(1e5, 6);
    expect(inShopUnit('Pa·V', 'bar')).toEqual({ unit: 'bar·V', factor: 1e-5 });
    expect(inShopUnit('Ω', 'psi')).toEqual({ unit: 'Ω', factor: 1 });
  });

  it.each<[string, MathChannel, RegExp]>([
    ['a difference of volts and amperes', { kind: 'difference', of: 0, with: 1 }, /only alike units/],
    ['a channel less itself', { kind: 'difference', of: 0, with: 0 }, /two different channels/],
    ['a channel that isn’t there', { kind: 'product', of: 0, with: 7 }, /two different channels/],
    ['a low-pass above what the rate bears', { kind: 'low-pass', of: 0, cutoffHz: 4000 }, /between .* and 1000 Hz/],
    ['a low-pass without its cut-off', { kind: 'low-pass', of: 0 }, /between/],
  ])('refuses %s, saying why', (_name, math, says) => {
    expect(() => checkMath(math, CHANNELS, RATE)).toThrow(says);
  });

  it('gives no quotient where next to nothing flows', () => {
    const volts = Float32Array.of(12, 12, 12, 12);
    const amperes = Float32Array.of(0, 0.1, 4, 8);
    expect([...whole({ kind: 'ratio', of: 0, with: 1 }, volts, amperes)]).toEqual([NaN, NaN, 3, 1.5]);
    expect([...whole({ kind: 'product', of: 0, with: 1 }, volts, amperes)].at(-1)).toBe(96);
  });

  // Half the power at the cut-off is what a cut-off means (IEC 60050-151, from memory: the 3 dB limit).
  it.each([20, 100, 350, 900])(
    'lets half the power through at its cut-off of %i Hz, and what is slow whole',
    (cutoffHz) => {
      const math: MathChannel = { kind: 'low-pass', of: 0, cutoffHz };
      const count = 20_000;
      const strength = (samples: Float32Array) => {
        const inner = samples.subarray(count / 4, (3 * count) / 4);
        return Math.sqrt((2 * inner.reduce((sum, value) => sum + value * value, 0)) / inner.length);
      };
      expect(strength(whole(math, sine(cutoffHz, count)))).toBeCloseTo(Math.SQRT1_2, 1.7);
      expect(strength(whole(math, sine(cutoffHz / 20, count)))).toBeGreaterThan(0.997);
      expect(strength(whole(math, sine(3 * cutoffHz, count)))).toBeLessThan(0.12);
    },
  );

  it('moves nothing in time and overshoots nowhere', () => {
    const math: MathChannel = { kind: 'low-pass', of: 0, cutoffHz: 130 };
    const step = Float32Array.from({ length: 2001 }, (_, i) => (i < 1000 ? 0 : i === 1000 ? 0.5 : 1));
    const smooth = whole(math, step);
    expect(smooth[1000]).toBeCloseTo(0.5, 6);
    smooth.forEach((value, i) => {
      expect(value + smooth[2000 - i]).toBeCloseTo(1, 5);
      if (i > 0) expect(value).toBeGreaterThanOrEqual(smooth[i - 1] - 1e-6);
    });
  });

  it('comes out the same part by part as at once, from end to end', () => {
    fc.assert(
      fc.property(
        fc.array(fc.float({ min: -20, max: 20, noNaN: true }), { minLength: 40, maxLength: 400 }),
        fc.integer({ min: 7, max: 90 }),
        fc.integer({ min: 30, max: 1000 }),
        (values, size, cutoffHz) => {
          const samples = Float32Array.from(values);
          const math: MathChannel = { kind: 'low-pass', of: 0, cutoffHz };
          const at = whole(math, samples);
          inParts(math, samples, undefined, size).forEach((value, i) => expect(value).toBeCloseTo(at[i], 4));
        },
      ),
    );
  });

  it('leaves a gap in what is drawn where a whole column has no value, and nowhere else', () => {
    const samples = Float32Array.from({ length: 40_960 }, (_, i) => (i < 20_480 || i % 2 === 0 ? NaN : 3));
    const { levels } = pyramidOf(samples.length, [samples]);
    const read = (level: number, at: number, count: number) =>
      level === 0 ? samples.subarray(at, at + count) : levels[level - 1].subarray(2 * at, 2 * (at + count));
    for (const [to, columns] of [
      [40_960, 10],
      [40_960, 1280],
    ]) {
      const pairs = minMaxWindow(read, levels.length, samples.length, 0, to, columns);
      expect([...pairs.subarray(0, columns)].every(Number.isNaN)).toBe(true);
      expect([...pairs.subarray(columns)].every((value) => value === 3)).toBe(true);
    }
  });
});
