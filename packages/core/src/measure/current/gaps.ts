import type { CurrentView } from './current-view.js';
import { POINTS_A_CYCLE, toOrder } from './order.js';
import type { PhaseTrack } from './phase-track.js';
import { likenessOf, NOTHING_FOLDED } from './turn-evidence.js';

/** A current in which every gap was bridged by a straight line. */
export interface Bridged {
  readonly samples: Float32Array;
  /** 1 where it was bridged, and the sample says nothing. */
  readonly gaps: Uint8Array;
}

/** Of their presence: what comes back by more than half is the rotor's own. */
const COMES_BACK = 0.5;

/** A dip, from where it begins to fall to where it has risen again, both inclusive, and the line that bridges it, A. */
interface Gap {
  readonly from: number;
  readonly to: number;
  readonly begin: number;
  readonly end: number;
}

/**
 * Bridges every dip below a floor, so that what passes between gaps can be followed without them.
 * @param level taken where the record begins or ends within a gap, A
 */
export function bridgeGaps(current: Float32Array, floor: number, level: number): Bridged {
  const samples = current.slice();
  const gaps = new Uint8Array(current.length);
  for (const gap of gapsIn(current, floor, level)) {
    bridge(samples, 0, gap);
    gaps.fill(1, gap.from, gap.to + 1);
  }
  return { samples, gaps };
}

/** The same of a long current, bridged as it is read. */
export function bridged(current: Float32Array, floor: number, level: number): CurrentView {
  const gaps = gapsIn(current, floor, level);
  return {
    length: current.length,
    read: (from, to) => {
      const part = current.slice(from, to);
      for (const gap of gaps) {
        if (gap.from >= to) break;
        if (gap.to >= from) bridge(part, from, gap);
      }
      return part;
    },
  };
}

function gapsIn(current: Float32Array, floor: number, level: number): Gap[] {
  const gaps: Gap[] = [];
  const last = current.length - 1;
  for (let i = 0; i <= last; i++) {
    if (current[i] >= floor) continue;
    let from = i;
    let to = i;
    while (from > 0 && current[from - 1] > current[from]) from--;
    while (to < last && (current[to] < floor || current[to + 1] > current[to])) to++;
    gaps.push({ from, to, begin: from > 0 ? current[from] : level, end: to < last ? current[to] : level });
    i = to;
  }
  return gaps;
}

/** @param at the sample of the current that the part begins with */
function bridge(part: Float32Array, at: number, { from, to, begin, end }: Gap): void {
  const last = Math.min(to, at + part.length - 1);
  for (let k = Math.max(from, at); k <= last; k++) {
    part[k - at] = begin + ((end - begin) * (k - from)) / Math.max(1, to - from);
  }
}

/** Whether gaps stand at the same places of each turn: then they are what the rotor brings back, and no accident. */
export function comeBack(gaps: Uint8Array, track: PhaseTrack): boolean {
  const likeness = likenessOf(toOrder(gaps, track, POINTS_A_CYCLE), NOTHING_FOLDED);
  return likeness !== undefined && Math.max(...likeness.at.subarray(1)) > COMES_BACK;
}
