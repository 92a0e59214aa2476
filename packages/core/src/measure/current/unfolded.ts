import { hann } from '../../signal/spectrum.js';
import { toOrder, type OrderSignal } from './order.js';
import { phaseAt, type PhaseTrack } from './phase-track.js';

/** Harmonics are taken off up to so many times the sampling rate: beyond it a clamp lets next to nothing pass. */
const BANDS = 2.5;
/** Higher ones are too faint to matter. */
const MOST_HALVES = 80;

/**
 * A current by the angle of a line, without what a slow recorder makes of it.
 *
 * Harmonics beyond half the sampling rate stand anywhere among the rotor's lines, and what is put between samples few of which make a
 * hump errs by their place in it; over the few turns that a likeness reaches either may make a turn of its own. But at the samples
 * themselves a folded harmonic is what it always was, so many times the line's angle. So the line and its harmonics are fitted there
 * (least squares over the whole stretch; halves as well, since two brushes make humps by turns), only what is left is put between
 * samples, and those that the recorder can follow are added at their angle.
 *
 * @param samples of a stretch, A
 * @param track the line, through the stretch
 * @param samplesACycle of the line, on average
 * @returns by points a cycle, an even number
 */
export function unfolded(
  samples: Float32Array,
  track: PhaseTrack,
  samplesACycle: number,
): (points: number) => OrderSignal {
  const halves = Math.min(MOST_HALVES, Math.ceil(2 * BANDS * samplesACycle));
  const { re, im, rest } = fitHalves(samples, track, halves);
  return (points) => {
    const order = toOrder(rest, track, points);
    const begin = Math.ceil(phaseAt(track, 1));
    const followed = Math.min(halves, Math.floor(samplesACycle), points);
    // Two cycles hold each half of a harmonic a whole number of times.
    const added = Float64Array.from({ length: 2 * points }, (_, i) => {
      const angle = Math.PI * (begin + i / points);
      let sum = re[0];
      for (let k = 1; k <= followed; k++) sum += re[k] * Math.cos(k * angle) + im[k] * Math.sin(k * angle);
      return sum;
    });
    for (let i = 0; i < order.values.length; i++) order.values[i] += added[i % added.length];
    return order;
  };
}

/**
 * Amplitudes of once, twice ... half a line, A, and what they leave. One after the other: where folding lays two of them upon each other,
 * neither is taken off twice.
 */
function fitHalves(samples: Float32Array, track: PhaseTrack, halves: number) {
  const window = hann(samples.length);
  const weight = window.reduce((sum, of) => sum + of, 0) / 2;
  const rest = Float64Array.from(samples);
  const half = rest.map((_, i) => Math.PI * phaseAt(track, i));
  const [stepRe, stepIm] = [half.map(Math.cos), half.map(Math.sin)];
  const [turnRe, turnIm] = [stepRe.map(() => 1), stepIm.map(() => 0)];
  const re = new Float64Array(halves + 1);
  const im = new Float64Array(halves + 1);
  for (let k = 0; k <= halves; k++) {
    let [cosine, sine] = [0, 0];
    for (let i = 0; i < rest.length; i++) {
      const value = window[i] * rest[i];
      cosine += value * turnRe[i];
      sine += value * turnIm[i];
    }
    re[k] = cosine / weight / (k === 0 ? 2 : 1);
    im[k] = sine / weight;
    for (let i = 0; i < rest.length; i++) {
      rest[i] -= re[k] * turnRe[i] + im[k] * turnIm[i];
      const next = turnRe[i] * stepRe[i] - turnIm[i] * stepIm[i];
      turnIm[i] = turnRe[i] * stepIm[i] + turnIm[i] * stepRe[i];
      turnRe[i] = next;
    }
  }
  return { re, im, rest };
}
