import {
  analyzePressure,
  captureEntries,
  checkEntry,
  fitHold,
  holdSide,
  judgeHold,
  pointersFrom,
  pressureSheet,
  type HoldRecord,
} from '../src/index.js';
import { seededRandom } from '../src/signal/random.js';
import { bled, entry, intake } from './support/entries.js';

// Pressure over time: hold tests read by hand, and recorded rail pressures.

const kPa = (value: number) => value * 1e3;

describe('the hold test, on simulated decays of known law', () => {
  /** Integrated step by step, apart from the fit's closed forms. */
  function decay(
    law: (pascal: number) => number,
    startPa: number,
    lengthS: number,
    everyS: number,
    noisePa: number,
    seed: number,
  ) {
    const random = seededRandom(seed);
    const points: [number, number][] = [];
    let pascal = startPa;
    let halfS: number | undefined;
    let atFiveMinutes = startPa;
    const step = 0.25;
    for (let t = 0; t <= Math.max(lengthS, 7200); t += step) {
      if (t <= lengthS && Math.abs(t / everyS - Math.round(t / everyS)) < step / everyS / 2) {
        points.push([t, pascal + noisePa * random.normal()]);
      }
      if (t <= Math.min(300, lengthS)) atFiveMinutes = pascal;
      if (halfS === undefined && pascal <= startPa / 2) halfS = t;
      pascal -= step * law(pascal);
    }
    const ratePaPerMin = ((startPa - atFiveMinutes) / Math.min(300, lengthS)) * 60;
    return { points, halfS, ratePaPerMin };
  }

  const LAWS: readonly [string, (pascal: number) => number][] = [
    ['constant loss', () => 180],
    ['an orifice, falling with the root', (p) => 0.42 * Math.sqrt(p)],
    ['a seep, exponential', (p) => p / 500],
    ['something between', (p) => 0.028 * p ** 0.75],
  ];

  it.each(LAWS)('%s: rate and time to half within 5 %% in every one of 40 noisy records', (_name, law) => {
    for (let seed = 1; seed <= 40; seed++) {
      const truth = decay(law, kPa(380), 900, 15, 1500, seed);
      const result = fitHold({ points: truth.points });
      if (!('fit' in result)) throw new Error(result.cannotTell.because);
      expect(Math.abs(result.fit.ratePaPerMin / truth.ratePaPerMin - 1)).toBeLessThan(0.05);
      expect(Math.abs(result.fit.halfTimeS! / truth.halfS! - 1)).toBeLessThan(0.05);
    }
  });

  it('extrapolates a half that was not reached, and says so', () => {
    const truth = decay((p) => p / 3000, kPa(380), 1200, 30, 500, 3);
    expect(fitHold(truth)).toMatchObject({ fit: { extrapolated: true } });
    const tight = fitHold({ points: [0, 60, 120, 180, 240].map((t) => [t, kPa(380)] as const) });
    expect(tight).toMatchObject({ fit: { extrapolated: false } });
    expect('fit' in tight && tight.fit.halfTimeS).toBeUndefined();
  });

  it('judges a short record only where it lost more than five minutes may take', () => {
    const falling = (paPerS: number) => {
      const result = fitHold({ points: [0, 5, 10, 15].map((t) => [t, kPa(380) - paPerS * t] as const) });
      if (!('fit' in result)) throw new Error(result.cannotTell.because);
      return result.fit;
    };
    expect(judgeHold(falling(300)).standing).toBe('too-short');
    expect(judgeHold(falling(5000)).standing).toBe('falls');
    // A house that allows more calls the same loss short of telling.
    expect(judgeHold(falling(5000), kPa(20)).standing).toBe('too-short');
    const entries = [
      bled,
      entry('hold', 'rail', { points: [0, 5, 10].map((t) => [t, kPa(380 - t)]), blocked: 'none' }),
    ];
    expect(pressureSheet({ entries, intake: intake() }).hold?.judgement.standing).toBe('too-short');
    expect(pointersFrom(entries, intake(), pressureSheet({ entries, intake: intake() }))).toEqual([]);
  });

  it('names no number for too few points', () => {
    expect(
      fitHold({
        points: [
          [0, kPa(300)],
          [60, kPa(290)],
        ],
      }),
    ).toHaveProperty('cannotTell');
    expect(
      fitHold({
        points: [
          [0, 10],
          [60, 8],
          [120, 6],
        ],
      }),
    ).toHaveProperty('cannotTell');
  });

  it('tells the way out by the blocked line', () => {
    expect(holdSide({ none: kPa(60), supply: kPa(5), return: kPa(58) })).toMatch(/check valve/);
    expect(holdSide({ none: kPa(60), supply: kPa(55), return: kPa(4) })).toMatch(/regulator/);
    expect(holdSide({ none: kPa(60), supply: kPa(55), return: kPa(58) })).toMatch(/injector/);
    expect(holdSide({ none: kPa(3), supply: kPa(3) })).toBeUndefined();
  });
});

