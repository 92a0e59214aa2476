import { findLines, welchSpectrum } from '../signal/spectrum.js';
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
const START_S = 0.15;
const START_SEARCH = 0.06;
const GROUPS = 10;
/** Recorder clocks are rarely better than this. */
const CLOCK_SHARE = 1e-4;
/** What is left uncertain at the edges of a record of few hops. */
const EDGE_SHARE = 0.02;
const LOST = 0.3;

/** Follows the line through the whole steady window; speed may drift, and dropouts are bridged. */
export function measureLine(
  samples: Float32Array,
  sampleRateHz: number,
  aboutHz: number,
  linePerRevolution: number,
): LineSpeed {
  const segment = Math.min(samples.length, Math.round(START_S * sampleRateHz));
  const start = welchSpectrum(samples.subarray(0, segment), sampleRateHz, segment, 1);
  const near = findLines(start, aboutHz * (1 - START_SEARCH), aboutHz * (1 + START_SEARCH), 400)[0];
  const most = Math.max(6, Math.floor((samples.length / sampleRateHz) * aboutHz * 0.3));
  const cycles = Math.min(TURNS_A_WINDOW * linePerRevolution, most);
  const startHz = near && near.prominence > 10 ? near.hz : aboutHz;
  const track = trackPhase(samples, sampleRateHz, startHz, cycles);
  const local = localFrequencies(track, sampleRateHz);
  if (local.length === 0) return { hz: aboutHz, halfWidthHz: aboutHz * 0.01, track };
  const mean = meanToTheEdges(local, track, samples.length);
  return { hz: mean, halfWidthHz: interval(local, mean), track };
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

const LARGEST_EDGE_CHANGE = 0.02;

/**
 * Mean over the whole window. Hops are centred at least half a window from the edges; a speed still rising there is
 * continued along its trend, or a short record would read fast.
 */
function meanToTheEdges(local: readonly number[], track: PhaseTrack, length: number): number {
  const sum = local.reduce((total, hz) => total + hz, 0);
  if (local.length < 4 || track.at.length < 2) return sum / local.length;
  const hop = track.at[1] - track.at[0];
  const edge = (end: number, inner: number, missing: number) => {
    const trend = ((end - inner) / 2) * ((missing + 1) / 2);
    const limit = LARGEST_EDGE_CHANGE * end;
    return missing * (end + Math.max(-limit, Math.min(limit, trend)));
  };
  const head = track.at[0] / hop;
  const tail = (length - track.at[track.at.length - 1]) / hop;
  const last = local.length - 1;
  return (
    (sum + edge(local[0], local[2], head) + edge(local[last], local[last - 2], tail)) / (local.length + head + tail)
  );
}

/** Scatter of group means, so that slow wander widens the interval; Student factor for few groups. */
function interval(local: readonly number[], mean: number): number {
  const groups = Math.min(GROUPS, local.length);
  const floor = (CLOCK_SHARE + EDGE_SHARE / local.length) * mean;
  if (groups < 3) return Math.max(floor, 0.003 * mean);
  let squares = 0;
  for (let g = 0; g < groups; g++) {
    const part = local.slice(Math.floor((g * local.length) / groups), Math.floor(((g + 1) * local.length) / groups));
    const groupMean = part.reduce((sum, hz) => sum + hz, 0) / part.length;
    squares += (groupMean - mean) ** 2;
  }
  const error = Math.sqrt(squares / (groups - 1) / groups);
  return Math.max(floor, 2.3 * error);
}
