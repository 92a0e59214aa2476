import type { Role } from '../../capture/capture.js';
import type { Signal } from '../../capture/signal-record.js';
import { ArraySource, wholeOf } from '../../capture/source.js';
import { signalFor, type Material } from '../analyser.js';
import { recorderStep } from '../../signal/rounding.js';
import { measurePulses } from '../pulses/pulse-train.js';
import { fromZero, readingOf, upright, type ClampReading } from './clamp.js';
import { blockSize, Courses } from './course.js';
import type { Stretch } from './incident.js';

/** One channel by blocks. */
export interface Channel {
  readonly role: Role;
  readonly name: string;
  readonly values: Float64Array;
  /** The recorder's step. */
  readonly step: number;
}

/** A record's channels as they are and by blocks. */
export interface Recorded {
  /** Of the first block, on the record's clock. */
  readonly startS: number;
  readonly sampleRateHz: number;
  /** Samples a block, and its length, s. */
  readonly size: number;
  readonly blockS: number;
  /** A driver switches the feed; blocks hold whole periods of it. */
  readonly isSwitched: boolean;
  /** How often, Hz. */
  readonly drivenHz?: number;
  readonly courses: Courses;
  /** Of the feed against battery −. */
  readonly feedV: Float32Array;
  /** Between the pump's two pins, where its ground was recorded; the feed else. */
  readonly acrossV: Float32Array;
  readonly hasGround: boolean;
  /** The pump's current the right way round, and how its clamp is to be taken. */
  readonly clamp?: { readonly amperes: Float32Array; readonly reading: ClampReading };
  readonly channels: readonly Channel[];
}

/** Recorded together, these tell what fell. */
const WATCHED = [
  'battery_voltage',
  'relay_output_voltage',
  'module_supply_voltage',
  'pump_feed_voltage',
  'pump_ground_voltage',
  'pump_current',
  'rail_pressure',
] as const satisfies readonly Role[];

/** Enough of a record to see whether its feed is switched, which is for most of it, and more than some bounces. */
const SEEN_SAMPLES = 1_000_000;
const FEWEST_CYCLES = 8;
const SWITCHED_SHARE = 0.5;
/** A driver lets go of the feed; a pump with dead bars only takes its load off it. */
const LETS_GO_SHARE = 0.5;

export function readRecord(material: Material): Recorded {
  const { signals, sampleRateHz } = material;
  const feed = signalFor(material, 'pump_feed_voltage');
  const count = Math.max(...WATCHED.map((role) => signals[role]?.source.length ?? 0));
  const periodS = switchingPeriod(feed, sampleRateHz);
  const size = blockSize(sampleRateHz, count, periodS);
  const blockS = size / sampleRateHz;
  const courses = new Courses();
  // These are looked at again and again; of the others their course is enough.
  const feedV = wholeOf(feed.source);
  const { pump_current: current, pump_ground_voltage: ground } = signals;
  const acrossV = ground ? acrossPump(feedV, wholeOf(ground.source)) : feedV;
  const clamp = current && clampOf(current, courses, { size, blockS, sampleRateHz, volts: courses.of(acrossV, size) });
  const channels = WATCHED.flatMap((role): Channel[] => {
    const signal = signals[role];
    if (!signal) return [];
    const isClamp = signal === current && clamp !== undefined;
    const samples = signal === feed ? feedV : isClamp ? clamp.amperes : wholeOf(signal.source);
    const values = isClamp ? clamp.values : courses.of(samples, size);
    return [{ role, name: signal.name, values, step: recorderStep(samples) }];
  });
  return {
    startS: material.startS,
    ...{ sampleRateHz, size, blockS, isSwitched: periodS !== undefined, courses },
    ...(periodS !== undefined && { drivenHz: 1 / periodS }),
    ...{ feedV, acrossV, hasGround: ground !== undefined, channels },
    ...(clamp && { clamp }),
  };
}

interface Beside {
  readonly size: number;
  readonly blockS: number;
  readonly sampleRateHz: number;
  /** At the pump, by blocks. */
  readonly volts: Float64Array;
}

function clampOf(signal: Signal, courses: Courses, { size, ...beside }: Beside) {
  const samples = wholeOf(signal.source);
  const course = courses.of(samples, size);
  const reading = readingOf(signal, course, beside);
  return { amperes: upright(samples, reading), reading, values: fromZero(course, reading) };
}

/** How often a driver switches the feed, s; undefined where none does. */
function switchingPeriod({ source }: Signal, sampleRateHz: number): number | undefined {
  const part = new ArraySource(source.read(0, SEEN_SAMPLES));
  const { frequencyHz, cycles, lowV = 0, highV = 0 } = measurePulses(part, sampleRateHz, 0, 'the feed').train;
  if (lowV > LETS_GO_SHARE * highV) return undefined;
  // A contact may bounce at a steady rate, but not most of the time.
  const lasted = cycles / frequencyHz / (part.length / sampleRateHz);
  return cycles >= FEWEST_CYCLES && lasted > SWITCHED_SHARE ? 1 / frequencyHz : undefined;
}

/** Volts between the pump's two pins: what the ground rises by is taken from the feed. */
function acrossPump(feedV: Float32Array, riseV: Float32Array): Float32Array {
  const across = new Float32Array(feedV.length);
  for (let i = 0; i < across.length; i++) across[i] = feedV[i] - riseV[i];
  return across;
}

/** A piece of a record as a record of its own. */
export function partOf(recorded: Recorded, { from, to }: Stretch): Recorded {
  const { size, feedV, acrossV, clamp, channels } = recorded;
  const cut = (samples: Float32Array) => samples.subarray(from * size, to * size);
  const across = cut(acrossV);
  return {
    ...recorded,
    startS: recorded.startS + from * recorded.blockS,
    feedV: acrossV === feedV ? across : cut(feedV),
    acrossV: across,
    ...(clamp && { clamp: { ...clamp, amperes: cut(clamp.amperes) } }),
    channels: channels.map((channel) => ({ ...channel, values: channel.values.subarray(from, to) })),
  };
}
