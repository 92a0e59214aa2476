import type { Role } from '../capture/capture.js';
import type { Signal } from '../capture/signal-record.js';
import { chunksOf } from '../capture/source.js';
import { COMMON_PRACTICE, finding, type Finding } from '../limits/limits.js';
import { limitedAt } from '../signal/limited.js';

/** A switched line rests at its ends, and a current's first peak is looked at by itself. */
const RESTS_AT_ENDS: ReadonlySet<Role> = new Set<Role>([
  'command_signal',
  'feedback_signal',
  'module_output_voltage',
  'injector_signal',
  'pump_current',
]);
/** Of the span: nothing is as flat as a recorder's own zero with nothing on its lead. */
const NEAR_ZERO = 0.02;

/**
 * Whether a channel ran out of its recorder's range.
 * @param extremes its lowest and highest value
 */
export function cutOff(
  { name, role, unit, source }: Signal,
  extremes: { readonly min: number; readonly max: number },
): Finding[] {
  if (RESTS_AT_ENDS.has(role) || !source.isComplete) return [];
  const { min, max } = extremes;
  const limited = limitedAt(chunksOf(source), extremes);
  const isRest = Math.abs(min) < NEAR_ZERO * (max - min);
  const ends = [...(limited.top ? [max] : []), ...(limited.bottom && !isRest ? [min] : [])];
  return ends.map((end) => {
    const level = unit === 'Pa' ? `${(end / 1000).toFixed(0)} kPa` : `${Number(end.toPrecision(4))} ${unit}`;
    const text = `“${name}” is cut off flat at ${level}: the recorder or its probe ran out of range, and what lay beyond isn’t on the record. Capture again with a larger range.`;
    const rule = 'Noise never writes the same extreme value again and again';
    return finding('clipped', 'keep-in-mind', text, { rule, source: COMMON_PRACTICE });
  });
}
