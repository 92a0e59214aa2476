/** Noise that moves fewer of the samples than this shows no limit: a slow curve rests on a coarse recorder's steps as well. */
const MOST_EQUAL = 0.5;
/** So much of the record has to lie between its ends, or the noise there isn't known. */
const LEAST_BETWEEN = 0.5;
/** So improbable it is that noise alone writes an extreme value so often in a row, anywhere in the record. */
const BY_CHANCE = 1e-6;

/** Noise turns round at two samples in three (a textbook's count of turning points), a curve that a recorder follows closely at hardly any. */
const LEAST_TURNS = 0.2;
/** A curve passes its top in little longer than the step below it; one that is cut off there stays for so many times longer. */
const LONGER = 4;

/** So many samples show how a record's noise moves them. */
const LOOKED_AT = 1_000_000;

/** Which end of a record is cut off flat. */
export interface Limited {
  readonly top: boolean;
  readonly bottom: boolean;
}

/**
 * Whether a record is cut off flat at its highest or lowest value. Where noise moves most samples, an extreme value comes
 * back in row n times with the n-th power of the share of equal neighbours elsewhere; a limit writes it again and again. A curve
 * without noise has no row of chance, and rests at its top for as long as it takes to turn: it is cut off where that is much longer than
 * it takes for the step below.
 *
 * @param chunks the record, in order
 * @param extremes its lowest and highest value
 */
export function limitedAt(
  chunks: Iterable<Float32Array>,
  { min, max }: { readonly min: number; readonly max: number },
): Limited {
  const noise = { equal: 0, others: 0, turns: 0 };
  const top = new End(max, 1);
  const bottom = new End(min, -1);
  let count = 0;
  for (const chunk of chunks) {
    if (count < LOOKED_AT) lookBetween(chunk, min, max, noise);
    lookAtEnds(chunk, top, bottom, count);
    count += chunk.length;
  }
  const share = Math.max(noise.equal, 1) / Math.max(noise.others, 1);
  const moves = noise.others > LEAST_BETWEEN * Math.min(count, LOOKED_AT) && share < MOST_EQUAL;
  const isCurve = noise.turns < LEAST_TURNS * noise.others;
  const least = moves ? 1 + Math.log(BY_CHANCE / count) / Math.log(share) : Infinity;
  const isLimit = ({ longest, atEnd, beside }: End) => longest > least && (!isCurve || atEnd > LONGER * beside);
  return { top: isLimit(top), bottom: isLimit(bottom) };
}

/** Of the samples between the ends: how many there are, how many are like the one before, and at how many the course turns round. */
function lookBetween(
  chunk: Float32Array,
  min: number,
  max: number,
  noise: { equal: number; others: number; turns: number },
): void {
  for (let i = 1; i < chunk.length; i++) {
    const value = chunk[i];
    if (value === min || value === max) continue;
    noise.others++;
    if (value === chunk[i - 1]) noise.equal++;
    else if (i + 1 < chunk.length && value > chunk[i - 1] === value > chunk[i + 1] && value !== chunk[i + 1])
      noise.turns++;
  }
}

/** What lies between both ends and what is next to them says nothing; a long record has many samples, nearly all of them such. */
function lookAtEnds(chunk: Float32Array, top: End, bottom: End, first: number): void {
  let [high, low] = [top.next, bottom.next];
  for (let i = 0; i < chunk.length; i++) {
    const value = chunk[i];
    if (value < high && value > low) continue;
    top.take(value, first + i);
    bottom.take(value, first + i);
    high = top.next;
    low = bottom.next;
  }
}

/** How long a record stands at its highest or lowest value, and at the one next to it. */
class End {
  /** Values in row, at most. */
  longest = 0;
  atEnd = 0;
  beside = 0;
  next: number;
  private row = 0;
  private last = -1;

  /** @param sign 1 for the highest value, -1 for the lowest */
  constructor(
    private readonly extreme: number,
    private readonly sign: 1 | -1,
  ) {
    this.next = -sign * Infinity;
  }

  take(value: number, at: number): void {
    if (value === this.extreme) {
      this.atEnd++;
      this.row = this.last === at - 1 ? this.row + 1 : 1;
      this.last = at;
      if (this.row > this.longest) this.longest = this.row;
    } else if (value === this.next) this.beside++;
    else if (this.sign * value > this.sign * this.next) {
      this.next = value;
      this.beside = 1;
    }
  }
}
