import { median } from '../../signal/levels.js';
import type { Range } from '../../signal/ranges.js';
import { DRIFT_A } from './explanation.js';

/** A record's course by blocks without spikes, and the pump that it shows. */
interface Seen {
  readonly course: Float64Array;
  readonly sign: 1 | -1;
  readonly draw: number;
  /** Of a block's mean. */
  readonly noise: number;
  /** Blocks of the slowest turn; half of one is a period of the mains or nearly. */
  readonly aTurn: number;
}

/** Of the draw, and about as much as the mean may be wrong: an off that comes back by more isn't at its zero yet. */
const FADES_SHARE = 0.015;
/** So many of its deviations noise throws a block's mean off at times. */
const IN_NOISE = 4;
const PARTS = 3;

/** Whether an off after a run comes back towards it: a coasting pump's current fades, and the zero is further on. */
export function comesBack(off: Range, seen: Seen, share = FADES_SHARE): boolean {
  return off.from > 0 && isLong(off, seen) && goesForward(off, seen, share);
}

/** Whether the thirds of an off are long enough to be told from each other. */
function isLong({ from, to }: Range, { aTurn }: Seen): boolean {
  return Math.floor((to - from) / PARTS) >= aTurn / 2;
}

function goesForward({ from, to }: Range, { course, sign, draw, noise }: Seen, share: number): boolean {
  const size = Math.floor((to - from) / PARTS);
  const level = (at: number) => median(course.subarray(at, at + size));
  return sign * (level(to - size) - level(from)) > Math.max(share * draw, IN_NOISE * noise);
}

/**
 * What shows the zero best of where a pump is off: the longest rest, or the end of what comes back to it. No off lies forward of the
 * zero, so what lies further back than a clamp wanders is a pump that coasts. But what the record begins with, and holds, is no coasting
 * pump: what lies forward of that lets some current through, as a bad bar under a brush does before the rotor moves.
 */
export function showsZero(rests: readonly Range[], seen: Seen): Range | undefined {
  const longest = (some: readonly Range[]) =>
    some.reduce<Range | undefined>((a, b) => (!a || b.to - b.from > a.to - a.from ? b : a), undefined);
  const forward = rests.map(({ from, to }) => seen.sign * median(seen.course.subarray(from, to)));
  const head = rests.findIndex(
    (rest) => rest.from === 0 && isLong(rest, seen) && !goesForward(rest, seen, FADES_SHARE),
  );
  const foremost = head < 0 ? Math.max(...forward) : forward[head];
  const atZero = rests.filter((_, i) => Math.abs(foremost - forward[i]) <= DRIFT_A);
  // An off after a run that is too short to tell may fade; one before any run doesn't.
  const shows = ({ from, to }: Range) => (from === 0 ? to : (to - from) / PARTS) >= seen.aTurn / 2;
  const mayBe = atZero.filter((rest) => !comesBack(rest, seen));
  const settled = longest(mayBe.filter(shows)) ?? longest(mayBe);
  const fading = longest(atZero);
  return settled ?? (fading && { from: fading.to - Math.floor((fading.to - fading.from) / PARTS), to: fading.to });
}
