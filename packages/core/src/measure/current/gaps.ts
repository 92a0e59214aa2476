import { toOrder } from './order.js';
import type { PhaseTrack } from './phase-track.js';
import { likenessOf } from './turn-evidence.js';

/** A current in which every gap was bridged by a straight line. */
export interface Bridged {
  readonly samples: Float32Array;
  /** 1 where it was bridged, and the sample says nothing. */
  readonly gaps: Uint8Array;
}

/** Enough to tell a bar's passing from the next one's. */
const POINTS_A_CYCLE = 8;
/** Of their presence: what comes back by more than half is the rotor's own. */
const COMES_BACK = 0.5;

/**
 * Bridges every dip below a floor, from where it begins to fall to where it has risen again, so that what passes between
 * gaps can be followed without them.
 * @param level taken where the record begins or ends within a gap, A
 * @param bridged where the result goes
 */
export function bridgeGaps(
  current: Float32Array,
  floor: number,
  level: number,
  bridged: Float32Array = new Float32Array(current.length),
): Bridged {
  bridged.set(current);
  const gaps = new Uint8Array(current.length);
  const last = current.length - 1;
  for (let i = 0; i <= last; i++) {
    if (current[i] >= floor) continue;
    let from = i;
    let to = i;
    while (from > 0 && current[from - 1] > current[from]) from--;
    while (to < last && (current[to] < floor || current[to + 1] > current[to])) to++;
    const begin = from > 0 ? current[from] : level;
    const end = to < last ? current[to] : level;
    for (let k = from; k <= to; k++) bridged[k] = begin + ((end - begin) * (k - from)) / Math.max(1, to - from);
    gaps.fill(1, from, to + 1);
    i = to;
  }
  return { samples: bridged, gaps };
}

/** Whether gaps stand at the same places of each turn: then they are what the rotor brings back, and no accident. */
export function comeBack(gaps: Uint8Array, track: PhaseTrack): boolean {
  const likeness = likenessOf(toOrder(gaps, track, POINTS_A_CYCLE), 0);
  return likeness !== undefined && Math.max(...likeness.at.subarray(1)) > COMES_BACK;
}
