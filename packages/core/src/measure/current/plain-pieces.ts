import { MAINS_HARMONICS, MAINS_HZ, removeMains } from '../../signal/mains.js';
import { boxDecimate } from '../../signal/blocks.js';
import { mainsBesideRotor, OWN_LINES } from './mains-beside-rotor.js';
import type { SampleRange } from './runs.js';
import type { WorkingSignal } from './working-signal.js';

/** The steady part as it was recorded, with what makes amperes of it. */
export interface Recorded {
  readonly samples: Float32Array;
  readonly sampleRateHz: number;
  readonly range: SampleRange;
  readonly zero: number;
  readonly inverted: boolean;
  /** Noise of the mean of `factor` neighbouring samples, A. */
  noiseA(factor: number): number;
  /** That is from where the pump is off. */
  readonly hasQuiet: boolean;
}

/** A piece of the steady part at the recorder's own rate: upright, from zero, without the mains, A. */
export interface PlainPiece {
  readonly current: Float32Array;
  /** Its first sample, from the begin of the part. */
  readonly at: number;
}

/** The mains are told from a rotor's lines within so long; of a long part some such pieces are looked at, spread evenly. */
const PIECE_S = 1.6;
const MOST_PIECES = 4;
const MOST_SAMPLES = 1_000_000;

/** A rotor whose turn is known. */
export interface Rotor {
  /** Turns a second. */
  readonly hz: number;
  /** Its angle at a sample of the steady part, turns. */
  turnAt(sample: number): number;
}

/**
 * @param signal the same part at its working rate, where the mains are fitted
 * @param rotor whose own lines are left to it where the mains' lie among them
 */
export function plainPieces(recorded: Recorded, signal: WorkingSignal, rotor: Rotor | undefined): PlainPiece[] {
  const { samples, sampleRateHz, range, zero, inverted } = recorded;
  const { factor } = signal;
  const whole = signal.current.length * factor;
  const length = factor * Math.floor(Math.min(whole, PIECE_S * sampleRateHz, MOST_SAMPLES) / factor);
  const count = Math.max(1, Math.min(MOST_PIECES, Math.floor(MOST_SAMPLES / length), Math.floor(whole / length)));
  const isCovered = rotor !== undefined && covers(rotor.hz, length / sampleRateHz);
  return Array.from({ length: count }, (_, i) => {
    // A single one is of the middle.
    const share = count === 1 ? 0.5 : i / (count - 1);
    const at = factor * Math.round((share * (whole - length)) / factor);
    const sign = inverted ? -1 : 1;
    const current = samples.subarray(range.from + at, range.from + at + length).map((value) => sign * (value - zero));
    if (isCovered) takeBesideRotor(current, sampleRateHz, (sample) => rotor.turnAt(at + sample));
    else takeMains(current, signal, at);
    return { current, at };
  });
}

/** A Hann window leaves next to nothing of a tone that lies so many widths of a piece's resolution away. */
const PARTED = 4;

/** Whether a rotor's own lines lie on the mains'. */
function covers(turnHz: number, durationS: number): boolean {
  return MAINS_HZ.some((mains) =>
    MAINS_HARMONICS.some((harmonic) => {
      const hz = harmonic * mains;
      const of = Math.max(1, Math.round(hz / turnHz));
      return of <= OWN_LINES && Math.abs(hz - of * turnHz) < PARTED / durationS;
    }),
  );
}

/** Samples a second that hold the mains' harmonics, and fold no hump onto them. */
const ENOUGH_HZ = 5000;

function takeBesideRotor(current: Float32Array, sampleRateHz: number, turnAt: (sample: number) => number): void {
  const factor = Math.max(1, Math.floor(sampleRateHz / ENOUGH_HZ));
  const few = boxDecimate(current, 0, current.length, factor);
  const middle = (i: number) => (i + 0.5) * factor - 0.5;
  for (const { hz, cosine, sine } of mainsBesideRotor(few, sampleRateHz / factor, (i) => turnAt(middle(i)))) {
    const turn = (2 * Math.PI * hz) / sampleRateHz;
    for (let i = 0; i < current.length; i++) {
      const angle = turn * (i - middle(0));
      current[i] -= cosine * Math.cos(angle) + sine * Math.sin(angle);
    }
  }
}

/** Takes off what the mains make of the piece at its working rate, between whose samples they are a straight line. */
function takeMains(current: Float32Array, { current: slow, sampleRateHz, factor }: WorkingSignal, at: number): void {
  const part = slow.subarray(at / factor, (at + current.length) / factor);
  const without = part.slice();
  if (!removeMains(without, sampleRateHz)) return;
  const wave = part.map((value, i) => value - without[i]);
  for (let i = 0; i < current.length; i++) {
    const place = Math.min(wave.length - 1, Math.max(0, (i + 0.5) / factor - 0.5));
    const before = Math.floor(place);
    const after = Math.min(wave.length - 1, before + 1);
    current[i] -= wave[before] + (place - before) * (wave[after] - wave[before]);
  }
}
