import { median, quantile } from '../../signal/levels.js';
import { barsForHumps, humpsForBars } from './commutators.js';
import { between, type CurrentView } from './current-view.js';
import { followTurn } from './follow-turn.js';
import { bridged, bridgeGaps, comeBack } from './gaps.js';
import { removeMains } from '../../signal/mains.js';
import { toOrder } from './order.js';
import { HIGHEST_HUMP, type KnownCount, type Stretch } from './readings.js';
import { fastNoise } from '../../signal/fast-noise.js';
import { findRevolution, type Revolution, type Untold } from './revolution.js';
import { DITHER, roundingShare } from '../../signal/rounding.js';
import { mayBeMains } from '../../signal/mains.js';
import { arePartsOfHumps, makeRotorMap, mayBePartsOfHumps, type RotorMap } from './rotor-map.js';
import type { LineSpeed } from './speed.js';
import { thin } from '../../signal/thin.js';
import type { WorkingSignal } from './working-signal.js';

/** What the humps say of the rotor: revolution, speed, map. */
export interface Turning {
  readonly revolution: Revolution;
  readonly line: LineSpeed;
  readonly map?: RotorMap;
  /** Recorder noise at the working rate, A. */
  readonly noiseA: number;
}

/** The pattern is looked for in this much of the steady part, from its middle; the speed is followed through all of it. */
const PATTERN_S = 1.6;
/** A rotor's inertia holds its speed: a line whose mean is more uncertain than this isn't one line. */
const MOST_SCATTER = 0.05;
/** A turn found with this confidence needs no second look. */
const SURE = 0.6;
/** Of the samples: with fewer cut off the current goes on without jumps. */
const CUT_SHARE = 0.05;
/** Of the samples: fewer say little of the rest. */
const GAP_SHARE = 0.005;
/** So many samples show a distribution well enough. */
const LOOKED_AT = 32_768;
/** From top to bottom: a line that is less of a recorder's step shows in it by chance, with what else moves the current. */
const LEAST_OF_A_STEP = 0.2;
/** Points a turn of the map: enough to place notches within a hump, whatever line was followed. */
const MAP_POINTS = 192;

/**
 * @param mostA as much may flow, where the clamp's zero isn't known; the level where it is
 * @returns why not, when the record shows no revolution
 */
export function measureTurning(
  signal: WorkingSignal,
  known: KnownCount,
  quietNoiseA: number | undefined,
  afterStart: boolean,
  mostA: number,
): Turning | Untold {
  const { sampleRateHz, fenced, current, stepA } = signal;
  const noiseA = quietNoiseA ?? fastNoise(current);
  const length = Math.min(fenced.length, Math.round(PATTERN_S * sampleRateHz));
  const from = Math.floor((fenced.length - length) / 2);
  const middle = current.subarray(from, from + length);
  let hasMains = false;
  const look: Look = ({ samples, isCut, gaps }, whole) => {
    if (removeMains(samples, sampleRateHz)) hasMains = true;
    const recurring = roundingShare(samples, stepA, noiseA);
    return {
      whole,
      revolution: findRevolution({ samples, sampleRateHz, recurring, isCut, ...(gaps && { gaps }) }, known),
    };
  };
  const first = look({ samples: fenced.read(from, from + length).slice(), isCut: false }, () => fenced);
  const { whole, revolution: read } = lookAgain(first, current, middle, look);
  if ('untold' in read) return read;
  const followed = followTurn(whole(), sampleRateHz, read, { from, length, hasMains }, afterStart);
  if (!followed) {
    return {
      untold:
        'the humps are lost for a part of the stretch that was measured: the speed changes too fast there, or something covers them',
    };
  }
  const { line } = followed;
  const hidden = isHidden(line, stepA, noiseA);
  const revolution = hidden ? likelyOnly(followed.revolution, known) : followed.revolution;
  if (line.halfWidthHz > MOST_SCATTER * line.hz) {
    return {
      untold:
        'what repeats in the current changes its rate from moment to moment, as no rotor can; it stands or barely turns, or something else disturbs the clamp',
    };
  }
  const points = Math.ceil(MAP_POINTS / revolution.linePerRevolution);
  const order = toOrder(middle, revolution.track, points);
  const { linePerRevolution, perRevolution } = revolution;
  const humpS = linePerRevolution / line.hz / perRevolution;
  const isGiven = known.bars !== undefined && humpsForBars(known.bars) === perRevolution;
  const barCount = isGiven ? known.bars : barsForHumps(perRevolution);
  // What comes once or twice a turn passes for worn bars.
  const notOwn = [1, 2].filter((of) => mayBeMains((of * line.hz) / linePerRevolution, middle.length / sampleRateHz));
  const map = makeRotorMap(
    order,
    linePerRevolution,
    { perRevolution, barCount, humpS, meanA: signal.level, mostA },
    notOwn,
  );
  const { basis } = revolution;
  // Unless bars were given nobody knows that humps are whole.
  const isCut = map && basis !== 'given' && (mayBePartsOfHumps(map, basis === 'measured') || arePartsOfHumps(map));
  return { revolution, line, noiseA, ...(map && !isCut && { map }) };
}

