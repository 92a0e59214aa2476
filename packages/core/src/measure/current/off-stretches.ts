import { rangesWhere, type Range } from '../../signal/ranges.js';

/** A spike is over within so much of the longest turn (1.5 ms), or one block; what flows for a ninth of the time or less runs no pump. */
const SPIKE_OF_A_TURN = 0.04;
const RESTS_AROUND = 8;
/** Spikes that crowd by chance stir up no more than so many turns. */
const MOST_STIRRED = 5;
/** Of a piece at the record's edge: a dead stretch takes less of a turn. */
const MOSTLY_AT_EDGE = 0.75;
/** Spikes and a switch's swings are over in so much of the longest turn (10 ms); what lies there for longer flows. */
export const SHORT_OF_A_TURN = 0.25;

/**
 * Off is longer than any turn and flat. At the record's edges it may be shorter, if it is longer than whatever comes near
 * zero within the run: dead stretches of a turn come back, an off doesn't.
 */
export function stretchesOfOff(near: readonly boolean[], flat: readonly boolean[], aTurn: number): boolean[] {
  const off = near.map(() => false);
  const stretches = acrossSpikes(rangesWhere(near), Math.max(1, Math.round(SPIKE_OF_A_TURN * aTurn)));
  const isLong = ({ from, to }: Range) => {
    let flatBlocks = 0;
    for (let i = from; i < to; i++) if (flat[i]) flatBlocks++;
    return to - from >= aTurn && flatBlocks >= 0.5 * (to - from);
  };
  const inside = stretches.filter((stretch) => !isLong(stretch) && stretch.from > 0 && stretch.to < near.length);
  const longestInside = inside.reduce((most, { from, to }) => Math.max(most, to - from), 0);
  for (const stretch of stretches) {
    const edge = stretch.from === 0 || stretch.to === near.length;
    const length = stretch.to - stretch.from;
    if (isLong(stretch) || (edge && length >= 2 && length > 2 * longestInside))
      off.fill(true, stretch.from, stretch.to);
  }
  // Between two rests too little flows, or for too short, to be a pump's. At an edge a run may have been cut to a moment.
  const isNone = ({ from, to }: Range) => {
    const between = from > 0 && to < off.length;
    if (between && to - from < SHORT_OF_A_TURN * aTurn) return true;
    const resting = near.slice(from, to).filter(Boolean).length;
    return to - from < MOST_STIRRED * aTurn && resting > (between ? 0.5 : MOSTLY_AT_EDGE) * (to - from);
  };
  for (const piece of rangesWhere(off.map((isOff) => !isOff))) {
    if (isNone(piece)) off.fill(true, piece.from, piece.to);
  }
  return off;
}

/** Stretches that only a spike parts, as one. */
function acrossSpikes(stretches: readonly Range[], longest: number): Range[] {
  const out: Range[] = [];
  stretches.forEach((stretch, i) => {
    const last = out.at(-1);
    const before = stretches[i - 1];
    const parts = before && stretch.from - before.to;
    const rests = before && Math.min(before.to - before.from, stretch.to - stretch.from);
    if (last && parts <= longest && rests >= RESTS_AROUND * parts)
      out[out.length - 1] = { from: last.from, to: stretch.to };
    else out.push(stretch);
  });
  return out;
}
