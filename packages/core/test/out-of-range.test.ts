import fc from 'fast-check';
import { analyzeCapture, type Channel } from '../src/index.js';
import { seededRandom } from '../src/signal/random.js';

// What a recorder or a transducer can't show is said, and nothing is said of a channel that shows all.

const RATE_HZ = 5000;

/** Ten seconds of a line that moves slowly by `swing` about `level`, with noise, on a recorder of `step`. */
function line(level: number, swing: number, noise: number, step: number, seed = 1): Float32Array {
  const random = seededRandom(seed);
  return Float32Array.from({ length: 10 * RATE_HZ }, (_, i) => {
    const value = level + swing * Math.sin((2 * Math.PI * 0.7 * i) / RATE_HZ) + noise * random.normal();
    return step * Math.round(value / step);
  });
}

const findingsOf = (channel: Pick<Channel, 'name' | 'unit' | 'samples'>) =>
  analyzeCapture('x', { sampleRateHz: RATE_HZ, startS: 0, channels: [{ fileFactor: 1, ...channel }], notes: [] })
    .findings;
const codes = (name: string, unit: Channel['unit'], samples: Float32Array) =>
  findingsOf({ name, unit, samples }).map(({ code }) => code);

it('says that a channel is cut off flat at its top or bottom', () => {
  const feed = line(12.4, 0.5, 0.05, 0.02);
  expect(codes('Feed voltage', 'V', feed)).not.toContain('clipped');
  const cut = feed.map((value) => Math.min(value, 12.6));
  const [found] = findingsOf({ name: 'Feed voltage', unit: 'V', samples: cut });
  expect(found).toMatchObject({ code: 'clipped' });
  expect(found.text).toMatch(/^“Feed voltage” is cut off flat at 12\.6 V/);
  const low = feed.map((value) => Math.max(value, 12.1));
  expect(codes('Feed voltage', 'V', low)).toContain('clipped');
  // Nothing on the lead is no limit, and a switched line rests where it rests.
  expect(
    codes(
      'Feed voltage',
      'V',
      feed.map((value, i) => (i < 20_000 ? 0 : value)),
    ),
  ).not.toContain('clipped');
  expect(
    codes(
      'Command',
      'V',
      feed.map((value, i) => (i % 50 < 25 ? 12.6 : value - 12)),
    ),
  ).not.toContain('clipped');
});

it('takes no steady, coarse or quiet channel for a limited one', () => {
  fc.assert(
    fc.property(
      fc.double({ min: 0.001, max: 2, noNaN: true }),
      fc.double({ min: 0, max: 0.5, noNaN: true }),
      fc.constantFrom(0.005, 0.05, 0.2),
      fc.integer({ min: 1, max: 1000 }),
      (swing, noise, step, seed) => {
        expect(codes('Battery voltage', 'V', line(12.6, swing, noise, step, seed))).not.toContain('clipped');
      },
    ),
    { numRuns: 60, endOnFailure: true },
  );
});

it('takes no curve without noise that turns at its top for a limited one, and one that is cut off for what it is', () => {
  for (const [swing, step] of [
    [0.5, 1e-4],
    [0.5, 1e-5],
    [2, 1e-3],
  ]) {
    const smooth = line(12.6, swing, 0, step);
    expect(codes('Battery voltage', 'V', smooth)).not.toContain('clipped');
    expect(
      codes(
        'Battery voltage',
        'V',
        smooth.map((value) => Math.min(value, 12.6 + 0.8 * swing)),
      ),
    ).toContain('clipped');
  }
});

it('says that no rail stands at what an open transducer reads', () => {
  // A 1 MPa transducer on 5 V with its signal wire off: 0 V, an eighth of its range below nothing.
  expect(codes('Rail pressure', 'Pa', line(-125e3, 500, 300, 100))).toContain('pressure-impossible');
  expect(codes('Rail pressure', 'Pa', line(300e3, 20e3, 300, 100))).not.toContain('pressure-impossible');
  // A gauge that wasn't zeroed, and a rail that was let down.
  expect(codes('Rail pressure', 'Pa', line(-8e3, 2e3, 300, 100))).not.toContain('pressure-impossible');
});
