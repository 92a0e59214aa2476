import { removeMains } from '../../signal/mains.js';
import { toneSum } from '../../signal/tone.js';
import type { CurrentView } from './current-view.js';
import { looksAlong, lostShare } from './kept-turn.js';
import { pointsFor, toOrder } from './order.js';
import { frequencyAt, type PhaseTrack } from './phase-track.js';
import { FEWEST_A_TURN, type Revolution } from './revolution.js';
import { measureLine, type LineSpeed } from './speed.js';

/** A turn that was followed through a whole run, by one of its lines. */
export interface FollowedTurn {
  /** As it was read, with the line by which it was followed. */
  readonly revolution: Revolution;
  readonly line: LineSpeed;
}

/** The part of a run in which a turn was read. */
interface ReadPart {
  /** Its first sample in the run. */
  readonly from: number;
  readonly length: number;
  /** The mains are in it. */
  readonly hasMains: boolean;
}

/** Of the run: where the turn is lost for longer, the mean speed is anybody's guess. */
const MOST_LOST = 0.05;
/** Where a turn was read it has the same speed however it is followed. */
const SAME_SPEED = 0.01;
/** Other lines of the turn that are tried, the strongest first. */
const LINES_TRIED = 3;
const HIGHEST_ORDER = 26;

/**
 * Follows a turn from where it was read through the whole run: by the line along which it was read, and where that loses it by the
 * strongest other lines of the turn.
 * @returns undefined where each of them loses it
 */
export function followTurn(
  run: CurrentView,
  sampleRateHz: number,
  read: Revolution,
  { from, length, hasMains }: ReadPart,
  afterStart: boolean,
): FollowedTurn | undefined {
  const part: CurrentView = { length, read: (first, end) => run.read(from + first, from + end) };
  // Near the turn's own rate the mains make any turn like the next.
  const prepare = (samples: Float32Array) => {
    if (hasMains) removeMains(samples, sampleRateHz);
  };
  const where = looksAlong(part, read.track, read.linePerRevolution, prepare);
  for (const order of linesToFollow(part, read)) {
    const revolution = byLine(read, order);
    const half = length / 2;
    const hz = (frequencyAt(revolution.track, half) ?? revolution.lineHz / sampleRateHz) * sampleRateHz;
    const line = measureLine(run, sampleRateHz, { sample: from + half, hz }, order, afterStart);
    const isSame = sameRate(meanRate(line.track, from, length), meanRate(revolution.track, 0, length));
    if (isSame && lostShare(looksAlong(run, line.track, order, prepare), where) <= MOST_LOST)
      return { revolution, line };
  }
  return undefined;
}

/** Mean rate of a line over what lies in a part of a signal, cycles a sample; undefined where no two hops do. */
function meanRate({ at, cycles }: PhaseTrack, from: number, length: number): number | undefined {
  const first = at.findIndex((sample) => sample >= from);
  const last = at.findLastIndex((sample) => sample < from + length);
  return first < 0 || last <= first ? undefined : (cycles[last] - cycles[first]) / (at[last] - at[first]);
}

function sameRate(a: number | undefined, b: number | undefined): boolean {
  return a === undefined || b === undefined || Math.abs(a / b - 1) < SAME_SPEED;
}

/** How often a turn each of them comes. The others are looked for when they are asked for, which is seldom. */
function* linesToFollow(part: CurrentView, read: Revolution): Generator<number> {
  yield read.linePerRevolution;
  yield* strongestOrders(part, read);
}

/** The same turn along another of its lines: the angle is the same, only counted in that line's cycles. */
function byLine(read: Revolution, order: number): Revolution {
  const scale = order / read.linePerRevolution;
  return {
    ...read,
    linePerRevolution: order,
    lineHz: read.lineHz * scale,
    track: { ...read.track, cycles: read.track.cycles.map((cycles) => cycles * scale) },
  };
}

/** How often a turn the strongest lines come in a part, but for the one along which it was read. */
function strongestOrders(part: CurrentView, { track, linePerRevolution }: Revolution): number[] {
  const { values, points } = toOrder(part.read(0, part.length), track, pointsFor(linePerRevolution));
  const samples = Float32Array.from(values);
  const window = new Float64Array(samples.length).fill(1);
  const amplitudeOf = (order: number) => {
    const { re, im } = toneSum(samples, 0, window, order / (linePerRevolution * points));
    return Math.hypot(re, im);
  };
  return Array.from({ length: HIGHEST_ORDER }, (_, i) => i + 1)
    .filter((order) => order >= FEWEST_A_TURN && order !== linePerRevolution)
    .map((order) => ({ order, amplitude: amplitudeOf(order) }))
    .sort((a, b) => b.amplitude - a.amplitude)
    .slice(0, LINES_TRIED)
    .map(({ order }) => order);
}
