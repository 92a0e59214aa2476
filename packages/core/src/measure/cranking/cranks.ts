import type { Role } from '../../capture/capture.js';
import { wholeOf } from '../../capture/source.js';
import { boxDecimate } from '../../signal/blocks.js';
import { levels, median, quantile } from '../../signal/levels.js';
import type { Range } from '../../signal/ranges.js';
import { recorderStep } from '../../signal/rounding.js';
import { hann } from '../../signal/spectrum.js';
import { thin } from '../../signal/thin.js';
import { toneSum } from '../../signal/tone.js';
import type { Material } from '../analyser.js';
import { catchIn } from './catches.js';
import { QUICK_HZ, swingsIn, type Swinging, type Swings } from './compressions.js';

/** A time in which the starter turned the engine. */
export interface Crank {
  /** Where its swings can be seen, s on the record's clock. */
  readonly fromS: number;
  readonly untilS: number;
  /** Absent where it shows by its levels alone, since the engine caught. */
  readonly compressionsHz?: number;
  readonly seenIn: Role;
  /** Volts in the midst of the swings, and their lowest; absent where only the current shows them. */
  readonly volts?: { readonly mean: number; readonly lowest: number };
}

/** The nearer to the battery, the more it shows; the pump's current swings with its volts. */
const VOLTS = [
  'battery_voltage',
  'module_supply_voltage',
  'relay_output_voltage',
  'pump_feed_voltage',
] as const satisfies readonly Role[];

/** A course of so many values a second tells twenty swings a second, and smooths over humps. */
const COURSE_HZ = 200;
/** Values a second that tell a notch from what is beside it. */
const FINE_HZ = 1000;
/** Of 2 400 rpm and more, s. */
const SLOWEST_TURN_S = 0.025;
/** A median goes from step to step where volts drift by and by: less than so many steps are no swing. */
const STEPS = 3;
/** Whoever records a start keeps a minute at most; of longer ones so many medians would take their time, s. */
const START_MOST_S = 60;
/**
 * A battery gives way by some tenths of a volt and more at each compression; a driver that chops takes all of it (common practice,
 * no published source).
 */
const OF_VOLTS: Swings = { leastShare: 0.008, mostShare: 0.5 };
/** Through a winding's resistance alone that is several times as much of the current; a pump's own pulses are less. */
const OF_CURRENT: Swings = { leastShare: 0.06, mostShare: 0.8 };
/** What is cranked is below what the battery has else; without that only larger swings tell it. */
const PULLED_SHARE = 0.04;
const BY_ITSELF = 0.012;
/** So many swings at a time are looked at side by side; the engine doesn't turn evenly for longer. */
const SWINGS_A_LOOK = 4;
/** A tone is known some way into its swings, s. */
const BEGINS_S = 0.3;
/** Of the swing: what goes so far beyond its highest is no more of it; the pump's own draw moves it by less as it comes up to speed. */
const BEYOND = 0.8;
/** Enough to know a level by. */
const LOOKED_AT = 4096;
/** Less is off. */
const ON_SHARE = 0.4;
/** Of a current: what is left of one that is gone, a clamp's zero and noise. */
const GONE_SHARE = 0.15;
/** From one value of the course to the next a pulled battery comes up by less. */
const CLIMBS = 0.03;
/** A starter takes more of the volts than this, and a pump that comes up to speed less. */
const PULLED_LEAST = 0.06;
/** What the first pull and the last compression look like lies so far outside the swings at most, s. */
const REACH_S = 1;
/** A contact that opens while the engine is cranked is looked across for so long, s. */
const OPENS_S = 0.5;
/** A charging system that takes over shows in the current within so long, s. */
const AFTERWARDS_S = 2;
/** Humps that a slow recorder folds back may swing as slowly: of a current alone none is told from so few samples a second. */
const TELLS_ALONE_HZ = 5000;

/** A channel averaged over humps. */
interface Course {
  readonly role: Role;
  readonly values: Float32Array;
  /** Values a second. */
  readonly hz: number;
  /** Share of its level that a swing needs, where the recorder's steps aren't averaged out. */
  readonly least?: number;
}

