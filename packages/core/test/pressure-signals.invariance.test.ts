import fc from 'fast-check';
import { analyzePressure, fitHold, type HoldFit } from '../src/index.js';
import { student95 } from '../src/signal/student.js';
import { seededRandom } from '../src/signal/random.js';

// What may not matter to the numbers of a pressure: when it was taken, at which scale, on which recorder.

const kPa = (value: number) => value * 1e3;

/** A leak between seep and orifice, read by hand every half minute with the needle's own scatter. */
const decays = fc.record({
  startPa: fc.double({ min: 200e3, max: 600e3, noNaN: true }),
  halfS: fc.double({ min: 120, max: 3000, noNaN: true }),
  seed: fc.integer({ min: 1, max: 1e6 }),
  lengthS: fc.integer({ min: 300, max: 900 }),
});
type Points = readonly (readonly [number, number])[];

function readings({
  startPa,
  halfS,
  seed,
  lengthS,
}: {
  startPa: number;
  halfS: number;
  seed: number;
  lengthS: number;
}): Points {
  const random = seededRandom(seed);
  return Array.from({ length: Math.floor(lengthS / 30) + 1 }, (_, i) => {
    const t = 30 * i;
    return [t, startPa * 2 ** (-t / halfS) + 1000 * random.normal()] as const;
  });
}

function fitted(points: Points): HoldFit {
  const result = fitHold({ points });
  if (!('fit' in result)) throw new Error(result.cannotTell.because);
  return result.fit;
}

const RUNS = { numRuns: 60, endOnFailure: true };
const SAME = 6;

describe('a hold test tells the same', () => {
  it('whenever its clock was started', () => {
    fc.assert(
      fc.property(decays, fc.double({ min: 0, max: 1e5, noNaN: true }), (decay, laterS) => {
        const points = readings(decay);
        const [one, other] = [fitted(points), fitted(points.map(([t, p]) => [t + laterS, p] as const))];
        expect(other.ratePaPerMin / one.ratePaPerMin).toBeCloseTo(1, SAME);
        expect(other.lengthS).toBeCloseTo(one.lengthS, 3);
      }),
      RUNS,
    );
  });

  it('in any unit of pressure: twice the pressure is twice the rate and the same half', () => {
    fc.assert(
      fc.property(decays, fc.double({ min: 0.5, max: 3, noNaN: true }), (decay, factor) => {
        const points = readings(decay);
        const [one, other] = [fitted(points), fitted(points.map(([t, p]) => [t, factor * p] as const))];
        expect(other.ratePaPerMin / (factor * one.ratePaPerMin)).toBeCloseTo(1, SAME);
        expect(other.halfTimeS !== undefined).toBe(one.halfTimeS !== undefined);
        if (one.halfTimeS !== undefined) expect(other.halfTimeS! / one.halfTimeS).toBeCloseTo(1, SAME);
      }),
      RUNS,
    );
  });

  it('and its interval covers the truth about as often as it claims', () => {
    let covered = 0;
    const runs = 300;
    for (let seed = 1; seed <= runs; seed++) {
      const halfS = 200 + 6 * seed;
      const { halfTimeInterval } = fitted(readings({ startPa: 380e3, halfS, seed, lengthS: 900 }));
      if (halfTimeInterval && halfTimeInterval[0] <= halfS && halfS <= halfTimeInterval[1]) covered++;
    }
    expect(covered / runs).toBeGreaterThan(0.9);
  });
});

describe('few points', () => {
  it.each([3, 4, 6, 12])('%i points: the 95 %% interval of the loss holds the truth about as often', (count) => {
    const random = seededRandom(count);
    const runs = 400;
    let covered = 0;
    for (let n = 0; n < runs; n++) {
      const startPa = 300e3 + 100e3 * random.uniform();
      const left = 0.4 + 0.5 * random.uniform();
      const seeps = random.uniform() < 0.5;
      const at = (t: number) => startPa * (seeps ? left ** (t / 600) : (1 - (1 - Math.sqrt(left)) * (t / 600)) ** 2);
      const points = Array.from({ length: count }, (_, i) => {
        const t = (600 * i) / (count - 1);
        return [t, at(t) + 2000 * random.normal()] as const;
      });
      const [low, high] = fitted(points).rateInterval;
      const truth = (at(0) - at(300)) / 5;
      if (low <= truth && truth <= high) covered++;
    }
    // Of 400 tries at 95 %, 99 in 100 lie within 92 and 98 % (binomial).
    expect(covered / runs).toBeGreaterThan(0.915);
    // Three points rule no law out, so their interval is as wide as all laws together.
    if (count > 3) expect(covered / runs).toBeLessThan(0.985);
  });

  // NIST/SEMATECH e-Handbook of Statistical Methods, 1.3.6.7.2, upper 2.5 %; values from memory.
  it.each([
    [1, 12.706],
    [2, 4.303],
    [3, 3.182],
    [4, 2.776],
    [5, 2.571],
    [10, 2.228],
    [20, 2.086],
    [30, 2.042],
    [100, 1.984],
  ])(
    // prettier-ignore
    'Student’s factor of %i degrees is %d',
    (freedom, factor) => {
      expect(Math.abs(student95(freedom) / factor - 1)).toBeLessThan(0.0015);
    },
  );
});

describe('a recorded pressure measures the same', () => {
  const wave = (t: number) =>
    t < 1 ? 0 : t < 1.8 ? (kPa(380) * (t - 1)) / 0.8 : kPa(380) * Math.exp(-(t - 1.8) / 900);
  const record = (rateHz: number, { startS = 0, factor = 1, noisePa = 400 } = {}) => {
    const random = seededRandom(11);
    const samples = Float32Array.from(
      { length: rateHz * 90 },
      (_, i) => factor * (wave(i / rateHz) + noisePa * random.normal()),
    );
    return analyzePressure(samples, rateHz, startS).pressure;
  };
  const one = record(200);

  it.each([50, 1000, 5000])('at %i samples a second', (rateHz) => {
    const other = record(rateHz);
    expect(other.primePa! / one.primePa!).toBeCloseTo(1, 2);
    expect(Math.abs(other.riseTimeS! - one.riseTimeS!)).toBeLessThan(0.03);
    expect(other.hold!.halfTimeS! / one.hold!.halfTimeS!).toBeCloseTo(1, 1);
    expect(other.levelPa / one.levelPa).toBeCloseTo(1, 2);
  });

  it('whenever the recorder’s clock began, with its times moved along', () => {
    const other = record(200, { startS: -12.5 });
    expect(other.onsetS! - one.onsetS!).toBeCloseTo(-12.5, 6);
    expect(other).toMatchObject({ primePa: one.primePa, riseTimeS: one.riseTimeS, levelPa: one.levelPa });
  });

  it('at any scale of the transducer', () => {
    const other = record(200, { factor: 2.5 });
    expect(other.primePa! / one.primePa!).toBeCloseTo(2.5, 4);
    expect(other.riseTimeS!).toBeCloseTo(one.riseTimeS!, 4);
    expect(other.lowestPa / one.lowestPa).toBeCloseTo(2.5, 4);
  });

  it('whatever its noise, within the noise', () => {
    for (const noisePa of [0, 2000, 5000]) {
      const other = record(1000, { noisePa });
      expect(Math.abs(other.primePa! / kPa(380) - 1)).toBeLessThan(0.02);
      expect(Math.abs(other.hold!.halfTimeS! / (900 * Math.LN2) - 1)).toBeLessThan(0.1);
    }
  });
});
