import fc from 'fast-check';
import { ArraySource } from '../src/capture/source.js';
import { measurePulses, type MeasuredLine } from '../src/measure/pulses/pulse-train.js';
import { judgeDrive } from '../src/measure/pulses/drive.js';
import { seededRandom } from '../src/signal/random.js';

// Waveforms drawn point by point, with what IEEE Std 181-2011 (terms from memory) makes of them worked out by hand.

const RATE = 10_000;
const measure = (samples: ArrayLike<number>, rate = RATE): MeasuredLine =>
  measurePulses(new ArraySource(Float32Array.from(samples)), rate, 0, 'the line');

interface Train {
  /** Samples. */
  readonly period: number;
  readonly on: number;
  readonly count: number;
  readonly start?: number;
  readonly low?: number;
  readonly high?: number;
  /** Transition time, samples, centred on the edge. */
  readonly edge?: number;
  readonly noise?: number;
  readonly without?: readonly number[];
  readonly extra?: readonly number[];
  readonly inverse?: boolean;
}

function draw(train: Train): Float32Array {
  const { period, on, count, start = 7.3, low = 0, high = 5, edge = 0, noise = 0, without = [], extra = [] } = train;
  const random = seededRandom(5);
  const begins = Array.from({ length: count }, (_, i) => start + i * period).filter((_, i) => !without.includes(i));
  const pulses = [...begins.map((at) => [at, at + on]), ...extra.map((at) => [at, at + 0.1 * period])];
  pulses.sort((a, b) => a[0] - b[0]);
  let next = 0;
  return Float32Array.from({ length: Math.ceil(start + count * period) }, (_, i) => {
    while (next < pulses.length - 1 && i > pulses[next][1] + edge) next++;
    const [rise, fall] = pulses[next] ?? [Infinity, Infinity];
    const ramp = (at: number) => (edge > 0 ? Math.min(1, Math.max(0, (i - at) / edge + 0.5)) : Number(i >= at));
    const share = ramp(rise) - ramp(fall);
    return low + (high - low) * (train.inverse ? 1 - share : share) + noise * random.normal();
  });
}

it('state levels, mid reference instants, duration and duty of a trapezoid are those worked by hand', () => {
  // Levels 0.4 and 12.4 V; edges of 6 samples centred on the instants 7.3 + 80 k and 7.3 + 80 k + 26: 125 Hz, 2.6 ms, 32.5 %.
  const { train, cannotTell } = measure(draw({ period: 80, on: 26, count: 40, low: 0.4, high: 12.4, edge: 6 }));
  expect(train.lowV).toBeCloseTo(0.4, 3);
  expect(train.highV).toBeCloseTo(12.4, 3);
  expect(train.frequencyHz).toBeCloseTo(125, 3);
  expect(train.onTimeMs).toBeCloseTo(2.6, 3);
  expect(train.usualDutyPercent).toBeCloseTo(32.5, 2);
  expect(train.dutyPercent).toBeCloseTo(32.5, 1);
  expect(train).toMatchObject({ cycles: 39, missing: 0, gaps: [] });
  expect(cannotTell).toEqual([]);
});

it('finds every missing and no invented pulse among ten thousand at 30 dB', () => {
  const without = [100, 101, 102, 4000, 9998];
  const noise = 5 / 10 ** (30 / 20);
  const { train } = measure(draw({ period: 20.7, on: 8, count: 10_000, noise, without }));
  expect(train.missing).toBe(5);
  expect(train.extra).toBeUndefined();
  expect(train.gaps.map(({ missing }) => missing)).toEqual([3, 1, 1]);
  expect(train.gaps[0].startS * RATE).toBeCloseTo(7.3 + 100 * 20.7, -1);
  expect(Math.abs(train.frequencyHz / (RATE / 20.7) - 1)).toBeLessThan(1e-4);
});

it('on a line that rests high the low parts are the pulses', () => {
  const { train } = measure(draw({ period: 50, on: 15, count: 60, without: [20, 21], inverse: true }));
  expect(train.usualDutyPercent).toBeCloseTo(70, 0);
  expect(train.gaps).toHaveLength(1);
  expect(train.gaps[0].missing).toBe(2);
  expect(train.gaps[0].startS * RATE).toBeCloseTo(7.3 + 20 * 50, -0.5);
});

it('pulses that stop before the record ends, or begin after it does, are missing there', () => {
  const early = measure(draw({ period: 50, on: 20, count: 60, without: [0, 1, 2, 3] })).train;
  expect(early.gaps).toEqual([{ startS: expect.closeTo((7.3 + 0 * 50) / RATE, 3) as number, missing: 4 }]);
  const late = measure(draw({ period: 50, on: 20, count: 60, without: [55, 56, 57, 58, 59] })).train;
  expect(late.gaps).toEqual([{ startS: expect.closeTo((7.3 + 55 * 50) / RATE, 3) as number, missing: 5 }]);
});

