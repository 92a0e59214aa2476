import fc from 'fast-check';
import * as statistics from 'simple-statistics';
import { between, asItIs, type CurrentView } from '../src/measure/current/current-view.js';
import { bridged, bridgeGaps } from '../src/measure/current/gaps.js';
import { phaseAt, trackPhase } from '../src/measure/current/phase-track.js';
import { boxDecimate, movingAverage } from '../src/signal/blocks.js';
import { fastNoise } from '../src/signal/fast-noise.js';
import { levels, median, quantile, robustDeviation } from '../src/signal/levels.js';
import { removeMains } from '../src/signal/mains.js';
import { plateausOf } from '../src/signal/plateaus.js';
import { seededRandom } from '../src/signal/random.js';
import { rangesWhere, slidingRange } from '../src/signal/ranges.js';
import { recorderStep } from '../src/signal/rounding.js';
import { findLines, hann, welchSpectrum } from '../src/signal/spectrum.js';
import { student95 } from '../src/signal/student.js';
import { toneSum } from '../src/signal/tone.js';

// The general tools of signal analysis, against definitions, published tables and another package.

const numbers = fc.array(fc.double({ min: -1e6, max: 1e6, noNaN: true }), { minLength: 1, maxLength: 800 });

describe('order statistics', () => {
  it('are those of the sorted numbers, linear between neighbours', () => {
    // Hyndman and Fan, "Sample quantiles in statistical packages", 1996, definition 7.
    fc.assert(
      fc.property(numbers, fc.double({ min: 0, max: 1, noNaN: true }), (values, q) => {
        const sorted = [...values].sort((a, b) => a - b);
        const place = q * (sorted.length - 1);
        const [low, high] = [sorted[Math.floor(place)], sorted[Math.ceil(place)]];
        expect(quantile(values, q)).toBeCloseTo(low + (place - Math.floor(place)) * (high - low), 6);
      }),
    );
  });

  it('leave their input as it is, and give the ends for what lies beyond them', () => {
    const values = Float32Array.of(3, 1, 2);
    expect([quantile(values, -1), quantile(values, 2), median(values)]).toEqual([1, 3, 2]);
    expect([...values]).toEqual([3, 1, 2]);
  });

  it('take what is no number for the largest, and say nothing of nothing', () => {
    expect(quantile([NaN, 2, 1, NaN, 3], 0.25)).toBe(2);
    expect(quantile([NaN, 2, 1], 1)).toBe(Infinity);
    expect(quantile([], 0.5)).toBeNaN();
  });

  it('agree with another package on mean, deviation and median deviation', () => {
    fc.assert(
      fc.property(
        numbers.filter(({ length }) => length > 1),
        (values) => {
          const { mean, deviation, min, max } = levels(values);
          const scale = 1e-9 * (1 + max - min + Math.abs(mean));
          expect(Math.abs(mean - statistics.mean(values))).toBeLessThanOrEqual(scale);
          expect(Math.abs(deviation - statistics.sampleStandardDeviation(values))).toBeLessThanOrEqual(1e3 * scale);
          const other = 1.4826 * statistics.medianAbsoluteDeviation(values);
          expect(Math.abs(robustDeviation(values) - other)).toBeLessThanOrEqual(1e3 * scale);
        },
      ),
    );
  });
});

it.each([
  // NIST/SEMATECH e-Handbook of Statistical Methods, 1.3.6.7.2, upper critical values at 0.975.
  ...([
    [1, 12.706],
    [2, 4.303],
    [3, 3.182],
    [4, 2.776],
    [5, 2.571],
    [7, 2.365],
    [10, 2.228],
    [20, 2.086],
    [30, 2.042],
    [60, 2.0],
    [100, 1.984],
  ] as const),
])('takes Student’s t at %i degrees of freedom from the tables: %f', (freedom, t) => {
  expect(Math.abs(student95(freedom) / t - 1)).toBeLessThan(2e-3);
});

describe('averages', () => {
  it('are those of the samples around each, fewer at the ends', () => {
    fc.assert(
      fc.property(numbers, fc.nat(20), (values, half) => {
        const averaged = movingAverage(values, half);
        for (const i of [0, Math.floor(values.length / 2), values.length - 1]) {
          const around = values.slice(Math.max(0, i - half), i + half + 1);
          expect(Math.abs(averaged[i] - statistics.mean(around))).toBeLessThan(1e-4);
        }
      }),
    );
  });

  it('keep the mean of what they average', () => {
    fc.assert(
      fc.property(fc.integer({ min: 1, max: 9 }), fc.integer({ min: 1, max: 60 }), (factor, count) => {
        const samples = Float32Array.from({ length: factor * count }, (_, i) => (i * 37) % 11);
        const few = boxDecimate(samples, 0, samples.length, factor);
        expect(few).toHaveLength(count);
        expect(statistics.mean([...few])).toBeCloseTo(statistics.mean([...samples]), 4);
      }),
    );
  });
});

