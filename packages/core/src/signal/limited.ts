/** Noise that moves fewer of the samples than this shows no limit: a slow curve rests on a coarse recorder's steps as well. */
const MOST_EQUAL = 0.5;
/** So much of the record has to lie between its ends, or the noise there isn't known. */
const LEAST_BETWEEN = 0.5;
/** So improbable it is that noise alone writes an extreme value so often in a row, anywhere in the record. */
const BY_CHANCE = 1e-6;

/** So many samples show how a record's noise moves them. */
const LOOKED_AT = 1_000_000;

/** Which end of a record is cut off flat. */
export interface Limited {
  readonly top: boolean;
  readonly bottom: boolean;
}

/**
 * Whether a record is cut off flat at its highest or lowest value. Where noise moves most samples, an extreme value comes
 * back in row n times with the n-th power of the share of equal neighbours elsewhere; a limit writes it again and again.
 *
 * @param chunks the record, in order
 * @param extremes its lowest and highest value
 */
export function limitedAt(
  chunks: Iterable<Float32Array>,
  { min, max }: { readonly min: number; readonly max: number },
): Limited {
  const noise = { equal: 0, others: 0 };
  const ends = { top: 0, longestTop: 0, bottom: 0, longestBottom: 0 };
  let count = 0;
  for (const chunk of chunks) {
    if (count < LOOKED_AT) lookBetween(chunk, min, max, noise);
    lookAtEnds(chunk, min, max, ends);
    count += chunk.length;
  }
  const share = Math.max(noise.equal, 1) / Math.max(noise.others, 1);
  const isNoisy = noise.others > LEAST_BETWEEN * Math.min(count, LOOKED_AT) && share < MOST_EQUAL;
  const least = isNoisy ? 1 + Math.log(BY_CHANCE / count) / Math.log(share) : Infinity;
  return { top: ends.longestTop > least, bottom: ends.longestBottom > least };
}

/** Of the samples between the ends: how many there are, and how many are like the one before. */
function lookBetween(chunk: Float32Array, min: number, max: number, noise: { equal: number; others: number }): void {
  for (let i = 1; i < chunk.length; i++) {
    const value = chunk[i];
    if (value === min || value === max) continue;
    noise.others++;
    if (value === chunk[i - 1]) noise.equal++;
  }
}

interface Ends {
  /** Values in row at either end, up to now and at most. */
  top: number;
  longestTop: number;
  bottom: number;
  longestBottom: number;
}

/** In locals: a long record has many samples. */
function lookAtEnds(chunk: Float32Array, min: number, max: number, ends: Ends): void {
  let { top, longestTop, bottom, longestBottom } = ends;
  for (let i = 0; i < chunk.length; i++) {
    const value = chunk[i];
    if (value < max) top = 0;
    else if (++top > longestTop) longestTop = top;
    if (value > min) bottom = 0;
    else if (++bottom > longestBottom) longestBottom = bottom;
  }
  Object.assign(ends, { top, longestTop, bottom, longestBottom });
}
