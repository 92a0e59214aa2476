import { movingAverage } from '../../signal/blocks.js';
import { median } from '../../signal/levels.js';
import { thin } from '../../signal/thin.js';
import type { Stretch } from './incident.js';
import type { LoadView } from './load-view.js';
import { onIn, shareOfHigh } from './powered.js';
import type { Channel } from './recorded.js';
import { usualOf } from './usual.js';

/** A current is smoothed over a few humps, and stays sharp enough for an edge, s. */
export const SMOOTH_S = 0.005;
/** Share of its highest level from which a current flows: that may be of a rotor that stood, six times the running one (common practice, no published source). */
const FLOWS_SHARE = 0.12;
/** Enough blocks to know a level by. */
const LOOKED_AT = 65_536;

/** Where a channel's usual level is looked for. */
interface Usually extends Stretch {
  readonly isSwinging: boolean;
  /** Of a short start most of it is usual, of any other what it begins with. */
  readonly isShort: boolean;
  /** From here on it had started, though it was on its way to its level yet. */
  readonly startedFrom: number;
}

export function loadView(
  seenIn: LoadView['seenIn'],
  { values, step }: Pick<Channel, 'values' | 'step'>,
  { isShort, isSwinging, startedFrom, ...usually }: Usually,
  blockS: number,
  smoothS: number,
): LoadView | undefined {
  if (usually.to <= usually.from) return undefined;
  const smoothed = (seconds: number) => movingAverage(values, Math.round(seconds / blockS / 2));
  const smooth = smoothed(smoothS);
  // What is next to nothing isn't the usual, though the looking begin with it.
  const from = usually.from + onIn(smooth.subarray(usually.from, usually.to), FLOWS_SHARE).from;
  const { at, scatter } = usualOf(smooth, { ...usually, from }, { blockS, limit: Infinity, follows: () => false });
  const usual = isShort
    ? usualFlow(smooth.subarray(from, usually.to))
    : outvoted(at(from), smooth.subarray(startedFrom, from), smooth.subarray(from, usually.to));
  const away = smooth.map((value) => value - usual);
  const brisk = smoothS > SMOOTH_S ? smoothed(SMOOTH_S).map((value) => value - usual) : away;
  return { seenIn, raw: values, away, brisk, usual, scatter, step, blockS, isSwinging };
}

/** So much nearer to each other than to a third level are two that agree. */
const AGREE_SHARE = 0.25;

/** The level that something begins with, unless what was before and what comes after agree against it: it was coming back then. */
function outvoted(first: number, before: Float64Array, after: Float64Array): number {
  if (before.length === 0) return first;
  const [earlier, later] = [before, after].map((values) => median(thin(values, LOOKED_AT)));
  return Math.abs(earlier - later) < AGREE_SHARE * Math.abs(first - later) ? later : first;
}

/** Of what flows: an opening may last for most of a short record. */
function usualFlow(values: Float64Array): number {
  const least = shareOfHigh(values, FLOWS_SHARE);
  return median(thin(values, LOOKED_AT).filter((value) => value > least));
}