/** Times in which the starter turned the engine, by the volts where they show it. */
export function findCranks(material: Material): Crank[] {
  const volts = VOLTS.flatMap((role) => courseOf(material, role));
  const [amperes] = courseOf(material, 'pump_current').map(upright);
  const shownBy = (course: Course, slowestHz?: number) =>
    swingsIn(
      course.values,
      course.hz,
      { ...OF_VOLTS, leastShare: Math.max(OF_VOLTS.leastShare, course.least ?? 0) },
      slowestHz,
    )
      .filter((swinging) => isBelow(course, swinging, slowestHz ? Infinity : BY_ITSELF))
      .filter((swinging) => isFollowed(course, amperes, swinging))
      .map((swinging) => crankOf(swinging, course, amperes, material.startS));
  const [beside] = volts;
  const seen = beside && catchIn(beside.values, beside.hz);
  const caught = seen && goesAlong(seen, beside, amperes) ? crankIn(seen, beside, material.startS) : undefined;
  const all = [() => volts, () => VOLTS.flatMap((role) => withoutNotches(material, role))];
  // So few swings tell a crank only where the volts are pulled down as well.
  for (const slowestHz of [undefined, QUICK_HZ]) {
    for (const courses of all) {
      for (const course of courses()) {
        const found = shownBy(course, slowestHz);
        if (found.length > 0) return caught ? besideCaught(found, caught) : found;
      }
    }
  }
  const alone =
    amperes && material.sampleRateHz >= TELLS_ALONE_HZ ? swingsIn(amperes.values, amperes.hz, OF_CURRENT) : [];
  // A pump that drags swings as well: volts beside it have to be pulled down, though they be too coarse to swing.
  const byCurrent = alone
    .filter((swinging) => !beside || (isBelow(beside, swinging, Infinity) && isFollowed(beside, amperes, swinging)))
    .map((swinging) => crankOf(swinging, beside ?? amperes, amperes, material.startS));
  return byCurrent.length > 0 || !caught ? byCurrent : [caught];
}

/** Swings are told in a part of a crank, or somewhat beyond it; of an engine that caught its levels tell where that began and ended. */
function besideCaught(found: readonly Crank[], caught: Crank): Crank[] {
  const isOf = ({ fromS, untilS }: Crank) => fromS < caught.untilS && untilS > caught.fromS;
  const swung = found.find(isOf);
  if (!swung) return [...found];
  return [...found.filter((one) => !isOf(one)), { ...swung, ...caught }].sort((a, b) => a.fromS - b.fromS);
}

/** Whether the current is lower than afterwards where the volts are: a pump that has less to do lets its feed rise. */
function goesAlong({ from, to }: Range, { role, hz }: Course, amperes: Course | undefined): boolean {
  if (!amperes || role === 'battery_voltage' || !hasLevel(amperes, from, to)) return true;
  const after = amperes.values.subarray(to, to + Math.round(AFTERWARDS_S * hz));
  return after.length > 0 && median(amperes.values.subarray(from, to)) < median(after);
}

function courseOf({ signals, sampleRateHz }: Material, role: Role): Course[] {
  const source = signals[role]?.source;
  if (!source?.isComplete) return [];
  const size = Math.max(1, Math.round(sampleRateHz / COURSE_HZ));
  return [{ role, values: boxDecimate(wholeOf(source), 0, source.length, size), hz: sampleRateHz / size }];
}

/**
 * The same beside bars that lose contact: for less than half of a turn the current breaks off, and the volts are up. Its median
 * leaves that out, and a switch's edges as they are.
 */
function withoutNotches(material: Material, role: Role): Course[] {
  const { signals, sampleRateHz } = material;
  const source = signals[role]?.source;
  if (!source?.isComplete || source.length > START_MOST_S * sampleRateHz) return [];
  const size = Math.max(1, Math.round(sampleRateHz / FINE_HZ));
  const fine = boxDecimate(wholeOf(source), 0, source.length, size);
  const stride = Math.max(1, Math.round(sampleRateHz / size / COURSE_HZ));
  const reach = Math.round((SLOWEST_TURN_S * sampleRateHz) / size / 2);
  const values = Float32Array.from({ length: Math.floor(fine.length / stride) }, (_, i) => {
    const middle = Math.round((i + 0.5) * stride);
    return median(fine.subarray(Math.max(0, middle - reach), Math.min(fine.length, middle + reach + 1)));
  });
  const least = (STEPS * recorderStep(wholeOf(source))) / quantile(thin(values, LOOKED_AT), 0.9);
  return [{ role, values, hz: sampleRateHz / size / stride, least }];
}

/** @param bySwing share of their level that volts swing by which need no other level beside them */
function isBelow({ values }: Course, { from, to }: Swinging, bySwing: number): boolean {
  const { mean, min, max } = levels(values, from, to);
  return max - min > bySwing * mean || mean < (1 - PULLED_SHARE) * quantile(thin(values, LOOKED_AT), 0.9);
}

/**
 * Whether the current goes with the volts, or says nothing of it: what the pump itself does to its feed goes against them. A
 * battery hardly feels the pump. Through a clamp that passes no steady current swings come shifted, and nothing shows which
 * way it sits.
 */
function isFollowed(
  { role, values, hz }: Course,
  amperes: Course | undefined,
  { from, to, hz: tone }: Swinging,
): boolean {
  if (!amperes || role === 'battery_voltage' || !hasLevel(amperes, from, to)) return true;
  const size = Math.round(SWINGS_A_LOOK * (hz / tone));
  const window = hann(size);
  const together: number[] = [];
  for (let at = from; at + size <= to; at += size >> 1) {
    const [v, i] = [values, amperes.values].map((samples) => toneSum(samples, at, window, tone / hz));
    together.push((v.re * i.re + v.im * i.im) / (Math.hypot(v.re, v.im) * Math.hypot(i.re, i.im)));
  }
  // A circuit that opens within one of them outweighs its swings: each counts alike.
  return together.length > 0 && median(together) > 0;
}

