import { median, quantile } from '../../signal/levels.js';
import { thin } from '../../signal/thin.js';

/** What a channel usually is, as it goes along, and how far it strays from that of itself. */
export interface Usual {
  /** Usual level at a block. */
  readonly at: (block: number) => number;
  /** Robust scatter of the blocks about the level of their own stretch, so that a slow drift is none. */
  readonly scatter: number;
}

/** Levels are renewed a stretch at a time: short enough to follow a charging battery, long against what happens. */
const STRETCH_S = 1;
/** A short record still has so many of them. */
const FEWEST_STRETCHES = 8;
const SHORTEST_BLOCKS = 20;
/** A median of so many is as good as one of all: it is off by a sixth of the scatter. */
const BLOCKS_FOR_A_LEVEL = 64;
/** Share of the way to the newest level that the usual one goes in a stretch. */
const FOLLOW = 0.2;
/** A level that rose and stays for so many stretches is the usual one from then on: a charging system took over. */
const STAYS = 3;
/** Three of four blocks may belong to something else: a quarter of normal values lie within this part of their deviation. */
const QUARTER_TO_DEVIATION = 1 / 0.3186;
const QUARTER = 0.25;

export interface Following {
  readonly blockS: number;
  readonly limit: number;
  /** Whether the level may be renewed by what it is about a block; never: it keeps its first level. */
  readonly follows: (block: number) => boolean;
}

/**
 * Follows the level of blocks [from, to): slowly, never through a fall of more than `limit`, which is what is looked for.
 */
export function usualOf(
  values: Float64Array,
  { from, to }: { readonly from: number; readonly to: number },
  { blockS, limit, follows }: Following,
): Usual {
  const wanted = Math.min(Math.round(STRETCH_S / blockS), Math.floor((to - from) / FEWEST_STRETCHES));
  const size = Math.max(1, Math.min(to - from, Math.max(SHORTEST_BLOCKS, wanted)));
  const count = Math.max(1, Math.floor((to - from) / size));
  const medians = Array.from({ length: count }, (_, i) =>
    median(thin(values.subarray(from + i * size, from + (i + 1) * size), BLOCKS_FOR_A_LEVEL)),
  );
  const levels = new Float64Array(count);
  let level = medians[0];
  let above = 0;
  for (let i = 0; i < count; i++) {
    const away = medians[i] - level;
    const mayFollow = follows(from + Math.floor((i + 0.5) * size));
    above = away > limit && mayFollow ? above + 1 : 0;
    if (above >= STAYS) level = medians[i];
    else if (mayFollow && Math.abs(away) <= limit) level += FOLLOW * away;
    levels[i] = level;
  }
  const stretchOf = (block: number) => Math.min(count - 1, Math.max(0, Math.floor((block - from) / size)));
  const scatter = scatterOf(values, { from, to }, (block) => medians[stretchOf(block)]);
  return { at: (block) => levels[stretchOf(block)], scatter };
}

/** A sample of the blocks is enough for a scatter. */
const MOST_LOOKED_AT = 65_536;

function scatterOf(values: Float64Array, { from, to }: { from: number; to: number }, at: (block: number) => number) {
  const step = Math.max(1, Math.ceil((to - from) / MOST_LOOKED_AT));
  const away = new Float64Array(Math.ceil((to - from) / step));
  for (let i = 0, block = from; block < to; i++, block += step) away[i] = Math.abs(values[block] - at(block));
  return QUARTER_TO_DEVIATION * quantile(away, QUARTER);
}
