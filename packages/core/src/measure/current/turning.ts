import { median, quantile } from '../../signal/levels.js';
import { barsForHumps, humpsForBars } from './commutators.js';
import { removeMains } from '../../signal/mains.js';
import { toOrder } from './order.js';
import type { KnownCount } from './readings.js';
import { fastNoise } from '../../signal/fast-noise.js';
import { findRevolution, type Revolution, type Untold } from './revolution.js';
import { roundingShare } from '../../signal/rounding.js';
import { makeRotorMap, type RotorMap } from './rotor-map.js';
import { measureLine, type LineSpeed } from './speed.js';
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
/** Points a turn of the map: enough to place notches within a hump, whatever line was followed. */
const MAP_POINTS = 192;

/** @returns why not, when the record shows no revolution */
export function measureTurning(
  signal: WorkingSignal,
  known: KnownCount,
  quietNoiseA: number | undefined,
  afterStart: boolean,
): Turning | Untold {
  const { sampleRateHz, fenced, current, stepA } = signal;
  const noiseA = quietNoiseA ?? fastNoise(current);
  const length = Math.min(fenced.length, Math.round(PATTERN_S * sampleRateHz));
  const from = Math.floor((fenced.length - length) / 2);
  const look = (samples: Float32Array, isCut: boolean) => {
    removeMains(samples, sampleRateHz);
    const recurring = roundingShare(samples, stepA, noiseA);
    return findRevolution({ samples, sampleRateHz, recurring, isCut }, known);
  };
  const found = look(fenced.slice(from, from + length), false);
  // Gaps at random drown the humps: what is left of the current above them may still tell.
  const isSure = !('untold' in found) && found.confidence >= SURE;
  const revolution = isSure ? found : likelier(found, lookAbove(current.subarray(from, from + length), look));
  if ('untold' in revolution) return revolution;
  const line = measureLine(fenced, sampleRateHz, revolution.lineHz, revolution.linePerRevolution, afterStart);
  if (line.halfWidthHz > MOST_SCATTER * line.hz) {
    return {
      untold:
        'what repeats in the current changes its rate from moment to moment, as no rotor can; it stands or barely turns, or something else disturbs the clamp',
    };
  }
  const points = Math.ceil(MAP_POINTS / revolution.linePerRevolution);
  const order = toOrder(current.subarray(from, from + length), revolution.track, points);
  const { linePerRevolution, perRevolution } = revolution;
  const humpS = linePerRevolution / line.hz / perRevolution;
  const isGiven = known.bars !== undefined && humpsForBars(known.bars) === perRevolution;
  const bars = isGiven ? known.bars : barsForHumps(perRevolution);
  const map = makeRotorMap(order, linePerRevolution, perRevolution, signal.level, humpS, bars);
  return { revolution, line, noiseA, ...(map && { map }) };
}

function likelier(a: Revolution | Untold, b: Revolution | Untold): Revolution | Untold {
  if ('untold' in b) return a;
  return 'untold' in a || b.confidence > a.confidence ? b : a;
}

/** Looks at what is left after cutting off below the median by twice what the better half of the samples lie above it. */
function lookAbove(
  current: Float32Array,
  look: (samples: Float32Array, isCut: boolean) => Revolution | Untold,
): Revolution | Untold {
  const few = thin(current, 32_768);
  const level = median(few);
  const most = 2 * (quantile(few, 0.95) - level);
  const isCut = few.filter((value) => Math.abs(value - level) > most).length > CUT_SHARE * few.length;
  return look(
    current.map((value) => Math.max(level - most, Math.min(level + most, value))),
    isCut,
  );
}
