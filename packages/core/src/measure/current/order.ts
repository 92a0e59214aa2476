import { phaseAt, type PhaseTrack } from './phase-track.js';

/** A signal resampled to rotor angle: `points` values for each cycle of the tracked line. */
export interface OrderSignal {
  readonly points: number;
  readonly cycles: number;
  readonly values: Float64Array;
}

/** Enough to compare a line's cycles with each other. */
export const POINTS_A_CYCLE = 8;
/** Enough for the humps of a turn that is followed by one line a turn. */
const POINTS_A_TURN = 104;

/** Points a cycle that show what a turn of so many cycles consists of. */
export function pointsFor(cycles: number): number {
  return Math.max(POINTS_A_CYCLE, 2 * Math.ceil(POINTS_A_TURN / cycles / 2));
}

/**
 * Resamples to equal steps of phase (order tracking), so that a changing speed no longer smears the pattern.
 * Cubic (Catmull-Rom) between samples. Cycles begin where the tracked phase is a whole number.
 */
export function toOrder(samples: ArrayLike<number>, track: PhaseTrack, points: number): OrderSignal {
  const firstCycle = Math.ceil(phaseAt(track, 1));
  const lastCycle = Math.floor(phaseAt(track, samples.length - 3));
  const cycles = Math.max(0, lastCycle - firstCycle);
  const values = new Float64Array(cycles * points);
  let hop = 0;
  const { at, cycles: phase } = track;
  for (let i = 0; i < values.length; i++) {
    const wanted = firstCycle + i / points;
    while (hop < at.length - 2 && phase[hop + 1] < wanted) hop++;
    const position =
      at.length === 1 ? 0 : at[hop] + ((wanted - phase[hop]) / (phase[hop + 1] - phase[hop])) * (at[hop + 1] - at[hop]);
    values[i] = cubic(samples, position);
  }
  return { points, cycles, values };
}

function cubic(samples: ArrayLike<number>, position: number): number {
  const i = Math.min(samples.length - 3, Math.max(1, Math.floor(position)));
  const t = position - i;
  const [a, b, c, d] = [samples[i - 1], samples[i], samples[i + 1], samples[i + 2]];
  return b + 0.5 * t * (c - a + t * (2 * a - 5 * b + 4 * c - d + t * (3 * (b - c) + d - a)));
}
