import { toOrder, type OrderSignal } from '../src/measure/current/order.js';
import { unfolded } from '../src/measure/current/unfolded.js';
import { meanOf } from '../src/signal/levels.js';

// What sampling does to a current that is the same in every cycle of a line: nothing, at the samples themselves.

const CYCLES = 300;
const POINTS = 8;

/** A line of so many samples a cycle, on average, that gains speed, and a current which is the same in each of its cycles. */
function sampled(samplesACycle: number, gains: number, amplitudes: readonly number[]) {
  const length = Math.floor(CYCLES * samplesACycle);
  const angleAt = (i: number) => (i / samplesACycle) * (1 + (gains * (i - length)) / length / 2);
  const current = (cycles: number) =>
    amplitudes.reduce((sum, of, k) => sum + of * Math.cos(2 * Math.PI * (k + 1) * cycles), 5);
  const at = Float64Array.from({ length: Math.floor(length / 5) }, (_, hop) => 5 * hop);
  return {
    samples: Float32Array.from({ length }, (_, i) => current(angleAt(i))),
    track: { at, cycles: at.map(angleAt), amplitude: at.map(() => amplitudes[0]) },
  };
}

/** How far cycles differ from the first at the same angle, at most. */
function unlike({ values, points }: OrderSignal): number {
  // The outermost are put between fewer samples.
  return values.reduce(
    (most, value, i) =>
      i < 3 * points || i > values.length - 3 * points
        ? most
        : Math.max(most, Math.abs(value - values[3 * points + (i % points)])),
    0,
  );
}

it.each([3.6, 4.8, 5.3, 6.37, 9.1, 13.7])(
  'shows the cycles of a current alike that are, whatever is folded back: %d samples a cycle',
  (samplesACycle) => {
    const { samples, track } = sampled(samplesACycle, 0.05, [1, 0.2, 0.1, 0.15, 0.1, 0.05]);
    expect(unlike(unfolded(samples, track, samplesACycle)(POINTS))).toBeLessThan(0.15);
  },
);

it('leaves what differs from cycle to cycle', () => {
  // Ten cycles make a turn, of which one is lower.
  const { samples, track } = sampled(6.37, 0, [1, 0.2]);
  const low = samples.map((value, i) => (Math.floor(i / 6.37) % 10 === 3 ? value - 0.5 : value));
  const { values } = unfolded(low, track, 6.37)(POINTS);
  const means = Array.from({ length: 10 }, (_, k) => meanOf(values.subarray((100 + k) * POINTS, (101 + k) * POINTS)));
  const [lowest, next] = [...means].sort((a, b) => a - b);
  expect(next - lowest).toBeGreaterThan(0.35);
});

it('differs by what is folded where samples are put between as they are', () => {
  const { samples, track } = sampled(4.8, 0.03, [1, 0.3, 0.2, 0.1]);
  expect(unlike(toOrder(samples, track, POINTS))).toBeGreaterThan(0.3);
  expect(unlike(unfolded(samples, track, 4.8)(POINTS))).toBeLessThan(0.05);
});
