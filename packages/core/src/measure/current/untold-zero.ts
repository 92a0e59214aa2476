import { quantile } from '../../signal/levels.js';
import { thin } from '../../signal/thin.js';
import { MOST_OFFSET_A, WRONG_SIDE } from './explanation.js';
import type { MeasuredRun, Recording } from './measure-runs.js';
import { MOST_OF_A_SOUND_PUMP } from './ripple.js';
import { everySecondLow } from './rotor-map.js';

/** A clamp's drift and noise take a current that falls to nothing this far below it at times, A. */
const BELOW_NOTHING_A = 0.3;
/** So many samples show how far down the current goes. */
const LOOKED_AT = 65_536;

/** What is left of a record's runs where nothing shows the clamp's zero. */
interface BesideUntoldZero {
  readonly measured: MeasuredRun[];
  /** What shows may be the clamp's own: then nobody knows which way it flows. */
  readonly isSmall?: boolean;
  /** The running current reads so far below nothing, A. */
  readonly belowZeroA?: number;
  /** Why its levels can't be told. */
  readonly why?: string;
}

/**
 * The whole of a small level may be the clamp's own, and it is where current flows backwards by it, or where humps would be higher
 * than those of any sound pump that draws so little: no levels are told then.
 */
export function besideUntoldZero(seen: readonly MeasuredRun[], recording: Recording): BesideUntoldZero {
  const measured = seen.map((one) => (isSmall(one) ? withoutLevel(one) : one));
  const belowZeroA = Math.max(...seen.map((one) => readsBelow(one, recording)));
  if (belowZeroA > BELOW_NOTHING_A) {
    return {
      measured: measured.map(withoutNumbers),
      isSmall: seen.some(isSmall),
      belowZeroA,
      why: 'current reads below nothing, so the clamp’s zero is off, and every level with it; state its zero',
    };
  }
  const uneven = measured.find(({ pattern, steady }) => pattern === 'even' && isTooUneven(steady));
  if (!uneven) return { measured, isSmall: seen.some(isSmall) };
  return {
    measured: measured.map(withoutNumbers),
    isSmall: true,
    why: `the humps are ${uneven.steady?.ripplePercent.toFixed(0)} % of the draw that shows, more than those of any sound pump: the clamp’s zero is off, or its input is AC-coupled. Set the input to DC and capture again from before key-on, or state the clamp’s zero`,
  };
}

const isSmall = ({ steady }: MeasuredRun) => steady !== undefined && steady.meanA < MOST_OFFSET_A;
const isTooUneven = (steady: MeasuredRun['steady']) =>
  steady !== undefined && steady.meanA < MOST_OFFSET_A && steady.ripplePercent > MOST_OF_A_SOUND_PUMP;

/**
 * Without a level nobody knows how deep a dip goes: only a turn that brings it back shows a dead stretch, and every second bar
 * low is a hump that was cut in two.
 */
export function withoutLevel(one: MeasuredRun): MeasuredRun {
  const { turning, pattern } = one;
  if (!turning) return pattern === 'dead-stretch' ? { ...one, pattern: 'irregular' } : one;
  const { map, ...others } = turning;
  return map && everySecondLow(map) ? { ...one, turning: others, pattern: 'even' } : one;
}

/** How far below the zero that nothing shows a steady part reads: in its turns' notches, or for longer than by chance, A. */
function readsBelow(
  { steady, turning }: MeasuredRun,
  { samples, sampleRateHz, startS, segments, zero }: Recording,
): number {
  if (!steady) return 0;
  const index = (s: number) => Math.round((s - startS) * sampleRateHz);
  const few = thin(samples.subarray(index(steady.fromS), index(steady.toS)), LOOKED_AT);
  const isBelow = segments.inverted ? quantile(few, 1 - WRONG_SIDE) - zero : zero - quantile(few, WRONG_SIDE);
  return turning ? Math.max(isBelow, -steady.minA) : isBelow;
}

/** Without the levels that a wrong zero makes wrong. */
function withoutNumbers({ steady: _, ...one }: MeasuredRun): MeasuredRun {
  return { ...one, inrush: {} };
}
