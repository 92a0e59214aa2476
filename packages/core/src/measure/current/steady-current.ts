import { toBlocks } from '../../signal/blocks.js';
import { slidingRange } from '../../signal/ranges.js';

/** Periods of either mains, and many humps. */
const BLOCK_S = 0.05;
/** An input that passes no steady current (0.1 Hz and more) has lost a sixth of a level by then. */
const HELD_S = 0.3;
const HELD_WITHIN = 0.1;

/**
 * Whether a record holds a level that no clamp is off by: then steady current passes, and whatever else the record shows is no
 * input that forgets.
 * @param mostOffsetA no clamp is off by as much
 */
export function passesSteadyCurrent(samples: Float32Array, sampleRateHz: number, mostOffsetA: number): boolean {
  const { mean } = toBlocks(samples, Math.max(4, Math.round(BLOCK_S * sampleRateHz)));
  const width = Math.round(HELD_S / BLOCK_S);
  return slidingRange(mean, width).some((range, at) => {
    const level = mean.subarray(at, at + width).reduce((sum, value) => sum + value, 0) / width;
    return Math.abs(level) > mostOffsetA && range < HELD_WITHIN * Math.abs(level);
  });
}
