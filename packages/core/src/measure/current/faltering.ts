import { median } from '../../signal/levels.js';
import { rangesWhere, type Range } from '../../signal/ranges.js';

/** A record's course, of which a part may be an off or a pump that has less to do. */
export interface Lower {
  /** By blocks, without spikes. */
  readonly course: Float64Array;
  /** Blocks within stretches that are flat for longer than a turn. */
  readonly flat: readonly boolean[];
  /** Blocks of the slowest turn. */
  readonly aTurn: number;
  /** Whether humps pass in a range of blocks. */
  readonly humpsPassIn: (range: Range) => boolean;
}

/** Of its level: what rests lower for longer than a turn may be off. */
const LOW_SHARE = 0.5;
/** A switch and the circuit's time constant go most of the way within so much of the slowest turn (12 ms), and so many blocks. */
const AT_ONCE_OF_A_TURN = 0.3;
const AT_ONCE_BLOCKS = 3;
const MOST_OF_THE_WAY = 0.8;
/** A switch's edge lies in so many. */
const EDGE_BLOCKS = 1;

/**
 * Whether the current rests at less than half its level as it does when it is switched off: for longer than a turn, flat, without
 * humps, gone at once and back at once. A pump that runs dry, clogs or loses a brush for a while draws as little; it still turns,
 * and fuel and a rotor's inertia take their time.
 * @param isNear whether a level may be the clamp's zero
 */
export function restsLow(lower: Lower, isNear: (level: number) => boolean): boolean {
  const { course, flat } = lower;
  const level = median(course);
  const low = rangesWhere(flat.map((isFlat, i) => isFlat && isNear(course[i]) && course[i] / level < LOW_SHARE));
  return low.some((range) => isSwitchedOff(range, level, lower));
}

/** Whether a range of blocks is off, and not a pump that has less to do. */
export function isSwitchedOff(range: Range, level: number, { course, aTurn, humpsPassIn }: Lower): boolean {
  const rest = median(course.subarray(range.from, range.to));
  const isUp = (i: number) => (course[i] - rest) / (level - rest) > MOST_OF_THE_WAY;
  const reach = Math.max(AT_ONCE_BLOCKS, Math.round(AT_ONCE_OF_A_TURN * aTurn));
  const within = (from: number, to: number) => {
    for (let i = Math.max(0, from); i < Math.min(course.length, to); i++) if (isUp(i)) return true;
    return false;
  };
  const wentAtOnce = range.from === 0 || within(range.from - reach, range.from);
  const cameAtOnce = range.to === course.length || within(range.to, range.to + reach);
  // A block in which it is switched holds some of the running current: its first peak would pass for humps.
  const inside = {
    from: range.from + (range.from === 0 ? 0 : EDGE_BLOCKS),
    to: range.to - (range.to === course.length ? 0 : EDGE_BLOCKS),
  };
  return wentAtOnce && cameAtOnce && !humpsPassIn(inside);
}