describe('stretches', () => {
  it('hold exactly where something holds', () => {
    fc.assert(
      fc.property(fc.array(fc.boolean(), { maxLength: 60 }), (holds) => {
        const inside = holds.map(() => false);
        for (const { from, to } of rangesWhere(holds)) inside.fill(true, from, to);
        expect(inside).toEqual(holds);
      }),
    );
  });

  it('have the range of their highest and lowest', () => {
    fc.assert(
      fc.property(numbers, fc.integer({ min: 1, max: 30 }), (values, width) => {
        const ranges = slidingRange(Float64Array.from(values), width);
        expect(ranges).toHaveLength(Math.max(0, values.length - width + 1));
        ranges.forEach((range, i) => {
          const part = values.slice(i, i + width);
          expect(range).toBe(Math.max(...part) - Math.min(...part));
        });
      }),
      { numRuns: 30 },
    );
  });

  it('are levels where a course stands still, and none where it climbs', () => {
    const noise = seededRandom(4);
    const stair = Float64Array.from({ length: 90 }, (_, i) => 5 + 2 * Math.floor(i / 30) + 0.02 * noise.normal());
    const asked = { leastTolerance: 0.1, leastApart: 0.5, fewest: 5 };
    expect(plateausOf(stair, asked).map(({ level }) => Math.round(level))).toEqual([5, 7, 9]);
    const ramp = Float64Array.from({ length: 90 }, (_, i) => 0.1 * i + 0.02 * noise.normal());
    expect(plateausOf(ramp, asked)).toEqual([]);
  });
});

describe('what is in a signal', () => {
  const RATE = 10_000;
  const noise = seededRandom(11);
  const sine = (hz: number, count: number, amplitude = 1) =>
    Float32Array.from({ length: count }, (_, i) => amplitude * Math.sin((2 * Math.PI * hz * i) / RATE));
  /** Of a tone, by the definition of Fourier's transform. */
  const amplitudeOf = (samples: Float32Array, hz: number) => {
    let [re, im] = [0, 0];
    samples.forEach((value, i) => {
      re += value * Math.cos((2 * Math.PI * hz * i) / RATE);
      im += value * Math.sin((2 * Math.PI * hz * i) / RATE);
    });
    return (2 * Math.hypot(re, im)) / samples.length;
  };

  it('is a tone’s share of any stretch, as Fourier’s definition has it, of even length or odd', () => {
    const samples = sine(700, 4001, 0.7).map((value) => value + 0.2 * noise.normal());
    for (const [start, length] of [
      [0, 4001],
      [17, 2000],
      [1000, 333],
    ]) {
      const window = hann(length);
      for (const hz of [50, 699, 700, 3100]) {
        let [re, im] = [0, 0];
        for (let k = 0; k < length; k++) {
          const value = samples[start + k] * window[k];
          re += value * Math.cos((2 * Math.PI * hz * k) / RATE);
          im -= value * Math.sin((2 * Math.PI * hz * k) / RATE);
        }
        const sum = toneSum(samples, start, window, hz / RATE);
        expect(sum.re).toBeCloseTo(re, 7);
        expect(sum.im).toBeCloseTo(im, 7);
      }
    }
    // A window that is one at its middle and nothing at its ends passes half the tone (F. J. Harris, 1978, from memory).
    const whole = toneSum(sine(700, 4000), 0, hann(4000), 700 / RATE);
    expect((2 * Math.hypot(whole.re, whole.im)) / 4000).toBeCloseTo(0.5, 6);
  });

  it('is found by its frequency, within a tenth of a bin', () => {
    fc.assert(
      fc.property(fc.double({ min: 200, max: 4000, noNaN: true }), (hz) => {
        const spectrum = welchSpectrum(sine(hz, 8192), RATE, 2048, 8);
        expect(spectrum.binHz).toBeCloseTo(RATE / 4096, 9);
        const [line] = findLines(spectrum, 100, 4500, 400);
        expect(Math.abs(line.hz - hz)).toBeLessThan(0.1 * spectrum.binHz);
        // Between two bins of a window padded to twice its length a tone loses a tenth at most (F. J. Harris, 1978, from memory: 1.42 dB unpadded).
        const amplitude = Math.sqrt(line.power / spectrum.tonePower);
        expect(amplitude).toBeLessThan(1.001);
        expect(amplitude).toBeGreaterThan(0.9);
      }),
      { numRuns: 40 },
    );
  });

  it('is a recorder’s step, however the noise lies', () => {
    for (const step of [0.01, 0.08, 0.3]) {
      const samples = Float32Array.from(
        { length: 9000 },
        () => step * Math.round((2 + 3 * step * noise.normal()) / step),
      );
      expect(recorderStep(samples) / step).toBeCloseTo(1, 3);
    }
  });

  it('is its noise, though humps pass', () => {
    const humps = sine(640, 30_000, 0.8).map((value) => value + 0.05 * noise.normal());
    expect(fastNoise(humps) / 0.05).toBeGreaterThan(0.9);
    expect(fastNoise(humps) / 0.05).toBeLessThan(1.3);
  });

  it.each([50, 60])('is pick-up of %i Hz mains, which goes, and humps beside it, which stay', (mains) => {
    const humps = sine(811, 20_000, 0.4);
    const hum = sine(mains, 20_000, 0.2);
    const third = sine(3 * mains, 20_000, 0.05);
    const signal = humps.map((value, i) => value + hum[i] + third[i] + 0.01 * noise.normal());
    expect(removeMains(signal, RATE)).toBe(true);
    expect(amplitudeOf(signal, mains)).toBeLessThan(0.004);
    expect(amplitudeOf(signal, 3 * mains)).toBeLessThan(0.004);
    expect(amplitudeOf(signal, 811)).toBeCloseTo(0.4, 2);
    expect(
      removeMains(
        humps.map((value) => value + 0.01 * noise.normal()),
        RATE,
      ),
    ).toBe(false);
  });
});

