import { hann } from '../../signal/spectrum.js';
import { toneSum } from '../../signal/tone.js';
import type { CurrentView } from './current-view.js';

/** The running phase of one spectral line, sampled at even hops. */
export interface PhaseTrack {
  /** Sample index of each hop's centre. */
  readonly at: Float64Array;
  /** Unwrapped phase at each hop, in cycles. */
  readonly cycles: Float64Array;
  /** Strength of the line at each hop. */
  readonly amplitude: Float64Array;
}

/** The frequency may change this much from one hop to the next; faster is losing the line, not speed. */
const LARGEST_CHANGE = 0.01;
/** Many windows at a time. */
const READ_SAMPLES = 262_144;
/** Hops with less than this share of the usual strength hold the last frequency. */
const LOST = 0.25;

/**
 * Follows a line near `startHz` through a signal: demodulation over a Hann window of `cyclesAWindow` cycles,
 * whose phase advance from hop to hop corrects the frequency for the next hop.
 * The window is wide enough to keep neighbouring rotor lines out and short enough to follow the speed.
 */
export function trackPhase(
  current: CurrentView,
  sampleRateHz: number,
  startHz: number,
  cyclesAWindow: number,
): PhaseTrack {
  const width = Math.min(current.length, Math.max(8, Math.round((cyclesAWindow * sampleRateHz) / startHz)));
  const hop = Math.max(1, Math.floor(width / 4));
  const hops = Math.max(1, 1 + Math.floor((current.length - width) / hop));
  const window = hann(width);
  const track: PhaseTrack = {
    at: new Float64Array(hops),
    cycles: new Float64Array(hops),
    amplitude: new Float64Array(hops),
  };
  let frequency = startHz / sampleRateHz;
  let usual = 0;
  let part = current.read(0, 0);
  let readFrom = 0;
  for (let h = 0; h < hops; h++) {
    const start = h * hop;
    if (start + width > readFrom + part.length) {
      readFrom = start;
      part = current.read(start, Math.min(current.length, start + Math.max(width, READ_SAMPLES)));
    }
    const line = demodulate(part, start - readFrom, window, frequency);
    track.at[h] = start + (width - 1) / 2;
    track.amplitude[h] = line.amplitude;
    if (h === 0) {
      track.cycles[0] = line.phase;
      usual = line.amplitude;
      continue;
    }
    const expected = track.cycles[h - 1] + frequency * hop;
    const slip = line.phase - expected - Math.round(line.phase - expected);
    const held = line.amplitude < LOST * usual;
    track.cycles[h] = expected + (held ? 0 : slip);
    if (held) continue;
    usual += 0.05 * (line.amplitude - usual);
    const limit = LARGEST_CHANGE * frequency;
    frequency += Math.max(-limit, Math.min(limit, (0.5 * slip) / hop));
  }
  return track;
}

/** Phase (cycles, at the window's centre) and amplitude of a windowed line. */
function demodulate(samples: Float32Array, start: number, window: Float64Array, frequency: number) {
  const { re, im } = toneSum(samples, start, window, frequency);
  const phase = Math.atan2(im, re) / (2 * Math.PI) + (frequency * (window.length - 1)) / 2;
  return { phase: phase - Math.round(phase), amplitude: (4 * Math.hypot(re, im)) / window.length };
}

/** Phase in cycles at any sample, linear between hops and continued beyond the ends. */
export function phaseAt(track: PhaseTrack, sample: number): number {
  const { at, cycles } = track;
  if (at.length === 1) return cycles[0];
  const hop = at[1] - at[0];
  const i = Math.min(at.length - 2, Math.max(0, Math.floor((sample - at[0]) / hop)));
  return cycles[i] + ((sample - at[i]) / hop) * (cycles[i + 1] - cycles[i]);
}
