import { LIMITS } from '../../limits/limits.js';
import { boxDecimate } from '../../signal/blocks.js';
import { median } from '../../signal/levels.js';
import { rangesWhere } from '../../signal/ranges.js';
import type { Run, SampleRange } from './segments.js';
import { thin } from '../../signal/thin.js';

/** A rotor that stands makes no voltage of its own: it draws twice the running current and more; nothing else lasts so long. */
export const STANDS_SHARE = 1.6;
/** More than that over what flows else: then the pump hardly ran before, on few of its bars. */
const MOST_SHARE = 1.5 * LIMITS.inrushMost.value;
const BLOCK_S = 0.005;
const LEAST_S = 0.03;
/** Enough to know the usual draw by. */
const MOST_BLOCKS = 8192;
/** The first peak of a start is no stall. */
export const START_S = 0.15;
/** Slowing down and coming back to speed, s. */
const AROUND_S = 0.08;

/** Where the rotor came to stand within a run that has turned. */
export function findStalls(
  samples: Float32Array,
  sampleRateHz: number,
  run: Run,
  zero: number,
  inverted: boolean,
): SampleRange[] {
  const from = run.onset === undefined ? run.from : run.from + Math.round(START_S * sampleRateHz);
  const size = Math.max(8, Math.round(BLOCK_S * sampleRateHz));
  if (run.to - from < 4 * size) return [];
  const mean = boxDecimate(samples, from, run.to, size);
  const draw = mean.map((value) => (inverted ? zero - value : value - zero));
  const usual = median(thin(draw, MOST_BLOCKS));
  return rangesWhere(Array.from(draw, (value) => value > STANDS_SHARE * usual && value < MOST_SHARE * usual))
    .map((range) => ({ from: from + range.from * size, to: from + range.to * size }))
    .filter((range) => range.to - range.from > LEAST_S * sampleRateHz);
}

/** The longest part of a run beside what disturbed its turning: stalls, an engine that was cranked. */
export function turningPart(run: Run, disturbing: readonly SampleRange[], sampleRateHz: number): Run {
  if (disturbing.length === 0) return run;
  const around = Math.round(AROUND_S * sampleRateHz);
  const sorted = [...disturbing].sort((a, b) => a.from - b.from);
  const parts: Run[] = [...sorted, { from: run.to + around, to: run.to }].map((next, i) => ({
    from: i === 0 ? run.from : Math.max(run.from, sorted[i - 1].to + around),
    to: Math.min(run.to, next.from - around),
    ...(i === 0 && run.onset !== undefined && { onset: run.onset }),
  }));
  return parts.reduce((a, b) => (b.to - b.from > a.to - a.from ? b : a));
}
