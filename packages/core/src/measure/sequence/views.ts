import type { Role } from '../../capture/capture.js';
import type { Signal } from '../../capture/signal-record.js';
import { ArraySource, wholeOf } from '../../capture/source.js';
import { removeMains } from '../../signal/mains.js';
import type { Material } from '../analyser.js';
import { measurePulses } from '../pulses/pulse-train.js';
import { START_S } from '../current/stalls.js';
import { fromZero, readingOf, upright } from './clamp.js';
import { blockSize, Courses } from './course.js';
import type { Stretch } from './incident.js';
import type { LoadView } from './load-view.js';
import { loadView, SMOOTH_S } from './load-course.js';
import { loadLine, type LoadLine } from './load-line.js';
import { onIn, poweredStretch } from './powered.js';
import { supplyFailures, type SupplyView } from './supply-side.js';

/** One channel by blocks. */
export interface Channel {
  readonly role: Role;
  readonly name: string;
  readonly values: Float64Array;
}

/** All that the sequence is told from. */
export interface Views {
  readonly blockS: number;
  /** A driver switches the feed; everything here is averaged over its periods. */
  readonly isSwitched: boolean;
  /** There is a current on the record, through a clamp or an input that passes no steady one: it tells no level. */
  readonly isCoupled: boolean;
  /** From the first block with power to the last. */
  readonly powered: Stretch;
  /** The same without what a switch-on does to the volts. */
  readonly fed: Stretch;
  /** The same without the start, in which current and pressure go their own way. */
  readonly settled: Stretch;
  /** Of the pump's two pins: what its current costs on the way in and on the way out. */
  readonly line?: LoadLine;
  /** Of the feed alone, against battery −. */
  readonly source?: LoadLine;
  readonly supply?: SupplyView;
  readonly current?: LoadView;
  readonly pressure?: LoadView;
  readonly channels: readonly Channel[];
}

/** Recorded together, these tell what fell. */
export const WATCHED = [
  'battery_voltage',
  'relay_output_voltage',
  'module_supply_voltage',
  'pump_feed_voltage',
  'pump_ground_voltage',
  'pump_current',
  'rail_pressure',
] as const satisfies readonly Role[];

/** Where a clamp's lead picks up the mains its current is smoothed over a period of them, s. */
const MAINS_S = 0.02;
/** A dozen periods of the mains, s. */
const PIECE_S = 0.25;
const MOST_PIECES = 20;
/** After a switch-on pressure builds up, and the current with it: most of the usual prime time, s. */
const STARTS_S = 1.5;
/** Of a weak feed so little may be left while a rotor starts; what leaks into an open one is less (common practice, no published source). */
const SAGS_SHARE = 0.15;
/** Enough of a record to see whether its feed is switched, which is for most of it, and more than some bounces. */
const SEEN_SAMPLES = 1_000_000;
const FEWEST_CYCLES = 8;
/** A driver lets go of the feed; a pump with dead bars only takes its load off it. */
const LETS_GO_SHARE = 0.5;
const SWITCHED_SHARE = 0.5;
/** A block in which a feed was switched on holds less than the volts, and without spikes its neighbour too, s. */
const SWITCHES_S = 0.002;
/** A record that begins later than this with power was switched on within it, s. */
const BEGINS_S = 0.005;

