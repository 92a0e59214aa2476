import { withoutPairs, withoutSpikes } from '../../signal/spikes.js';

/** As fine as what falls first has to be told: electricity and fuel part by some milliseconds at least. */
const BLOCK_S = 0.001;

/** Of a switched line a block's mean is off by one sample's level or so: of so many that is little. */
const EVENS_SAMPLES = 200;

/** Hours are cut into blocks of some milliseconds. */
const MOST_BLOCKS = 2_000_000;

/**
 * Samples a block: about a millisecond of them, or one where they come slower.
 * @param periodS of a driver's switching, where the feed is switched: a block holds two of them at least
 */
export function blockSize(sampleRateHz: number, samples: number, periodS = 0): number {
  const periods = periodS > 0 ? Math.max(2 * periodS * sampleRateHz, EVENS_SAMPLES) : 0;
  const wanted = Math.round(Math.max(BLOCK_S * sampleRateHz, periods));
  return Math.max(1, wanted, Math.ceil(samples / MOST_BLOCKS));
}

/** Courses of a record's signals without spikes, each worked out once however often it is looked at. */
export class Courses {
  /** Weak, so that nothing of a long record is kept for its course's sake. */
  private readonly known = new WeakMap<Float32Array, Map<number, Float64Array>>();

  /** @param size samples a block */
  of(samples: Float32Array, size: number): Float64Array {
    const bySize = this.known.get(samples) ?? new Map<number, Float64Array>();
    this.known.set(samples, bySize);
    const course = bySize.get(size) ?? calm(courseOf(samples, size), size);
    bySize.set(size, course);
    return course;
  }
}

/** A signal's course as means over equal blocks; a rest is left out. */
function courseOf(samples: Float32Array, size: number): Float64Array {
  const values = new Float64Array(Math.floor(samples.length / size));
  for (let block = 0, at = 0; block < values.length; block++) {
    let sum = 0;
    for (const end = at + size; at < end; at++) sum += samples[at];
    values[block] = sum / size;
  }
  return values;
}

/** A spike ends within a block, or, where that is one sample of a slow recorder, on the border to the next. */
function calm(course: Float64Array, size: number): Float64Array {
  const singly = withoutSpikes(course);
  return size > 1 ? singly : withoutPairs(singly);
}