/** Whether a line is lost in a recorder's step that no noise makes random: what moves the reading then is something else that passes. */
function isHidden({ track }: LineSpeed, stepA: number, noiseA: number): boolean {
  return 2 * median(track.amplitude) < LEAST_OF_A_STEP * stepA && noiseA < DITHER * stepA;
}

/** What was read, as no more than likely. */
function likelyOnly(revolution: Revolution, { bars }: KnownCount): Revolution {
  return { ...revolution, basis: bars === undefined ? 'assumed' : 'given', contradictsGiven: false };
}

/** What a look at the middle of a current found, and the whole current looked at like that. */
interface Seen {
  readonly whole: () => CurrentView;
  readonly revolution: Revolution | Untold;
}

type Look = (view: Pick<Stretch, 'samples' | 'isCut' | 'gaps'>, whole: () => CurrentView) => Seen;

/**
 * Gaps drown the humps. What the better half of the samples lie above the median, twice that below it is cut off; and where
 * gaps don't come back with the rotor, they are left out altogether. The likeliest turn of all looks is taken.
 */
function lookAgain(first: Seen, current: Float32Array, middle: Float32Array, look: Look): Seen {
  const few = thin(middle, LOOKED_AT);
  const level = median(few);
  const most = 2 * (quantile(few, 0.95) - level);
  const floor = level - Math.max(most, HIGHEST_HUMP * Math.abs(level));
  const shareOf = (isSuch: (value: number) => boolean) => few.filter(isSuch).length / few.length;
  const hasGaps = shareOf((value) => value < floor) > GAP_SHARE;
  const isSure = confidenceOf(first) >= SURE;
  if (isSure && !hasGaps) return first;
  const isCut = shareOf((value) => Math.abs(value - level) > most) > CUT_SHARE;
  const cut = (samples: Float32Array) => between(samples, level - most, level + most);
  const cutMiddle = () => cut(middle).read(0, middle.length);
  const best = isSure
    ? first
    : likelier(
        first,
        look({ samples: cutMiddle(), isCut }, () => cut(current)),
      );
  if (!hasGaps) return best;
  const { samples, gaps } = bridgeGaps(middle, floor, level);
  const isRotors = ({ revolution }: Seen) => !('untold' in revolution) && comeBack(gaps, revolution.track);
  if (isRotors(best)) return best;
  const betweenGaps = look({ samples, isCut: false, gaps }, () => bridged(current, floor, level));
  return isRotors(betweenGaps) ? best : likelier(best, betweenGaps);
}

function confidenceOf({ revolution }: Seen): number {
  return 'untold' in revolution ? 0 : revolution.confidence;
}

function likelier(a: Seen, b: Seen): Seen {
  return confidenceOf(b) > confidenceOf(a) ? b : a;
}
