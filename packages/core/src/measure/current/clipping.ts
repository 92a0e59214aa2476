import type { SampleRange } from './runs.js';

/** At the limit for so long; a first peak is over in less, and a coarse recorder's step isn't. */
const LEAST_SAMPLES = 8;
const LEAST_S = 0.0005;
/** A top that lasts so much longer than the level below it is cut off: a curve passes its top no slower than that. */
const LONGER = 4;

/**
 * Whether the record is cut off flat at its highest value. Eight-bit recorders repeat a value all the time; but a curve that
 * rises to a top and falls again spends about as long on the step below it, and a limit holds all that would lie above.
 */
export function isClipped(
  samples: Float32Array,
  { from, to }: SampleRange,
  inverted: boolean,
  sampleRateHz: number,
): boolean {
  const sign = inverted ? -1 : 1;
  let top = -Infinity;
  let below = -Infinity;
  for (let i = from; i < to; i++) {
    const value = sign * samples[i];
    if (value > top) {
      below = top;
      top = value;
    } else if (value < top && value > below) below = value;
  }
  let atTop = 0;
  let atBelow = 0;
  let longest = 0;
  let length = 0;
  for (let i = from; i < to; i++) {
    const value = sign * samples[i];
    if (value === below) atBelow++;
    length = value === top ? length + 1 : 0;
    if (length > 0) atTop++;
    if (length > longest) longest = length;
  }
  const enough = Math.max(LEAST_SAMPLES, LEAST_S * sampleRateHz);
  return longest >= enough && atTop > LONGER * atBelow;
}
