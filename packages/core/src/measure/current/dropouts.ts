import { phaseAt, type PhaseTrack } from './phase-track.js';
import type { WorkingSignal } from './working-signal.js';

/** A moment in which the current falls out of its pattern. Times are within the working signal. */
export interface Dropout {
  readonly startS: number;
  readonly endS: number;
  readonly depthA: number;
  /** Comes back at the same place of the revolution. */
  readonly locked: boolean;
}

export interface DropoutInput {
  readonly signal: WorkingSignal;
  /** Level that ordinary troughs stay above, A. */
  readonly troughA: number;
  /** Level that ordinary crests stay below, A. */
  readonly crestA: number;
  readonly humpA: number;
  readonly meanA: number;
  /** Recorder noise at the working rate, A. */
  readonly noiseA: number;
  /** Rotor phase, where the revolution is known. */
  readonly rotor?: Rotor;
}

interface Rotor {
  readonly track: PhaseTrack;
  readonly linePerRevolution: number;
  readonly perRevolution: number;
}

/** Dips must reach this far below the ordinary troughs, as a share of the draw and of a hump. */
const DEPTH_SHARE = 0.1;
const DEPTH_HUMPS = 0.6;
const DEPTH_NOISES = 6;
/** Dips closer than this are one. */
const JOIN_S = 0.0004;
/** Chance, over all dips, of that many random ones falling so close. */
const LOCKED_CHANCE = 1e-4;
const LOCKED_SHARE = 0.3;
/** Where dips fall everywhere, so many times their even share at one place is more than a crowd. */
const CROWDED = 1.5;

/** Pick-up lasts no longer. */
const SPIKE_S = 0.0001;
const SPIKE_SAMPLES = 2.5;
const FEWEST_SPIKES = 3;
/** Pick-up goes either way about as often. */
const UPWARD_SHARE = 0.4;

interface Dip {
  startS: number;
  endS: number;
  depthA: number;
  /** Place within the revolution of its middle, in revolutions. */
  phase: number;
}

/** What falls out of the pattern, and how many short spikes of either direction were something else's. */
export interface Departures {
  readonly dropouts: readonly Dropout[];
  readonly spikes: number;
}

/**
 * Finds dips below the ordinary troughs and tells those locked to the rotor from random ones. Nothing in a motor throws its
 * current up for a moment: where that happens as well, short random dips are pick-up (ignition, a loose lead) like the rest.
 */
export function findDropouts(input: DropoutInput): Departures {
  const dips = findDips(input);
  const locked = input.rotor ? lockedDips(dips, input.signal, input.rotor) : [];
  const shortest = SPIKE_SAMPLES / input.signal.sampleRateHz;
  const isShort = ({ startS, endS }: Dip, i: number) => !locked[i] && endS - startS <= Math.max(SPIKE_S, shortest);
  const down = dips.filter(isShort).length;
  const up = countJumps(input);
  const pickedUp = up >= FEWEST_SPIKES && up >= UPWARD_SHARE * down;
  const dropouts = dips
    .map((dip, i) => ({ dip, locked: locked[i] ?? false, isSpike: pickedUp && isShort(dip, i) }))
    .filter(({ isSpike }) => !isSpike)
    .map(({ dip: { startS, endS, depthA }, locked: atOnePlace }) => ({ startS, endS, depthA, locked: atOnePlace }));
  return { dropouts, spikes: pickedUp ? up + down : 0 };
}

/** How far below its trough, or above its crest, the current has to be, A. */
function departure({ meanA, humpA, noiseA }: DropoutInput): number {
  return Math.max(DEPTH_SHARE * meanA, DEPTH_HUMPS * humpA, DEPTH_NOISES * noiseA);
}

/** Times that the current stands out above its ordinary crests. */
function countJumps(input: DropoutInput): number {
  const { current } = input.signal;
  const enter = input.crestA + departure(input);
  let jumps = 0;
  let above = false;
  for (let i = 0; i < current.length; i++) {
    if (current[i] > enter && !above) jumps++;
    above = current[i] > enter;
  }
  return jumps;
}

function findDips(input: DropoutInput): Dip[] {
  const { signal, troughA, rotor, meanA } = input;
  const { current, sampleRateHz } = signal;
  const enter = troughA - departure(input);
  const leave = troughA - 0.3 * (troughA - enter);
  const dips: Dip[] = [];
  for (let i = 0; i < current.length; i++) {
    if (current[i] >= enter) continue;
    let start = i;
    while (start > 0 && current[start - 1] < leave) start--;
    let end = i;
    let lowest = i;
    for (; end < current.length && current[end] < leave; end++) if (current[end] < current[lowest]) lowest = end;
    i = end;
    const phase = rotor ? phaseAt(rotor.track, (start + end) / 2) / rotor.linePerRevolution : 0;
    const dip = {
      startS: start / sampleRateHz,
      endS: end / sampleRateHz,
      depthA: meanA - current[lowest],
      phase: phase - Math.floor(phase),
    };
    const last = dips.at(-1);
    if (last && dip.startS - last.endS < JOIN_S) {
      last.endS = dip.endS;
      if (dip.depthA > last.depthA) Object.assign(last, { depthA: dip.depthA, phase: dip.phase });
    } else dips.push(dip);
  }
  return dips;
}

/**
 * Tells which dips gather at one place of the turn. Each dip's neighbours within a bar are counted: two opposite
 * bad bars would cancel in one test over all. Gathered means in a good share of all turns, or far more than chance:
 * under an even spread the count is Poisson, and its upper tail is bounded by exp(-(n ln(n/m) - n + m)) (Chernoff).
 * What is left is judged again without those, since a deep notch's many dips hide a shallow one's few.
 */
function lockedDips(dips: readonly Dip[], signal: WorkingSignal, rotor: Rotor): boolean[] {
  const { perRevolution, linePerRevolution, track } = rotor;
  const half = 0.75 / perRevolution;
  const turns = (phaseAt(track, signal.current.length - 1) - phaseAt(track, 0)) / linePerRevolution;
  const locked = dips.map(() => false);
  for (let found = true; found;) {
    const rest = dips.map((_, i) => i).filter((i) => !locked[i]);
    const sorted = rest.map((i) => dips[i].phase).sort((a, b) => a - b);
    const ring = [...sorted.map((p) => p - 1), ...sorted, ...sorted.map((p) => p + 1)];
    const expected = Math.max(1e-9, (rest.length - 1) * 2 * half);
    const gathers = (phase: number) => {
      const near = upperBound(ring, phase + half) - upperBound(ring, phase - half) - 1;
      if (near < 2) return false;
      const tail = near > expected ? near * Math.log(near / expected) - near + expected : 0;
      return (
        (near >= LOCKED_SHARE * turns && near > CROWDED * expected) || rest.length * Math.exp(-tail) < LOCKED_CHANCE
      );
    };
    const gathered = rest.filter((i) => gathers(dips[i].phase));
    for (const i of gathered) locked[i] = true;
    found = gathered.length > 0;
  }
  return locked;
}

/** Number of sorted values at or below the limit. */
function upperBound(sorted: readonly number[], limit: number): number {
  let low = 0;
  let high = sorted.length;
  while (low < high) {
    const middle = (low + high) >> 1;
    if (sorted[middle] <= limit) low = middle + 1;
    else high = middle;
  }
  return low;
}
