import { median, quantile } from '../../signal/levels.js';
import { rangesWhere } from '../../signal/ranges.js';
import type { Dropout } from './dropouts.js';
import type { RotorMap } from './rotor-map.js';
import type { Turning } from './turning.js';
import type { Pattern, Steady } from './types.js';

/** What a pattern is told by. */
export interface Seen {
  readonly steady: Steady;
  readonly dropouts: readonly Dropout[];
  readonly turning: Turning | undefined;
  /** First peak of a start that was recorded, and the lowest course from then on, A: looked for only where the peak is hardly one. */
  readonly start?: { readonly peakA: number; readonly leastA: () => number };
  /** Times that the current broke off and started anew beside the steady part or in it. */
  readonly breaks: number;
}

/** Current below this share of the draw counts as gone. */
const GONE_SHARE = 0.15;
/** Gone for longer than this part of a turn, in most of the turns: the motor coasts with its brushes off the bars. */
const DEAD_TURNS = 0.5;
const MOST_TURNS = 0.5;
/** A turn of a pump whose own isn't known, s. */
const SOME_TURN_S = 0.01;
/** Gaps of a rotor whose turn isn't known come back so evenly, of their spacing, and so many show that they do. */
const EVENLY = 0.2;
const FEWEST_EVEN = 6;
/** Of a turn; one dead bar of twelve. */
const DEAD_SHARE = 0.08;
/** What flows where anything does: a turn's better part is never dead. */
const FLOWS = 0.9;
const FEWEST_RANDOM = 2;
/** Such a part of all gaps is no chance beside those of the turn. */
const RANDOM_SHARE = 0.3;
/** Brushes jump off for no longer than a bar takes to pass; a connection that fails knows no bars. */
const BOUNCE_BARS = 1.5;
const FEWEST_BOUNCES_A_S = 4;
/** A start that never falls: the rotor makes no voltage of its own against the supply's. */
const NEVER_FALLS = 1.2;

/** Names what is seen, in a technician's words; what every turn brings back before what comes at random. */
export function namePattern({ steady, dropouts, turning, start, breaks }: Seen): Pattern {
  const turnS = turning ? turning.revolution.linePerRevolution / turning.line.hz : SOME_TURN_S;
  const gone = dropouts.filter(({ depthA }) => depthA > (1 - GONE_SHARE) * steady.meanA);
  if (isDeadEveryTurn(gone, steady, turning && turnS)) return 'dead-stretch';
  // A rotor's own gaps are shorter than its turn: what is gone for longer was cut off, nobody knows yet by what.
  const isCutOff = breaks > 0 || gone.some(({ startS, endS }) => endS - startS > turnS);
  // Humps as faint as what else moves a feed or a clamp are no proof of a rotor that turns.
  const mayStand = !turning || turning.revolution.isFaint;
  if (mayStand && start && neverFalls(steady, start)) return 'locked-rotor';
  if (!turning) return isCutOff ? 'random-dropouts' : 'irregular';
  if (turning.map && deadShare(turning.map) > DEAD_SHARE) return 'dead-stretch';
  const bad = turning.map?.bars.filter((bar) => bar.state !== 'sound').length ?? 0;
  if (bad >= 2) return 'burnt-bars';
  if (bad === 1) return 'locked-notch';
  const random = dropouts.filter(({ locked }) => !locked);
  if (isCutOff) return 'random-dropouts';
  if (random.length < FEWEST_RANDOM || random.length <= RANDOM_SHARE * dropouts.length) return 'even';
  const barS = turnS / turning.revolution.perRevolution;
  const short = random.filter(({ startS, endS }) => endS - startS <= BOUNCE_BARS * barS).length;
  const often = random.length >= FEWEST_BOUNCES_A_S * (steady.toS - steady.fromS);
  return often && short > random.length / 2 ? 'brush-bounce' : 'random-dropouts';
}

/** The longest stretch of a turn in which the current is gone, turn after turn, as a share of the turn. */
export function deadShare({ turn }: Pick<RotorMap, 'turn'>): number {
  const gone = GONE_SHARE * quantile(turn, FLOWS);
  // A turn has no end: what lies across it is one stretch.
  const twice = [...turn, ...turn].map((value) => value < gone);
  return Math.min(1, Math.max(0, ...rangesWhere(twice).map(({ from, to }) => to - from)) / turn.length);
}

/** Whether the current is gone for a good part of a turn, turn after turn. */
function isDeadEveryTurn(gone: readonly Dropout[], { fromS, toS }: Steady, turnS: number | undefined): boolean {
  const long = gone.filter(({ startS, endS }) => endS - startS > DEAD_TURNS * (turnS ?? SOME_TURN_S));
  if (turnS !== undefined) return long.length > MOST_TURNS * ((toS - fromS) / turnS);
  if (long.length < FEWEST_EVEN) return false;
  const apart = long.slice(1).map(({ startS }, i) => startS - long[i].startS);
  const usual = median(apart);
  const even = apart.filter((one) => Math.abs(one / usual - 1) < EVENLY).length;
  return even > MOST_TURNS * apart.length && long.length > MOST_TURNS * ((toS - fromS) / usual);
}

/** A battery that a starter pulls down gives a small peak too: between it and the steady current the rotor shows that it turned. */
function neverFalls({ meanA }: Steady, { peakA, leastA }: NonNullable<Seen['start']>): boolean {
  return peakA < NEVER_FALLS * meanA && meanA < NEVER_FALLS * leastA();
}