describe('a recorded rail pressure', () => {
  const record = (rate: number, lengthS: number, pascalAt: (t: number) => number, noisePa: number) => {
    const random = seededRandom(7);
    const samples = Float32Array.from(
      { length: rate * lengthS },
      (_, i) => pascalAt(i / rate) + noisePa * random.normal(),
    );
    return analyzePressure(samples, rate, 0);
  };

  it.each([100, 1000, 20_000])('has level, rise and loss right at %i samples a second', (rate) => {
    const { pressure } = record(
      rate,
      120,
      (t) => (t < 1 ? 0 : t < 1.6 ? (kPa(380) * (t - 1)) / 0.6 : kPa(380) * Math.exp(-(t - 1.6) / 600)),
      1000,
    );
    expect(Math.abs(pressure.primePa! / kPa(380) - 1)).toBeLessThan(0.01);
    expect(Math.abs(pressure.riseTimeS! - 0.48)).toBeLessThan(0.03);
    expect(Math.abs(pressure.hold!.halfTimeS! / (600 * Math.LN2) - 1)).toBeLessThan(0.05);
  });

  it.each([
    ['prime', ['pressure/rail 380', 'timing/rise_time', 'hold/rail return']],
    ['cranking', ['pressure/rail 305', 'timing/rise_time']],
    ['idle', ['pressure/rail 305']],
    ['loaded', ['pressure/rail 305', 'pressure/rail_snap 244']],
    ['after-off', ['hold/rail return']],
    ['off', ['hold/rail return']],
  ] as const)('fills the sheet by the key state it was recorded in: %s', (keyState, lines) => {
    const { pressure } = record(
      100,
      300,
      (t) => (t < 1 ? 0 : t < 1.5 ? kPa(380) * (t - 1) * 2 : kPa(380) * Math.exp(-(t - 1.5) / 675)),
      300,
    );
    const filled = captureEntries(pressure, keyState, 'return').map(({ kind, at, value }) => {
      if (kind === 'hold') return `hold/${at} ${(value as HoldRecord).blocked}`;
      return kind === 'timing' ? `timing/${at}` : `${kind}/${at} ${Math.round(Number(value) / 1000)}`;
    });
    // Rounded levels of a noisy record may differ by one.
    const near = (text: string) => text.replace(/\d+$/, (digits) => String(Math.round(Number(digits) / 5) * 5));
    expect(filled.map(near)).toEqual(lines.map(near));
    for (const { kind, at, value, keyState: state } of captureEntries(pressure, keyState, 'return')) {
      expect(() => checkEntry(kind, at, value, state)).not.toThrow();
    }
  });

  it('has the level and the sag of a snap throttle on a pump that runs already', () => {
    const sagging = (t: number) => kPa(350) - (t > 4 && t < 4.4 ? kPa(90) * Math.sin((Math.PI * (t - 4)) / 0.4) : 0);
    const { pressure } = record(200, 8, sagging, 800);
    expect(Math.abs(pressure.levelPa / kPa(350) - 1)).toBeLessThan(0.01);
    expect(Math.abs(pressure.lowestPa / kPa(260) - 1)).toBeLessThan(0.02);
  });

  it('says why it measured no rise', () => {
    expect(record(100, 10, () => 0, 500)).toMatchObject({ cannotTell: [{ what: 'primePa' }] });
  });
});
