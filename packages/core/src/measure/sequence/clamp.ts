import type { Signal } from '../../capture/signal-record.js';
import { median, quantile } from '../../signal/levels.js';
import { thin } from '../../signal/thin.js';
import { isCoupled } from '../current/coupling.js';
import type { Segments } from '../current/runs.js';
import { findSegments } from '../current/segments.js';
import { pausesIn } from './powered-parts.js';
import { onIn, poweredStretch, SWITCH_BLOCKS, whileOn } from './powered.js';

/** How a clamp's readings are to be taken. */
export interface ClampReading {
  /** 1, or -1 where it sits backwards. */
  readonly sign: 1 | -1;
  /** What it reads without current, A. */
  readonly zeroA: number;
  /** Why it tells no level, where it doesn't: nothing flows, or it passes no steady current. */
  readonly tellsNone?: 'idle' | 'coupled';
}

/** Enough blocks to know a level by. */
const LOOKED_AT = 65_536;
/** Of a weak feed so little may be left while a rotor starts; what leaks into an open one is less (common practice, no published source). */
const SAGS_SHARE = 0.15;
/** Until the volts of a rotor that coasts are seen to fall, s. */
const COASTS_S = 0.05;
/** A clamp's zero is known by so much of what is off, s. */
const ZERO_S = 0.01;
/** An input that passes no steady current has forgotten it long before, s. */
const FORGOTTEN_S = 3;
/** No pump runs on less than a clamp's own wandering (common practice, no published source), A. */
const LEAST_A = 0.3;

/**
 * The volts say when the pump had power, which a current by itself can only be guessed from: what the clamp reads before is its
 * zero, and in the middle of what it reads then flows the draw.
 * @param course of the clamp's samples as they are
 * @param volts at the pump, by blocks
 */
export function readingOf(
  clamp: Signal,
  course: Float64Array,
  {
    volts,
    blockS,
    sampleRateHz,
  }: { readonly volts: Float64Array; readonly blockS: number; readonly sampleRateHz: number },
): ClampReading {
  const powered = poweredStretch(volts, undefined, blockS);
  const [pause] = pausesIn(volts, undefined, blockS);
  const first = { from: powered.from, to: pause?.from ?? powered.to };
  const offTo = Math.max(0, onIn(volts, SAGS_SHARE).from - SWITCH_BLOCKS);
  const level = (from: number, to: number) => median(thin(course.subarray(from, to), LOOKED_AT));
  const isOff = offTo * blockS >= ZERO_S;
  const zeroA = isOff && !clamp.zeroStated ? level(0, offTo) : 0;
  const flowing = whileOn(course, volts, powered);
  const draw = farther(thin(flowing, LOOKED_AT), zeroA);
  const sign = draw < 0 ? -1 : 1;
  // The volts that a rotor makes as it coasts hide for a while that nothing flows any more.
  const to = first.to < course.length ? first.to - Math.round(COASTS_S / blockS) : first.to;
  const at = (block: number) => Math.round(block * blockS * sampleRateHz);
  const forgets = () => {
    const samples = clamp.source.read(0, clamp.source.length);
    // What the clamp shows by itself knows the edges of its current better, and how it fades after them.
    const byItself = findSegments(samples, sampleRateHz, Boolean(clamp.zeroStated));
    const byVolts: Segments = {
      ...(isOff && { quiet: { from: 0, to: at(offTo) }, quietLevel: zeroA }),
      inverted: sign < 0,
      passesSteady: byItself.passesSteady,
      runs: [{ from: at(Math.min(offTo, first.from)), to: at(to) }],
    };
    return [byVolts, byItself].some((segments) => isCoupled(samples, sampleRateHz, segments));
  };
  const isShort = (first.to - first.from) * blockS < FORGOTTEN_S;
  const tellsNone = isShort && forgets() ? 'coupled' : Math.abs(draw) < LEAST_A ? 'idle' : undefined;
  return { sign, zeroA, ...(tellsNone && { tellsNone }) };
}

/** A pump may flow for less than half of the time in which it could, so the quarter that is farther from the zero tells its draw. */
function farther(flowing: Float32Array, zeroA: number): number {
  if (flowing.length === 0) return 0;
  const [low, high] = [quantile(flowing, 0.25) - zeroA, quantile(flowing, 0.75) - zeroA];
  return Math.abs(low) > Math.abs(high) ? low : high;
}

/** @returns the samples the right way round; the same ones where they are */
export function upright(samples: Float32Array, { sign }: ClampReading): Float32Array {
  return sign < 0 ? samples.map((value) => -value) : samples;
}

/** @returns the clamp's course the right way round, from its zero */
export function fromZero(course: Float64Array, { sign, zeroA }: ClampReading): Float64Array {
  return zeroA === 0 && sign > 0 ? course : course.map((value) => sign * (value - zeroA));
}
