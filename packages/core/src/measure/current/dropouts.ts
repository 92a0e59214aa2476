import { boxDecimate } from '../../signal/blocks.js';
import { median, quantile } from '../../signal/levels.js';
import { thin } from '../../signal/thin.js';
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

/**
 * A contact that opens takes its current along within a few of its circuit's time constants; a feed that is pulled down, or a rotor
 * that is braked, takes longer (common practice, no published source), s.
 */
const AT_ONCE_S = 0.006;
/** Between these shares of its depth a fall is steep; it is looked at by the middle of so much, in which spikes don't show, s. */
const FALL_FROM = 0.3;
const FALL_TO = 0.7;
const FALL_BLOCK_S = 0.002;
/** Its crest lies so far before it at most: half of a slow swing, s. */
const BEFORE_S = 0.06;
/** A short dip is one beside what flows around it: half of the time that is looked at, in blocks of a hump or so, s. */
const AROUND_S = 0.015;
const AROUND_BLOCK_S = 0.001;
/** Dips are less than a quarter of a usual time, or the pattern is theirs. */
const UPPER = 0.75;
const LOOKED_AT = 16_384;

/** Pick-up lasts no longer, through a clamp of some kilohertz (common practice, no published source). */
const SPIKE_S = 0.0003;
const SPIKE_SAMPLES = 2.5;
/** Pick-up goes either way about as often; so many upwards are always enough. */
const UPWARD_SHARE = 0.4;
/** Fewer upwards among as many by chance less often than this rule it out. */
const RULED_OUT = 0.01;

interface Dip {
  startS: number;
  endS: number;
  depthA: number;
  lowestA: number;
  /** For how long it is deeper than half. */
  narrowS: number;
  /** Place within the revolution of its middle, in revolutions. */
  phase: number;
}

/** What falls out of the pattern, and how many short spikes of either direction were something else's. */
export interface Departures {
  readonly dropouts: readonly Dropout[];
  /** Those of them that can't be pick-up which happened to go one way only. */
  readonly certain: readonly Dropout[];
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
  const isShort = ({ narrowS }: Dip, i: number) => !locked[i] && narrowS <= Math.max(SPIKE_S, shortest);
  const down = dips.filter(isShort).length;
  const up = countJumps(input, Math.max(SPIKE_S, shortest));
  const mayBePickUp = up >= UPWARD_SHARE * down || chanceOfSoFew(up, up + down) > RULED_OUT;
  const listed = dips.map((dip, i) => {
    const { startS, endS, depthA } = dip;
    return { dropout: { startS, endS, depthA, locked: locked[i] ?? false }, isSpike: mayBePickUp && isShort(dip, i) };
  });
  const certain = listed.filter(({ isSpike }) => !isSpike).map(({ dropout }) => dropout);
  const isPickUp = mayBePickUp && up > 0;
  return {
    dropouts: isPickUp ? certain : listed.map(({ dropout }) => dropout),
    certain,
    spikes: isPickUp ? up + down : 0,
  };
}

/** How often at most so few of so many go one way where either is as likely (binomial). */
function chanceOfSoFew(few: number, all: number): number {
  let term = 0.5 ** all;
  let chance = term;
  for (let k = 1; k <= few; k++) {
    term *= (all - k + 1) / k;
    chance += term;
  }
  return chance;
}

/** How far below its trough, or above its crest, the current has to be, A. */
function departure({ meanA, humpA, noiseA }: DropoutInput): number {
  return Math.max(DEPTH_SHARE * meanA, DEPTH_HUMPS * humpA, DEPTH_NOISES * noiseA);
}

