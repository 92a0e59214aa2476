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
 * @param startAt sample about which the line has that frequency: it is followed from there both ways
 */
export function trackPhase(
  current: CurrentView,
  sampleRateHz: number,
  startHz: number,
  cyclesAWindow: number,
  startAt = 0,
): PhaseTrack {
  const width = Math.min(current.length, Math.max(8, Math.round((cyclesAWindow * sampleRateHz) / startHz)));
  const hop = Math.max(1, Math.floor(width / 4));
  const hops = Math.max(1, 1 + Math.floor((current.length - width) / hop));
  const window = hann(width);
  const track: PhaseTrack = {
    at: Float64Array.from({ length: hops }, (_, h) => h * hop + (width - 1) / 2),
    cycles: new Float64Array(hops),
    amplitude: new Float64Array(hops),
  };
  const read = windowReader(current, width);
  const first = Math.min(hops - 1, Math.max(0, Math.round((startAt - width / 2) / hop)));
  const begin = demodulate(read(first * hop, 1), window, startHz / sampleRateHz);
  track.cycles[first] = begin.phase;
  track.amplitude[first] = begin.amplitude;
  for (const way of [1, -1] as const) {
    let frequency = startHz / sampleRateHz;
    let usual = begin.amplitude;
    for (let h = first + way; h >= 0 && h < hops; h += way) {
      const line = demodulate(read(h * hop, way), window, frequency);
      track.amplitude[h] = line.amplitude;
      const expected = track.cycles[h - way] + way * frequency * hop;
      const slip = line.phase - expected - Math.round(line.phase - expected);
      const held = line.amplitude < LOST * usual;
      track.cycles[h] = expected + (held ? 0 : slip);
      if (held) continue;
      usual += 0.05 * (line.amplitude - usual);
      const limit = LARGEST_CHANGE * frequency;
      frequency += Math.max(-limit, Math.min(limit, (way * 0.5 * slip) / hop));
    }
  }
  return track;
}

/** Reads windows one after the other, either way, many at a time. */
function windowReader(current: CurrentView, width: number): (start: number, way: 1 | -1) => Float32Array {
  let part = current.read(0, 0);
  let from = 0;
  return (start, way) => {
    if (start < from || start + width > from + part.length) {
      const length = Math.max(width, READ_SAMPLES);
      from = way > 0 ? start : Math.max(0, start + width - length);
      part = current.read(from, Math.min(current.length, from + length));
    }
    return part.subarray(start - from, start - from + width);
  };
}

/** Phase (cycles, at the window's centre) and amplitude of a windowed line. */
function demodulate(samples: Float32Array, window: Float64Array, frequency: number) {
  const { re, im } = toneSum(samples, 0, window, frequency);
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

/** Frequency of the line about a sample, cycles a sample: over the hops beside it. */
export function frequencyAt({ at, cycles }: PhaseTrack, sample: number): number | undefined {
  if (at.length < 2) return undefined;
  const place = Math.round((sample - at[0]) / (at[1] - at[0]));
  const from = Math.min(at.length - 2, Math.max(0, place - 1));
  const to = Math.min(at.length - 1, Math.max(from + 1, place + 1));
  return (cycles[to] - cycles[from]) / (at[to] - at[from]);
}