/** Whether a current is farther from zero than it swings. */
function hasLevel({ values }: Course, from: number, to: number): boolean {
  const few = thin(values.subarray(from, to), LOOKED_AT);
  return Math.abs(median(few)) > (quantile(few, 0.9) - quantile(few, 0.1)) / 2;
}

/** @param course that shows best where it begins and ends */
function crankOf(swinging: Swinging, course: Course, amperes: Course | undefined, startS: number): Crank {
  const range = course.role === 'pump_current' ? widened(swinging, course) : pulledDown(course, amperes, swinging);
  return { ...crankIn(range, course, startS), compressionsHz: swinging.hz };
}

function crankIn({ from, to }: Range, { role, values, hz }: Course, startS: number): Crank {
  const part = values.subarray(from, to);
  const off = ON_SHARE * median(part);
  // Nothing of what a contact that opens leaves is the starter's.
  const { mean, min } = levels(part.filter((value) => value > off));
  return {
    fromS: startS + from / hz,
    untilS: startS + to / hz,
    seenIn: role,
    ...(role !== 'pump_current' && { volts: { mean, lowest: min } }),
  };
}

/** Which way a clamp sits, and where its zero is, matters little to a swing. */
function upright(course: Course): Course {
  const few = thin(course.values, LOOKED_AT);
  const [low, middle, high] = [quantile(few, 0.02), median(few), quantile(few, 0.98)];
  const isInverted = Math.abs(low) > Math.abs(high) && middle < 0;
  return isInverted ? { ...course, values: course.values.map((value) => -value) } : course;
}

function widened({ from, to }: Swinging, { values, hz }: Course) {
  const by = Math.round(BEGINS_S * hz);
  return { from: Math.max(0, from - by), to: Math.min(values.length, to + by) };
}

/**
 * From where the volts were pulled down to where they are back above what they swing by, or where they are off, unless a contact
 * opens for a moment, or the pump itself and lets its feed rise: the starter goes on meanwhile.
 */
function pulledDown({ values, hz }: Course, amperes: Course | undefined, { from, to }: Swinging) {
  // Beside its swings a stretch holds the begin of the first pull, or the end of the last.
  const edge = Math.min(Math.round(BEGINS_S * hz), Math.floor((to - from) / 3));
  const inside = { from: from + edge, to: to - edge };
  const inner = values.subarray(inside.from, inside.to);
  const middle = median(inner);
  const highest = middle + Math.max((1 + 2 * BEYOND) * (middle - quantile(inner, 0.1)), PULLED_LEAST * middle);
  const isGone = goneIn(amperes, inside);
  const isOff = (i: number) => values[i] <= ON_SHARE * middle || isGone(i);
  const pulled = () => {
    let limit = highest;
    return (i: number) => {
      const isSo = !isOff(i) && values[i] < limit;
      // A battery comes up by and by while it is cranked; let go it jumps.
      if (isSo) limit = Math.max(limit, (1 + CLIMBS) * values[i]);
      return isSo;
    };
  };
  const row = {
    length: values.length,
    most: edge + Math.round(REACH_S * hz),
    across: Math.round(OPENS_S * hz),
    // A value on its edge is of both.
    isGap: (i: number) => isOff(i - 1) || isOff(i) || isOff(i + 1),
  };
  const first = lastInRow({ ...row, holds: pulled(), from: inside.from, step: -1 }) ?? from;
  const last = lastInRow({ ...row, holds: pulled(), from: inside.to - 1, step: 1 }) ?? to - 1;
  return { from: first, to: last + 1 };
}

/** Where next to nothing is left of the current that flows while the engine is cranked. */
function goneIn(amperes: Course | undefined, { from, to }: Range): (i: number) => boolean {
  if (!amperes || !hasLevel(amperes, from, to)) return () => false;
  const least = GONE_SHARE * Math.abs(median(amperes.values.subarray(from, to)));
  return (i) => Math.abs(amperes.values[i]) < least;
}

interface Row {
  readonly from: number;
  readonly step: 1 | -1;
  readonly length: number;
  readonly most: number;
  /** So many gaps in a row are stepped over. */
  readonly across: number;
  readonly holds: (i: number) => boolean;
  readonly isGap: (i: number) => boolean;
}

/** The last place in a row at which something holds, across short gaps; undefined where more of them follow one another. */
function lastInRow({ from, step, length, most, across, holds, isGap }: Row): number | undefined {
  let place = from;
  for (let next = from + step; next >= 0 && next < length; next += step) {
    if (holds(next)) place = next;
    else if (!isGap(next) || Math.abs(next - place) > across) break;
    if (Math.abs(place - from) >= most) return undefined;
  }
  return place;
}
