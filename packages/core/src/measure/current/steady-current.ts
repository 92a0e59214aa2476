import type { Blocks } from '../../signal/blocks.js';
import { meanOf } from '../../signal/levels.js';
import { slidingRange } from '../../signal/ranges.js';

/** Periods of either mains, and many humps. */
const PART_S = 0.05;
/** An input that passes no steady current (0.1 Hz and more) has lost a sixth of a level by then. */
const HELD_S = 0.3;
const HELD_WITHIN = 0.1;

/**
 * Whether a record holds a level that no clamp is off by: then steady current passes, and whatever else the record shows is no
 * input that forgets.
 * @param blocks of the whole record, `blocksHz` a second
 * @param mostOffsetA no clamp is off by as much
 */
export function passesSteadyCurrent(blocks: Blocks, blocksHz: number, mostOffsetA: number): boolean {
  const together = Math.max(1, Math.round(PART_S * blocksHz));
  const mean = meansOf(blocks.mean, together);
  const width = Math.max(2, Math.round((HELD_S * blocksHz) / together));
  return slidingRange(mean, width).some((range, at) => {
    const level = meanOf(mean.subarray(at, at + width));
    return Math.abs(level) > mostOffsetA && range < HELD_WITHIN * Math.abs(level);
  });
}

/** Means of so many neighbours at a time. */
function meansOf(values: Float64Array, together: number): Float64Array {
  return Float64Array.from({ length: Math.floor(values.length / together) }, (_, i) =>
    meanOf(values.subarray(i * together, (i + 1) * together)),
  );
}
