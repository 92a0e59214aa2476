import { toBlocks } from '../../signal/blocks.js';
import { median, quantile } from '../../signal/levels.js';
import type { SampleRange } from './runs.js';

/** What lies between two stretches in which humps pass, in a record that passes no steady current. */
export interface CoupledGap extends SampleRange {
  /** The rotor stands; a feed that was cut comes back; or the first of the two stretches was none of a running pump. */
  readonly kind: 'stall' | 'break' | 'start';
}

/** A hump of the slowest pump and more, s: its level goes by little from one to the next. */
const BLOCK_S = 0.01;
/** The level from which a gap departs is that of so many blocks before it. */
const BEFORE_BLOCKS = 5;
/** Of the furthest that the level goes in a gap: a start's surge is up to four times what an off takes away before it. */
const DEPARTS_SHARE = 0.2;
/** A rotor comes to stand, and up to speed again, within some such blocks. */
const EDGE_BLOCKS = 2;
/** Times the humps before, from top to bottom: what goes less far is nothing that can be told. */
const BEYOND_HUMPS = 1.5;
/** The way to the other side, of the way out: after a start, whose surge is over before an input forgets much, there is hardly any. */
const START_SHARE = 0.2;
/** A stall goes back as far as it went out at most; the surge of a new start goes twice as far as an off and more. */
const STALL_SHARE = 1.3;

/**
 * What parts two runs. A stall and an off both show no humps, and of both the level comes back to nothing. But a rotor that stands
 * draws once or twice as much more, and as much less when it turns again; a feed that is cut takes the draw away, and comes back with
 * a surge of several times that; and a start goes up and sinks by and by. Whichever way the clamp was put on.
 */
export function coupledGaps(samples: Float32Array, sampleRateHz: number, runs: readonly SampleRange[]): CoupledGap[] {
  const size = Math.max(1, Math.round(BLOCK_S * sampleRateHz));
  return runs.slice(1).map((next, i): CoupledGap => {
    const from = Math.max(0, runs[i].to - BEFORE_BLOCKS * size);
    const running = samples.subarray(from, runs[i].to);
    const humps = quantile(running, 0.95) - quantile(running, 0.05);
    const { mean } = toBlocks(samples.subarray(from, next.from), size);
    const before = median(mean.subarray(0, BEFORE_BLOCKS));
    const level = mean.map((value) => value - before);
    const furthest = level.reduce((most, value) => Math.max(most, Math.abs(value)), 0);
    const first = level.findIndex((value) => Math.abs(value) > DEPARTS_SHARE * furthest);
    const gap = { from: runs[i].to, to: next.from };
    if (furthest < BEYOND_HUMPS * humps || first < 0) return { ...gap, kind: 'break' };
    const away = level.map((value) => Math.sign(level[first]) * value);
    const out = away.reduce((most, value) => Math.max(most, value), 0);
    const back = -away.reduce((least, value) => Math.min(least, value), 0) / out;
    if (back > STALL_SHARE) return { ...gap, kind: 'break' };
    if (back < START_SHARE) return { ...gap, kind: 'start' };
    const falls = away.map((value, b) => (b > first ? value - away[b - EDGE_BLOCKS] : 0));
    const last = falls.reduce((least, value, b) => (value < falls[least] ? b : least), first);
    return { from: from + first * size, to: from + last * size, kind: 'stall' };
  });
}