/** Times that the current stands out above its ordinary crests for a moment. */
function countJumps(input: DropoutInput, longestS: number): number {
  const { current, sampleRateHz } = input.signal;
  const enter = input.crestA + departure(input);
  const longest = longestS * sampleRateHz;
  let jumps = 0;
  let since = -1;
  for (let i = 0; i <= current.length; i++) {
    const above = i < current.length && current[i] > enter;
    if (above && since < 0) since = i;
    if (above || since < 0) continue;
    if (i - since <= longest) jumps++;
    since = -1;
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
    const half = (leave + current[lowest]) / 2;
    let narrow = 0;
    for (let k = start; k < end; k++) if (current[k] < half) narrow++;
    i = end;
    const phase = rotor ? phaseAt(rotor.track, (start + end) / 2) / rotor.linePerRevolution : 0;
    const dip = {
      startS: start / sampleRateHz,
      endS: end / sampleRateHz,
      depthA: meanA - current[lowest],
      lowestA: current[lowest],
      narrowS: narrow / sampleRateHz,
      phase: phase - Math.floor(phase),
    };
    const last = dips.at(-1);
    if (last && dip.startS - last.endS < JOIN_S) {
      last.endS = dip.endS;
      last.narrowS += dip.narrowS;
      if (dip.depthA > last.depthA) Object.assign(last, { depthA: dip.depthA, lowestA: dip.lowestA, phase: dip.phase });
    } else dips.push(dip);
  }
  return breaksAmong(dips, input, enter);
}

/**
 * Dips that a contact makes. A current that swings by and by, as while an engine cranks, has humps that go below the ordinary
 * troughs, and none of them is a dip.
 * @param enterA below it a dip is one where the current flows as usual
 */
function breaksAmong(dips: readonly Dip[], input: DropoutInput, enterA: number): Dip[] {
  if (dips.length === 0) return [];
  const isLong = ({ startS, endS }: Dip) => endS - startS > 2 * AT_ONCE_S;
  const { current, sampleRateHz } = input.signal;
  const leastA = departure(input);
  const block = Math.max(1, Math.round(AROUND_BLOCK_S * sampleRateHz));
  const course = boxDecimate(current, 0, current.length, block);
  const usual = quantile(thin(course, LOOKED_AT), UPPER);
  const reach = Math.ceil((AROUND_S * sampleRateHz) / block);
  return dips.filter((dip) => {
    if (isLong(dip)) return fellAtOnce(dip, input.signal, enterA, leastA);
    const middle = Math.round((((dip.startS + dip.endS) / 2) * sampleRateHz) / block);
    const around = quantile(course.subarray(Math.max(0, middle - reach), middle + reach + 1), UPPER);
    return dip.lowestA < enterA + Math.min(0, around - usual);
  });
}

/** Whether a dip goes deep as fast as a contact lets it. */
function fellAtOnce(
  { startS, endS }: Dip,
  { current, sampleRateHz }: WorkingSignal,
  enterA: number,
  leastA: number,
): boolean {
  // What was so from the first sample on was never seen to fall.
  if (startS === 0) return false;
  const size = Math.max(1, Math.round(FALL_BLOCK_S * sampleRateHz));
  const from = Math.max(0, Math.round((startS - BEFORE_S) * sampleRateHz));
  const count = Math.floor((Math.round(endS * sampleRateHz) - from) / size);
  const course = Array.from({ length: count }, (_, i) =>
    median(current.subarray(from + i * size, from + (i + 1) * size)),
  );
  let least = 0;
  for (let i = 1; i < count; i++) if (course[i] < course[least]) least = i;
  let most = 0;
  for (let i = 1; i < least; i++) if (course[i] > course[most]) most = i;
  // A spike in the trough of a swing is no gap as long as the trough.
  if (!(course[least] < enterA)) return false;
  const depth = course[most] - course[least];
  if (depth < leastA) return false;
  let deep = most;
  while (deep < least && course[most] - course[deep] < FALL_TO * depth) deep++;
  let shallow = deep;
  while (shallow > most && course[most] - course[shallow] > FALL_FROM * depth) shallow--;
  return (deep - shallow) * size <= AT_ONCE_S * sampleRateHz;
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