describe('a current that is followed part by part', () => {
  const RATE = 20_000;
  const noise = seededRandom(5);
  /** Humps whose rate falls from 800 to 760 a second, with spikes and gaps; longer than one part. */
  const current = Float32Array.from({ length: 600_000 }, (_, i) => {
    const s = i / RATE;
    const humps = 5 + 0.4 * Math.sin(2 * Math.PI * (800 * s - (20 / 30) * s * s)) + 0.02 * noise.normal();
    return i % 9001 < 3 ? 14 : i % 7919 < 20 ? 0 : humps;
  });
  const whole = (view: CurrentView) => view.read(0, view.length).slice();
  const VIEWS = {
    'as it is': asItIs(current),
    'cut off at its ends': between(current, 3, 7),
    'bridged over its gaps': bridged(current, 3, 5),
  };

  it.each(Object.entries(VIEWS))('reads the same in parts and whole, %s', (_name, view) => {
    const all = whole(view);
    for (const [from, to] of [
      [0, 10],
      [7915, 7945],
      [7925, 7930],
      [599_990, 600_000],
    ]) {
      expect([...view.read(from, to)]).toEqual([...all.subarray(from, to)]);
    }
  });

  it('bridges as a copy of it is bridged, and leaves the current as it was', () => {
    const before = current.slice();
    const { samples, gaps } = bridgeGaps(current, 3, 5);
    expect(Buffer.from(whole(VIEWS['bridged over its gaps']).buffer).equals(Buffer.from(samples.buffer))).toBe(true);
    expect(Buffer.from(current.buffer).equals(Buffer.from(before.buffer))).toBe(true);
    expect(Math.min(...samples.subarray(0, 100_000))).toBeGreaterThan(3);
    expect(gaps.reduce((sum, of) => sum + of, 0)).toBeGreaterThan(70 * 20);
  });

  it.each(Object.entries(VIEWS).slice(1))('follows its phase as through a copy, %s', (_name, view) => {
    const inParts = trackPhase(view, RATE, 800, 24);
    const inOne = trackPhase(asItIs(whole(view)), RATE, 800, 24);
    expect(inParts.cycles).toEqual(inOne.cycles);
    // 800 Hz less 40/30 a second: 30 s of it are 800 · 30 − 20 · 30 cycles.
    const turned = phaseAt(inParts, current.length - 1) - phaseAt(inParts, 0);
    expect(Math.abs(turned - (800 * 30 - 20 * 30))).toBeLessThan(1);
  });
});
