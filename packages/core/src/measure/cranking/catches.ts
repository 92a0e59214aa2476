import { median, quantile } from '../../signal/levels.js';
import type { Range } from '../../signal/ranges.js';
import { thin } from '../../signal/thin.js';

/** Shorter than any start, long beside a compression and a pump that comes up to speed, s. */
const LOOK_S = 0.25;
const LOOKS_A_WIDTH = 5;
/** A control unit feeds the pump once it sees the engine turn: of what lies before that so much is cranked as well, s. */
const FED_AFTER_S = 0.1;
/** Less than so much of what it usually has is off: a prime's pause, or a contact that opens. */
const ON_SHARE = 0.4;
/** Of what a starter leaves: a pump that was switched off falls through all of this as it coasts. */
const COASTS_SHARE = 0.6;
/** A battery that nothing charges has no more, V (lead-acid at rest 12.7, from memory). */
const AT_REST_MOST_V = 13;
/** A starter pulls any battery below this, V (about 10 V is normal: common practice, no published source), and by so much of what it had. */
const CRANKS_BELOW_V = 11.6;
const PULLED_SHARE = 0.06;
/** A starter is rested after so long (common practice, no published source), s. */
const CRANKS_MOST_S = 15;
/** A charging system that takes over lifts the volts by so much above the battery's at rest, within so long. */
const CHARGES_SHARE = 0.03;
const TAKES_OVER_S = 3;
/** Of that time: a pump's own openings are shorter. */
const OPENINGS = 6;
/** And above all that was before, but for a start's first quarter, in which a pump takes less of its feed's volts. */
const ABOVE_ALL = 1.01;
const BUT_FOR = 0.25;

/**
 * Where an engine is cranked and catches, by levels alone: volts that are pulled down as a starter does, and charged afterwards above
 * all that was before. For recorders too coarse for compressions, and cranks of too few of them.
 *
 * @param values volts, averaged over humps
 * @param hz values a second
 * @returns what the starter pulls down, as indices; undefined where no engine catches
 */
export function catchIn(values: Float32Array, hz: number): Range | undefined {
  const least = ON_SHARE * quantile(thin(values, LOOKED_AT), 0.9);
  const on = Int32Array.from(values.keys()).filter((i) => values[i] > least);
  const width = Math.round(LOOK_S * hz);
  const hop = Math.max(1, Math.round(width / LOOKS_A_WIDTH));
  const count = Math.floor((on.length - width) / hop) + 1;
  // Where nothing is ever pulled so low, as in hours of running, no look is worth its time.
  if (count < 1 || !on.some((i) => values[i] <= CRANKS_BELOW_V)) return undefined;
  const levels = new Float64Array(count);
  const seen = new Float64Array(width);
  for (let k = 0; k < count; k++) {
    for (let i = 0; i < width; i++) seen[i] = values[on[k * hop + i]];
    levels[k] = median(seen);
  }
  const most = Math.round((TAKES_OVER_S * hz) / hop);
  const longest = Math.round((CRANKS_MOST_S * hz) / hop);
  for (let k = LOOKS_A_WIDTH; k < levels.length; k++) {
    const before = levels[k - LOOKS_A_WIDTH];
    if (before > AT_REST_MOST_V || levels[k] > Math.min(CRANKS_BELOW_V, (1 - PULLED_SHARE) * before)) continue;
    const isUp = (volts: number) => volts > (1 - PULLED_SHARE / 2) * before;
    let back = k + 1;
    // A pump that opens lets its feed rise for a moment, though the starter goes on.
    const last = Math.min(levels.length, k + longest);
    for (let look = k; look < last && look - back < most / OPENINGS; look++) if (!isUp(levels[look])) back = look + 1;
    if (back >= last) continue;
    // What is charged stays so; a pump that comes up to speed lets its feed rise for a moment.
    const charged = levels[Math.min(back + most, levels.length - 1)];
    if (charged > Math.max((1 + CHARGES_SHARE) * before, ABOVE_ALL * mostBefore(levels.subarray(0, k)))) {
      // Back from the midst of the first low look, as long as nothing is off, or a pump that was coasts.
      const isPulled = (volts: number) => volts > COASTS_SHARE * levels[k] && !isUp(volts);
      let begin = k * hop + (width >> 1);
      while (begin > 0 && on[begin - 1] === on[begin] - 1 && isPulled(values[on[begin - 1]])) begin--;
      // A pump that comes up to speed pulls its feed down by and by.
      const isOn = begin > 0 && on[begin - 1] === on[begin] - 1;
      const around = (from: number) =>
        median(Float64Array.from(on.subarray(Math.max(0, from), from + hop), (i) => values[i]));
      if (isOn && around(begin - hop) - around(begin) < (PULLED_SHARE / 2) * before) continue;
      const end = on.subarray(back * hop).find((i) => isUp(values[i]));
      const offUntil = begin > 0 ? on[begin - 1] + 1 : 0;
      return { from: Math.max(offUntil, on[begin] - Math.round(FED_AFTER_S * hz)), to: end ?? on[back * hop] };
    }
  }
  return undefined;
}

const mostBefore = (levels: Float64Array) => quantile(thin(levels, LOOKED_AT), 1 - BUT_FOR);

/** Enough to know a level by. */
const LOOKED_AT = 4096;
