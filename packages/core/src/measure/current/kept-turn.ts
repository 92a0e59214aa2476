import { movingAverage } from '../../signal/blocks.js';
import { median, quantile } from '../../signal/levels.js';
import type { CurrentView } from './current-view.js';
import { pointsFor, toOrder } from './order.js';
import type { PhaseTrack } from './phase-track.js';

/** Some turns in a row along a followed line. */
export interface Look {
  /** Correlation of the current with itself a turn later, -1..1. */
  readonly likeness: number;
  /** Of what the current does beside its slow course, A^2. */
  readonly power: number;
}

/** A look's length in turns, few enough for the speed to be one; and how many of them show a run. */
const TURNS_A_LOOK = 12;
const MOST_LOOKS = 60;
/** The slow course is taken out over so many turns. */
const SLOW_TURNS = 1.3;
/** From here on what comes again a turn later has as much power as all else: hum and noise say little of where a turn is lost. */
const SHOWS = 0.5;
/** Half as like itself as where the turn was read, beyond so many deviations of the looks there, is no turn. */
const HALF = 0.5;
const DEVIATIONS = 3;
/** Normal distribution: its quartile lies so many standard deviations from its median. */
const QUARTILE = 0.6745;
/** So many times more or less power than usual is a gap or what disturbs the clamp, and no turn is expected there. */
const OTHER_POWER = 4;

/**
 * How like itself a current is one turn later along a followed line, in looks spread evenly over it.
 * @param cycles of the line in a turn
 * @param prepare takes out of each look's samples, in place, what isn't the pump's
 */
export function looksAlong(
  current: CurrentView,
  track: PhaseTrack,
  cycles: number,
  prepare: (samples: Float32Array) => void,
): Look[] {
  const { cycles: phase } = track;
  const inRun = (phase[phase.length - 1] - phase[0]) / cycles / TURNS_A_LOOK;
  // The last ends with the run: a speed that a starter lets go changes there.
  const count = inRun < 1 ? 0 : Math.min(MOST_LOOKS, Math.ceil(inRun));
  const lastFirst = Math.max(
    0,
    phase.findLastIndex((at) => at < phase[phase.length - 1] - TURNS_A_LOOK * cycles),
  );
  return Array.from({ length: count }, (_, look) => {
    const part = partOf(track, Math.floor((lastFirst * look) / Math.max(1, count - 1)), TURNS_A_LOOK * cycles);
    const from = Math.max(0, Math.floor(part.at[0]));
    const samples = current.read(from, Math.min(current.length, Math.ceil(part.at[part.at.length - 1]) + 1)).slice();
    prepare(samples);
    return lookAt(samples, { ...part, at: part.at.map((sample) => sample - from) }, cycles);
  });
}

/**
 * Share of a run in which the current isn't like itself a turn later, though it is where the turn was read: the line was lost
 * there, or the next one of the rotor's was taken for it, and all speed is off by a shaft rate.
 */
export function lostShare(along: readonly Look[], where: readonly Look[]): number {
  if (along.length === 0 || where.length === 0) return 0;
  const likeness = Float64Array.from(where, (look) => look.likeness);
  const usual = median(likeness);
  if (usual < SHOWS) return 0;
  // By the upper half: a turn that is lost where it was read, too, is below.
  const deviation = (quantile(likeness, 0.75) - usual) / QUARTILE;
  const least = Math.min(HALF * usual, usual - DEVIATIONS * deviation);
  const power = median(Float64Array.from(where, (look) => look.power));
  const isUsual = (look: Look) => look.power < OTHER_POWER * power && look.power > power / OTHER_POWER;
  return along.filter((look) => look.likeness < least && isUsual(look)).length / along.length;
}

/** The hops of a track from one of them on, over so many of its cycles. */
function partOf({ at, cycles, amplitude }: PhaseTrack, first: number, count: number): PhaseTrack {
  let end = first + 1;
  while (end < cycles.length && cycles[end - 1] < cycles[first] + count) end++;
  return { at: at.slice(first, end), cycles: cycles.slice(first, end), amplitude: amplitude.slice(first, end) };
}

function lookAt(samples: Float32Array, track: PhaseTrack, cycles: number): Look {
  const { values, points } = toOrder(samples, track, pointsFor(cycles));
  const turn = cycles * points;
  const slow = movingAverage(values, Math.round((SLOW_TURNS * turn) / 2));
  let [product, own, later] = [0, 0, 0];
  for (let i = 0; i + turn < values.length; i++) {
    const a = values[i] - slow[i];
    const b = values[i + turn] - slow[i + turn];
    product += a * b;
    own += a * a;
    later += b * b;
  }
  return {
    likeness: product / Math.sqrt(own * later + 1e-30),
    power: Math.sqrt(own * later) / Math.max(1, values.length - turn),
  };
}
