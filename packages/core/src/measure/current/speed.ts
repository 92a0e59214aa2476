import { student95 } from '../../signal/student.js';
import type { CurrentView } from './current-view.js';
import { trackPhase, type PhaseTrack } from './phase-track.js';

export interface LineSpeed {
  /** Mean frequency of the followed line over the whole window, Hz. */
  readonly hz: number;
  /** Half width of the 95 % interval of that mean, Hz. */
  readonly halfWidthHz: number;
  readonly track: PhaseTrack;
}

/** Long enough to part the line from its neighbours a turn-rate away, short enough to follow the speed. */
const TURNS_A_WINDOW = 3;
const LOST = 0.3;
/** Fewer hops say nothing of their own scatter; then the speed is that uncertain. */
const FEWEST_HOPS = 4;
const UNKNOWN_SHARE = 0.003;

/** Where a line is known before it is followed, samples, and its frequency there, Hz. */
export interface KnownAt {
  readonly sample: number;
  readonly hz: number;
}

/**
 * Follows the line through the whole steady window, from where it was found both ways; speed may drift, and dropouts are bridged.
 * @param afterStart the window begins where a start was judged to be over
 */
export function measureLine(
  samples: CurrentView,
  sampleRateHz: number,
  { sample, hz: aboutHz }: KnownAt,
  linePerRevolution: number,
  afterStart: boolean,
): LineSpeed {
  const most = Math.max(6, Math.floor((samples.length / sampleRateHz) * aboutHz * 0.3));
  const cycles = Math.min(TURNS_A_WINDOW * linePerRevolution, most);
  const track = trackPhase(samples, sampleRateHz, aboutHz, cycles, sample);
  const local = localFrequencies(track, sampleRateHz);
  if (local.length < FEWEST_HOPS || track.at.length < 2) {
    const hz = local.length > 0 ? local.reduce((sum, of) => sum + of, 0) / local.length : aboutHz;
    return { hz, halfWidthHz: UNKNOWN_SHARE * hz, track };
  }
  const mean = meanToTheEdges(local, track, samples.length, afterStart);
  const settling = afterStart ? settlingDoubt(local) : 0;
  return { hz: mean.hz, halfWidthHz: Math.hypot(mean.halfWidthHz, settling), track };
}

/** Where a start is over is a matter of judgement: what leaving out another quarter of the window would change. */
function settlingDoubt(local: readonly number[]): number {
  const mean = (part: readonly number[]) => part.reduce((sum, hz) => sum + hz, 0) / part.length;
  return Math.abs(mean(local.slice(Math.floor(local.length / 4))) - mean(local));
}

/** Phase advance of each hop in which the line was present. */
function localFrequencies(track: PhaseTrack, sampleRateHz: number): number[] {
  const { at, cycles, amplitude } = track;
  const strong = (LOST * amplitude.reduce((sum, a) => sum + a, 0)) / amplitude.length;
  const local: number[] = [];
  for (let h = 1; h < at.length; h++) {
    if (amplitude[h] < strong || amplitude[h - 1] < strong) continue;
    local.push((sampleRateHz * (cycles[h] - cycles[h - 1])) / (at[h] - at[h - 1]));
  }
  return local;
}

/** A rotor's speed changes by no more between a window's centre and its edge. */
const LARGEST_EDGE_CHANGE = 0.02;

/**
 * Mean over the whole window, with its 95 % interval. Hops are centred at least half a window from the edges; a speed still
 * rising there is continued along its trend, or a short record would read fast. How far such a continuation misses is seen
 * inside the record, where what follows is known: that is all the doubt there is, since between the edges the phase itself
 * was counted. A recorder's clock is not in it (some hundred-thousandths, by its maker).
 */
function meanToTheEdges(
  local: readonly number[],
  track: PhaseTrack,
  length: number,
  afterStart: boolean,
): Pick<LineSpeed, 'hz' | 'halfWidthHz'> {
  const hop = track.at[1] - track.at[0];
  const head = track.at[0] / hop;
  const tail = (length - track.at[track.at.length - 1]) / hop;
  const last = local.length - 1;
  const sum = local.reduce((total, hz) => total + hz, 0);
  const hops = local.length + head + tail;
  const hz = (sum + continued(local[0], local[2], head) + continued(local[last], local[last - 2], tail)) / hops;
  const reach = Math.max(1, Math.round(Math.max(head, tail)));
  const after = misses(local, reach);
  const before = misses([...local].reverse(), reach);
  if (after.length < FEWEST_HOPS) return { hz, halfWidthHz: UNKNOWN_SHARE * hz };
  const usual = Math.sqrt([...after, ...before].reduce((total, of) => total + of * of, 0) / (2 * after.length));
  // A start that still gathers speed misses most beside its end of the window, and will miss as much beyond it.
  const atHead = afterStart ? Math.max(usual, Math.abs(before[before.length - 1])) : usual;
  // Neighbouring tries share most of their hops.
  const factor = student95(Math.max(1, after.length / reach));
  return { hz, halfWidthHz: (factor * Math.hypot(atHead, usual)) / hops };
}

/** By how much a continuation over so many hops misses what really follows, at every place of a record. */
function misses(local: readonly number[], reach: number): number[] {
  const found: number[] = [];
  for (let i = 2; i + reach < local.length; i++) {
    let follows = 0;
    for (let k = 1; k <= reach; k++) follows += local[i + k];
    found.push(continued(local[i], local[i - 2], reach) - follows);
  }
  return found;
}

/** Sum of what follows the end over so many hops, along the trend there. */
function continued(end: number, inner: number, hops: number): number {
  const trend = ((end - inner) / 2) * ((hops + 1) / 2);
  const limit = LARGEST_EDGE_CHANGE * end;
  return hops * (end + Math.max(-limit, Math.min(limit, trend)));
}