it('a pulse between two beats is extra, and one that is too many doesn’t move the clock', () => {
  const { train } = measure(draw({ period: 100, on: 30, count: 50, extra: [7.3 + 1050, 7.3 + 3060] }));
  expect(train.extra).toHaveLength(2);
  expect(train.missing).toBe(0);
  expect(train.frequencyHz).toBeCloseTo(100, 2);
});

it.each([
  [0.05, 'low', 0],
  [13.4, 'high', 100],
  [1.4, 'between', 0],
] as const)('a line that stays at %d V is stuck %s', (level, stuck, duty) => {
  const random = seededRandom(3);
  const { train, cannotTell } = measure(Float32Array.from({ length: 5000 }, () => level + 0.04 * random.normal()));
  expect(train).toMatchObject({ frequencyHz: 0, stuck, dutyPercent: duty, cycles: 0 });
  expect(cannotTell).toHaveLength(stuck === 'between' ? 1 : 0);
});

it('neither a sine nor a ramp passes for a switched line', () => {
  expect(measure(Float32Array.from({ length: 4000 }, (_, i) => 6 + 6 * Math.sin(i / 20))).train.stuck).toBeDefined();
  expect(measure(Float32Array.from({ length: 4000 }, (_, i) => (i % 97) / 8)).train.stuck).toBeDefined();
});

it('pulses that keep step with the recorder have a wider interval, which holds the duty', () => {
  // 20 samples a pulse exactly: 7.6 of them high are seen as 8.
  const { usualDutyPercent, usualDutyInterval } = measure(draw({ period: 20, on: 7.6, count: 400, start: 0.9 })).train;
  expect(usualDutyPercent).toBeCloseTo(40, 3);
  expect(usualDutyInterval![0]).toBeLessThan(38);
  expect(usualDutyInterval![1]).toBeGreaterThan(38);
});

it.each([20, 20.5, 61 / 3, 20.37])(
  'the interval holds the duty where the edges come to few places: period %d',
  (period) => {
    for (const on of [7.1, 7.3, 7.6, 7.9]) {
      const { usualDutyInterval } = measure(draw({ period, on, count: 400, start: 0.9 })).train;
      expect(usualDutyInterval![0]).toBeLessThan((100 * on) / period);
      expect(usualDutyInterval![1]).toBeGreaterThan((100 * on) / period);
      // Not by being wide: a place between every two samples is the worst.
      expect(usualDutyInterval![1] - usualDutyInterval![0]).toBeLessThan(period === 20 ? 10.1 : 6);
    }
  },
);

it('pulses that keep step and change their duty on the way do too', () => {
  const [short, long] = [7.6, 11.6].map((on) => draw({ period: 20, on, count: 200, start: 0.9 }).subarray(0, 4000));
  const { usualDutyInterval, frequencyHz } = measure([...short, ...long]).train;
  // The rising edges keep the beat; the falling ones come to it later from the middle on.
  expect(frequencyHz).toBeCloseTo(RATE / 20, 6);
  expect(usualDutyInterval![0]).toBeLessThan(48);
  expect(usualDutyInterval![1]).toBeGreaterThan(48);
  expect(usualDutyInterval![1] - usualDutyInterval![0]).toBeGreaterThan(8);
});

it('says when pulses are too fast for the recorder', () => {
  const { cannotTell } = measure(draw({ period: 4.2, on: 1.1, count: 500 }));
  expect(cannotTell[0]).toMatchObject({ what: 'duty of the line' });
});

it('neither where the record begins, nor its volts a division, nor a recorder twice as fast changes the pulses', () => {
  const spec = fc.record({
    period: fc.double({ min: 22, max: 90, noNaN: true }),
    share: fc.double({ min: 0.12, max: 0.88, noNaN: true }),
    start: fc.double({ min: 0, max: 20, noNaN: true }),
    gain: fc.constantFrom(0.4, 1, 2.7),
  });
  fc.assert(
    fc.property(spec, ({ period, share, start, gain }) => {
      const train = { period, on: share * period, count: 220 };
      const plain = measure(draw(train)).train;
      const moved = measure(draw({ ...train, start, high: 5 * gain })).train;
      const finer = measure(draw({ ...train, period: 2 * period, on: 2 * share * period }), 2 * RATE).train;
      const doubt = ({ usualDutyInterval: [low, high] = [0, 100] }: typeof plain) => (high - low) / 2;
      for (const other of [moved, finer]) {
        expect(Math.abs(other.frequencyHz / plain.frequencyHz - 1)).toBeLessThan(1e-3);
        expect(Math.abs(other.usualDutyPercent! - plain.usualDutyPercent!)).toBeLessThan(
          0.1 + doubt(other) + doubt(plain),
        );
        expect(other.missing).toBe(0);
      }
    }),
    { numRuns: 25, seed: 11 },
  );
});