export function viewsOf({ signals, sampleRateHz }: Material): Views {
  const count = Math.max(0, ...WATCHED.map((role) => signals[role]?.source.length ?? 0));
  const feed = signals.pump_feed_voltage;
  const periodS = feed && switchingPeriod(feed, sampleRateHz);
  const size = blockSize(sampleRateHz, count, periodS);
  const blockS = size / sampleRateHz;
  const { pump_current: clamp, pump_ground_voltage: ground } = signals;
  // These are looked at again and again; of the others their course is enough.
  const feedV = feed && wholeOf(feed.source);
  const volts = feedV && (ground ? acrossPump(feedV, wholeOf(ground.source)) : feedV);
  const courses = new Courses();
  const v = volts && courses.of(volts, size);
  const clampA = clamp && wholeOf(clamp.source);
  const clampCourse = clampA && courses.of(clampA, size);
  const reading =
    clamp && clampCourse && v && readingOf(clamp, clampCourse, byVolts(v, blockS), { blockS, sampleRateHz });
  const amperes = clampA && reading && upright(clampA, reading);
  const channels = WATCHED.flatMap((role): Channel[] => {
    const signal = signals[role];
    if (!signal) return [];
    const known = signal === clamp && clampCourse && reading && fromZero(clampCourse, reading);
    return [
      {
        role,
        name: signal.name,
        values: known || courses.of(signal === feed && feedV ? feedV : wholeOf(signal.source), size),
      },
    ];
  });
  const valuesOf = (wanted: Role) => channels.find(({ role }) => role === wanted)?.values;
  const passesLevels = reading !== undefined && !reading.tellsNone;
  const a = passesLevels ? valuesOf('pump_current') : undefined;
  const blocks = channels[0]?.values.length ?? 0;
  const powered = poweredStretch({ ...(v && { volts: v }), ...(a && { amperes: a }), blocks, blockS });
  const wasOff = powered.from * blockS > BEGINS_S;
  const after = (seconds: number) => ({
    from: Math.min(powered.to, powered.from + (wasOff ? Math.ceil(seconds / blockS) : 0)),
    to: powered.to,
  });
  const settled = after(STARTS_S);
  // Without the current nothing tells what a surge costs from a feed that fails.
  const fed = after(a ? SWITCHES_S : START_S);
  // What the looking begins with is usual; of a short start most of what follows the surge.
  const isShort = settled.to - settled.from < (powered.to - powered.from) / 2;
  const usually = isShort ? after(START_S) : settled;
  const hasMains = a !== undefined && seesMains(a, usually, blockS);
  const current = a && loadView('current', a, { ...usually, isShort }, blockS, hasMains ? MAINS_S : SMOOTH_S);
  const pressure = valuesOf('rail_pressure');
  const isSound = v && soundness(v, current, fed, { size, blockS });
  // While a driver is off its pump's current goes round on its own: volts and amperes lie on no line.
  const lineOf = (across: Float32Array) =>
    periodS === undefined &&
    passesLevels &&
    amperes &&
    isSound &&
    loadLine({ volts: across, amperes, courses, sampleRateHz, hasMains, isSound });
  const line = (volts && lineOf(volts)) || undefined;
  const source = (feedV && ground ? lineOf(feedV) : line) || undefined;
  return {
    blockS,
    isSwitched: periodS !== undefined,
    isCoupled: reading?.tellsNone === 'coupled',
    powered,
    fed,
    settled,
    channels,
    ...(line && { line }),
    ...(source && { source }),
    ...(v && { supply: supplyView(v, a, current, line, blockS) }),
    ...(current && { current }),
    ...(pressure && { pressure: loadView('pressure', pressure, { ...settled, isShort: false }, blockS, SMOOTH_S) }),
  };
}

/** When there was power, as far as the volts alone say it. */
function byVolts(volts: Float64Array, blockS: number): { powered: Stretch; offTo: number } {
  const powered = poweredStretch({ volts, blocks: volts.length, blockS });
  return { powered, offTo: Math.max(0, onIn(volts, SAGS_SHARE).from - Math.ceil(SWITCHES_S / blockS)) };
}

/** Beside a failure a window may hold some of it, s. */
const KEEPS_OFF_S = 0.01;

/** Which samples are sound: where the volts fail by themselves they tell nothing of what the current costs. */
function soundness(
  volts: Float64Array,
  current: LoadView | undefined,
  fed: Stretch,
  { size, blockS }: { readonly size: number; readonly blockS: number },
): (from: number, to: number) => boolean {
  const margin = Math.ceil(KEEPS_OFF_S / blockS);
  const unsound = new Uint8Array(volts.length).fill(1);
  unsound.fill(0, fed.from, fed.to);
  for (const { start, end } of supplyFailures({ volts, emf: volts, blockS, ...(current && { current }) }, fed)) {
    unsound.fill(1, Math.max(0, Math.floor(start) - margin), Math.ceil(end ?? fed.to) + margin);
  }
  // How many blocks before each aren't.
  const before = new Uint32Array(volts.length + 1);
  for (let block = 0; block < volts.length; block++) before[block + 1] = before[block] + unsound[block];
  return (from, to) => {
    const [first, last] = [Math.floor(from / size), Math.ceil(to / size)];
    return first >= 0 && last <= volts.length && before[last] === before[first];
  };
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

/** In most of its pieces: what happens in some of them would hide a tone in the whole, or look like one. */
function seesMains(amperes: Float64Array, { from, to }: Stretch, blockS: number): boolean {
  const size = Math.round(PIECE_S / blockS);
  const pieces = Math.min(MOST_PIECES, Math.floor((to - from) / size));
  const stride = pieces > 1 ? Math.floor((to - from - size) / (pieces - 1)) : 0;
  let seen = 0;
  for (let i = 0; i < pieces; i++) {
    const start = from + i * stride;
    if (removeMains(Float32Array.from(amperes.subarray(start, start + size)), 1 / blockS)) seen++;
  }
  return seen > pieces / 2;
}

/** Volts between the pump's two pins; what the ground rises by is taken from the feed where it was recorded. */
function acrossPump(feedV: Float32Array, riseV: Float32Array): Float32Array {
  const across = new Float32Array(feedV.length);
  for (let i = 0; i < across.length; i++) across[i] = feedV[i] - riseV[i];
  return across;
}

function supplyView(
  volts: Float64Array,
  amperes: Float64Array | undefined,
  current: LoadView | undefined,
  line: LoadLine | undefined,
  blockS: number,
): SupplyView {
  const ohm = line?.ohm ?? 0;
  const emf = amperes ? volts.map((value, i) => value + ohm * amperes[i]) : volts;
  return { volts, emf, blockS, ...(current && { current }), ...(line && { ohm }) };
}
