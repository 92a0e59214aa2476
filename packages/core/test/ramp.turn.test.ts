import { analyzeRamp } from '../src/measure/current/analyze-ramp.js';
import { coherenceOf } from '../src/measure/current/coherence.js';
import { humpsForBars } from '../src/measure/current/commutators.js';
import { seededRandom } from '../src/signal/random.js';
import { intermittentRecord } from '../src/simulate/wide-intermittent.js';
import { trueRpm, wideCapture } from '../src/simulate/wide-capture.js';
import { asChannel, draw } from './support/drawn-capture.js';
import { BURNT, measured } from './support/measured-capture.js';

describe('the turn and the count of humps', () => {
  it('makes no turn of an alternator’s ripple beside the humps', () => {
    // At 2.57 of the humps' rate, and near other whole ratios: each was read as a turn of its own, and called measured.
    const speeds = [93_414, 93_168, 93_003, 93_078, 93_113, 93_196, 93_249, 93_275].map((seed) => {
      const { currentA, sampleRateHz, truth } = intermittentRecord(seed);
      const { rpm = NaN, humps, steady } = analyzeRamp(asChannel(currentA), sampleRateHz, 0).ramp;
      const isRight = Math.abs(rpm / truth.rpm(steady!.fromS, steady!.toS) - 1) < 0.02;
      return { isMeasured: humps?.basis === 'measured', isRight };
    });
    expect(speeds.slice(0, 2)).toEqual([
      { isMeasured: true, isRight: true },
      { isMeasured: true, isRight: true },
    ]);
    expect(speeds.filter(({ isMeasured, isRight }) => isMeasured && !isRight)).toEqual([]);
  });

  it('knows a line that the rotor brings back from one that passes it by', () => {
    const random = seededRandom(5);
    const [points, turns, turn] = [8, 120, 8];
    // Once a turn, and once and a twentieth more or less.
    const along = (perTurn: number, depth: number) => {
      const angle = (i: number) => (2 * Math.PI * i) / points / turn;
      const values = Float64Array.from(
        { length: points * turn * turns },
        (_, i) => Math.sin(turn * angle(i)) + depth * Math.sin(perTurn * angle(i)) + 0.3 * random.normal(),
      );
      return coherenceOf({ values, points, cycles: turn * turns }, turn);
    };
    expect([along(1, 0.2), along(1.05, 0.2), along(1, 0)]).toEqual(['stays', 'wanders', 'untold']);
  });

  it('draws as many bars as were given', () => {
    const { channel } = draw({ bars: 14, rpm: 4000, heightSpread: 0.2 });
    expect(analyzeRamp(channel, 50_000, 0, { bars: 14 }).ramp.bars).toHaveLength(14);
  });

  it('a turn found among gaps that come at random is assumed, never measured', () => {
    for (const seed of [11, 12, 13]) {
      const { channel } = draw({ seed, durationS: 0.5, onS: 0, randomGaps: 60, levelSpread: 0.03 });
      expect(analyzeRamp(channel, 50_000, 0).ramp.humps?.basis ?? 'assumed').toBe('assumed');
    }
  });

  it('counts the bars of a run that another source disturbs by the run before, since it is the same motor', () => {
    const { samples } = draw({ onS: 0, durationS: 2, bars: 10, rpm: 5436, noiseA: 0.02 }).channel;
    // An alternator's tone begins in the gap between the runs, and comes back after 22 humps.
    const toneHz = ((5436 / 60) * 10 * 16) / 22;
    const both = samples.map((value, i) => {
      if (i < 40_000) return value;
      return i < 48_000 ? 0 : value + 0.03 * Math.sin((2 * Math.PI * toneHz * i) / 50_000);
    });
    const { ramp } = analyzeRamp(asChannel(both), 50_000, 0);
    for (const { rpm } of ramp.runs!) expect(rpm! / 5436).toBeCloseTo(1, 2);
    // What the longer one says by itself stays in sight.
    expect(ramp.humps).toMatchObject({ perRevolution: 10, basis: 'assumed' });
    expect(ramp.humps!.alternatives![0].perRevolution).toBe(22);
  });

  it('tells no speed of humps as faint as an alternator’s that make one which hardly any pump has, or another in each run', () => {
    const rate = 10_000;
    const record = (lines: readonly number[]) => {
      const random = seededRandom(7);
      return Float32Array.from({ length: lines.length * 1.5 * rate }, (_, i) => {
        const t = i / rate;
        const runs = t % 1.5 > 0.4;
        const hz = lines[Math.floor(t / 1.5)];
        // Every 22nd is a little higher: as sure a turn as any, of whatever it is.
        const wave = Math.sin(2 * Math.PI * hz * t) + 0.3 * Math.sin((2 * Math.PI * hz * t) / 22);
        const start = 13 * Math.exp((0.4 - (t % 1.5)) / 0.02);
        return (runs ? 6.5 + start + 0.03 * wave : 0) + 0.01 * random.normal();
      });
    };
    for (const lines of [[500], [1000, 1500]]) {
      const { ramp, cannotTell } = analyzeRamp({ samples: record(lines), zeroStated: false }, rate, 0);
      expect([lines, ramp.rpm, ramp.bars, ramp.pattern]).toEqual([lines, undefined, undefined, 'even']);
      expect(ramp.runs!.map(({ rpm }) => rpm)).toEqual(lines.map(() => undefined));
      expect(cannotTell.find(({ what }) => what === 'rpm')?.because).toMatch(/alternator/);
    }
    // What a usual pump makes is told as likely.
    expect(analyzeRamp({ samples: record([1500]), zeroStated: false }, rate, 0).ramp.humps?.basis).toBe('assumed');
  });

  it('follows the humps between gaps that come at random, however many samples they take', () => {
    for (const seed of [31520, 32166, 32471, 31948, 40123, 40496]) {
      const capture = wideCapture(seed);
      const { ramp } = analyzeRamp({ ...capture }, capture.sampleRateHz, 0);
      expect([seed, Math.abs(ramp.rpm! / trueRpm(capture, ramp.steady!.fromS, ramp.steady!.toS) - 1) < 0.01]).toEqual([
        seed,
        true,
      ]);
      expect(ramp.pattern).toBe('brush-bounce');
    }
  });

  it('leaves out no gaps that come back with the rotor: they tell the turn', () => {
    for (const seed of [40158, 40186, 40546, 40562]) {
      const { ramp, truth } = measured(seed);
      expect([seed, Math.abs(ramp.rpm! / truth.rpm - 1) < 0.02]).toEqual([seed, true]);
      expect(BURNT).toContain(ramp.pattern);
    }
  });

  it('keeps to the line it found where its neighbour of the rotor, one turn rate away, is the stronger', () => {
    const { ramp, truth } = measured(90385);

    expect(ramp.rpm! / truth.rpm).toBeCloseTo(1, 2);
  });

  it('never calls a count that no motor has measured, however well it fits', () => {
    for (const seed of [420387, 310113]) {
      const { ramp, truth } = measured(seed);
      if (ramp.humps?.basis === 'measured') expect(ramp.rpm! / truth.rpm).toBeCloseTo(1, 2);
    }
  });

  it('counts no fewer humps in two turns than in one: 22 and 14 a turn are no half-speed motor of eight bars', () => {
    for (const seed of [200369, 220298]) {
      const { ramp, truth } = measured(seed);
      expect(ramp.rpm! / truth.rpm).toBeCloseTo(1, 2);
    }
  });

  it.each([
    // Half a turn of eight shows four: ten were read in it, eight in the whole, and the half was called measured.
    360_009,
    // A level that drifts between a dead stretch's ends hid the humps, and twice the turn was taken.
    ...[360_098, 360_168],
    340_140,
  ])('counts the humps that a turn, or half of one, can have: seed %d', (seed) => {
    const { ramp, truth } = measured(seed);
    expect(Math.abs(ramp.rpm! / truth.rpm - 1)).toBeLessThan(0.01);
  });

  it('follows the humps where a turn has more cycles of their harmonic than are looked at', () => {
    // The fifth harmonic of the humps was followed, forty a turn: a quarter of it was taken for one.
    const { ramp, truth } = measured(340_137);
    expect(Math.abs(ramp.rpm! / truth.rpm - 1)).toBeLessThan(0.01);
    expect(ramp.humps).toMatchObject({ perRevolution: truth.bars, basis: 'assumed' });
  });

  it('takes no two turns of hum for one where the likeliest, four turns, has no lines of its own', () => {
    // Hum of 50 Hz beside 134 turns a second: two turns were more alike than one, four at a quarter of the speed, and burnt bars “even”.
    const { ramp, truth } = measured(910_170);
    expect(Math.abs(ramp.rpm! / truth.rpm - 1)).toBeLessThan(0.01);
    expect(ramp).toMatchObject({ pattern: 'locked-notch', humps: { perRevolution: 14, basis: 'measured' } });
  });

  it.each([240_265, 220_226, 213_136, 213_222])(
    'counts the humps of a burnt pump beside its notches: seed %d',
    (seed) => {
      const { ramp, truth } = measured(seed);
      expect(Math.abs(ramp.rpm! / truth.rpm - 1)).toBeLessThan(0.01);
      expect(ramp.humps!.perRevolution).toBe(humpsForBars(truth.bars));
    },
  );
});