describe('from command to output', () => {
  const command = (percent: number, more: Partial<Train> = {}) =>
    measure(draw({ period: 100, on: percent, count: 60, ...more }));
  const output = (percent: number, more: Partial<Train> = {}) =>
    measure(draw({ period: 25, on: percent / 4, count: 240, high: 13.5, ...more }));
  const judge = (lines: Omit<Parameters<typeof judgeDrive>[0], 'sampleRateHz'>) =>
    judgeDrive({ ...lines, sampleRateHz: RATE });
  const still = (level: number) => measure(new Float32Array(6000).fill(level));
  const stepped = (a: Float32Array, b: Float32Array) => measure(Float32Array.from([...a, ...b]));

  it('an output equal to its command, twice it or its complement is answered rightly, and the trap is said', () => {
    expect(judge({ command: command(40), output: output(40) })).toMatchObject({
      drive: { cause: 'none' },
      findings: [],
    });
    const double = judge({ command: command(30), output: output(60) });
    expect(double.drive.cause).toBe('none');
    expect(double.drive.expectedDutyPercent).toBeCloseTo(60, 0);
    expect(double.findings[0].text).toMatch(/takes 50 % for full on/);
    expect(judge({ command: command(30), output: output(70) }).findings[0].text).toMatch(/active low/);
  });

  it('the system’s table decides where there is one', () => {
    const table = [
      [10, 0],
      [90, 100],
    ] as const;
    expect(judge({ command: command(50), output: output(50), table }).drive.cause).toBe('none');
    expect(judge({ command: command(70), output: output(75), table }).drive.cause).toBe('none');
    const half = judge({ command: command(70), output: output(37), table }).drive;
    expect(half.cause).toBe('module');
    expect(half.because).toMatch(/should be 75 %, and it is 3\d %/);
    expect(judge({ command: command(70), output: output(48) }).drive.cause).toBe('undetermined');
  });

  it('an output that stays where the table puts it is answered rightly, and no module is blamed for full on', () => {
    const table = [
      [10, 0],
      [75, 100],
    ] as const;
    const on = judge({ command: command(75), output: still(13.2), supplyV: 13.4, table }).drive;
    expect(on).toMatchObject({
      cause: 'none',
      because: 'By the system’s table 75 % means full on, and full on the output stays.',
    });
    expect(judge({ command: command(10), output: still(0.1), table }).drive.cause).toBe('none');
    expect(judge({ command: command(75), output: still(0.1), table }).drive.cause).toBe('module');
    expect(judge({ command: command(75), output: still(9), supplyV: 13.4, table }).drive.cause).toBe('module');
    expect(judge({ command: command(40), output: still(13.2), table }).drive.cause).toBe('module');
    // Without a table 50 % may be full on, and three quarters may not.
    expect(judge({ command: command(50), output: still(13.2) }).drive.cause).toBe('undetermined');
    expect(judge({ command: command(75), output: still(13.2) }).drive.cause).toBe('module');
  });

  it('names the first broken link', () => {
    expect(judge({ command: still(0.1), output: output(100) }).drive).toMatchObject({ cause: 'upstream' });
    expect(judge({ command: command(40, { without: [9, 10] }), output: output(40) }).drive.cause).toBe('upstream');
    expect(judge({ command: command(40), output: still(0) }).drive.cause).toBe('module');
    expect(judge({ command: command(40), output: still(0), supplyV: 6.1 }).drive.cause).toBe('upstream');
    expect(judge({ command: command(40), output: output(40, { without: [50] }) }).drive.cause).toBe('module');
    expect(judge({ command: command(40) }).drive.cause).toBe('undetermined');
    expect(judge({ output: output(40) }).drive.cause).toBe('undetermined');
    expect(judge({ command: still(1.4), output: output(40) }).drive.cause).toBe('undetermined');
  });

  it('an output that stays where it is while the command moves is the module’s', () => {
    const moved = stepped(
      draw({ period: 100, on: 30, count: 30, start: 0 }),
      draw({ period: 100, on: 55, count: 30, start: 0 }),
    );
    expect(judge({ command: moved, output: output(30) }).drive.cause).toBe('module');
    const followed = stepped(
      draw({ period: 25, on: 7.5, count: 121, start: 0, high: 13.5 }),
      draw({ period: 25, on: 13.75, count: 119, start: 0, high: 13.5 }),
    );
    expect(judge({ command: moved, output: followed }).drive.cause).toBe('none');
  });

  it('an output that is lower than its supply is the module’s; without the supply nobody knows', () => {
    const weak = output(40, { high: 9 });
    const { drive } = judge({ command: command(40), output: weak, supplyV: 13.6 });
    expect(drive.cause).toBe('module');
    expect(drive.outputDropV).toBeCloseTo(4.6, 2);
    expect(judge({ command: command(40), output: weak }).drive.cause).toBe('undetermined');
  });

  it('notices two leads that are swapped', () => {
    const { drive, findings } = judge({ command: output(40), output: command(40) });
    expect(drive.cause).toBe('undetermined');
    expect(findings[0].code).toBe('leads-swapped');
  });
});
