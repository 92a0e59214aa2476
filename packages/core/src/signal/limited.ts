/** Noise that moves fewer of the samples than this shows no limit: a slow curve rests on a coarse recorder's steps as well. */
const MOST_EQUAL = 0.5;
/** So much of the record has to lie between its ends, or the noise there isn't known. */
const LEAST_BETWEEN = 0.5;
/** So improbable it is that noise alone writes an extreme value so often in a row, anywhere in the record. */
const BY_CHANCE = 1e-6;

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
  let [previous, length, longestTop, longestBottom, equal, others, count] = [NaN, 0, 0, 0, 0, 0, 0];
  for (const chunk of chunks) {
    for (let i = 0; i < chunk.length; i++) {
      const value = chunk[i];
      length = value === previous ? length + 1 : 1;
      if (value === max) {
        if (length > longestTop) longestTop = length;
      } else if (value === min) {
        if (length > longestBottom) longestBottom = length;
      } else {
        others++;
        if (length > 1) equal++;
      }
      previous = value;
    }
    count += chunk.length;
  }
  const share = Math.max(equal, 1) / Math.max(others, 1);
  const isNoisy = others > LEAST_BETWEEN * count && share < MOST_EQUAL;
  const least = isNoisy ? 1 + Math.log(BY_CHANCE / count) / Math.log(share) : Infinity;
  return { top: longestTop > least, bottom: longestBottom > least };
}
