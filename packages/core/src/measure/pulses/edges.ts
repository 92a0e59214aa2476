import { chunksOf, type SampleSource } from '../../capture/source.js';
import type { StateLevels } from './state-levels.js';

/** Crossings of the mid reference level, in samples from the record's start, rising and falling by turns. */
export interface Edges {
  readonly at: Float64Array;
  /** Whether the first one rises. */
  readonly firstRises: boolean;
  /** How long transitions take between the boundaries of the states, samples, on average. */
  readonly transition: number;
}

/** A transition counts when it leaves this share of the amplitude on either side of the middle … */
const HYSTERESIS = 0.2;
/** … or so many times the noise, whichever is more: a normal value is further off once in ten million samples. */
const NOISE_REACH = 5.3;
/** Noisier lines still have to reach nearly their states. */
const MOST_HYSTERESIS = 0.4;
/** Room for so many edges at first; it doubles as they come. */
const FIRST_SIZE = 1024;

/**
 * Finds where a line crosses the middle between its states, between samples by the straight line through them (IEEE Std
 * 181-2011: mid reference level instants, from memory). What doesn't reach the other state is no transition. Where noise
 * crosses several times the middle of the first and the last crossing is taken.
 */
export function findEdges(source: SampleSource, { lowV, highV, noiseV }: StateLevels): Edges {
  const amplitude = highV - lowV;
  const middle = (lowV + highV) / 2;
  const reach = Math.min(MOST_HYSTERESIS * amplitude, Math.max(HYSTERESIS * amplitude, NOISE_REACH * noiseV));
  const upper = middle + reach;
  const lower = middle - reach;
  let at = new Float64Array(FIRST_SIZE);
  let count = 0;
  let firstRises = true;
  let transitions = 0;
  /** Of the last sample that was clearly in a state: which, and where. */
  let isHigh: boolean | undefined;
  let clearAt = 0;
  let firstCrossing = NaN;
  let lastCrossing = NaN;
  let before = NaN;
  let i = 0;
  for (const chunk of chunksOf(source)) {
    for (const value of chunk) {
      if (before < middle !== value < middle && before === before) {
        lastCrossing = i - 1 + (middle - before) / (value - before);
        if (firstCrossing !== firstCrossing) firstCrossing = lastCrossing;
      }
      const nowHigh = value > upper;
      if (nowHigh || value < lower) {
        if (isHigh !== undefined && isHigh !== nowHigh) {
          if (count === at.length) at = grown(at);
          if (count === 0) firstRises = nowHigh;
          at[count++] = (firstCrossing + lastCrossing) / 2;
          transitions += i - clearAt;
        }
        isHigh = nowHigh;
        clearAt = i;
        firstCrossing = NaN;
      }
      before = value;
      i++;
    }
  }
  return { at: at.slice(0, count), firstRises, transition: count > 0 ? transitions / count : 0 };
}

function grown(array: Float64Array): Float64Array<ArrayBuffer> {
  const larger = new Float64Array(2 * array.length);
  larger.set(array);
  return larger;
}
