import type { Role } from '../../capture/capture.js';
import type { Signal } from '../../capture/signal-record.js';
import { ArraySource, wholeOf } from '../../capture/source.js';
import { movingAverage } from '../../signal/blocks.js';
import { meanOf, median, quantile } from '../../signal/levels.js';
import { removeMains } from '../../signal/mains.js';
import { thin } from '../../signal/thin.js';
import type { Material } from '../analyser.js';
import { measurePulses } from '../pulses/pulse-train.js';
import { blockSize, Courses } from './course.js';
import type { Stretch } from './incident.js';
import type { LoadView } from './load-view.js';
import { loadLine, type LoadLine } from './load-line.js';
import { supplyFailures, type SupplyView } from './supply-side.js';
import { usualOf } from './usual.js';

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
  /** From the first block with power to the last. */
  readonly powered: Stretch;
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

/** A current is smoothed over a few humps, and stays sharp enough for an edge; over a period of the mains where its lead picks them up, s. */
const SMOOTH_S = 0.005;
const MAINS_S = 0.02;
/** A dozen periods of the mains, s. */
const PIECE_S = 0.25;
const MOST_PIECES = 20;
/** After a switch-on pressure builds up, and the current with it: most of the usual prime time, s. */
const STARTS_S = 1.5;
/** Share of its highest level from which a channel is on. */
const ON_SHARE = 0.4;
const HIGH = 0.9;
/** Enough of a record to see whether its feed is switched, which is for most of it, and more than some bounces. */
const SEEN_SAMPLES = 1_000_000;
const FEWEST_CYCLES = 20;
const SWITCHED_SHARE = 0.5;
/** Enough blocks to know a level by. */
const LOOKED_AT = 65_536;
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
  const amperes = clamp && forwards(wholeOf(clamp.source));
  const feedV = feed && wholeOf(feed.source);
  const volts = feedV && (ground ? acrossPump(feedV, wholeOf(ground.source)) : feedV);
  const held = new Map<Signal | undefined, Float32Array | undefined>([
    [clamp, amperes],
    [feed, feedV],
  ]);
  const courses = new Courses();
  const channels = WATCHED.flatMap((role): Channel[] => {
    const signal = signals[role];
    if (!signal) return [];
    return [{ role, name: signal.name, values: courses.of(held.get(signal) ?? wholeOf(signal.source), size) }];
  });
  const v = volts && courses.of(volts, size);
  const valuesOf = (wanted: Role) => channels.find(({ role }) => role === wanted)?.values;
  const a = valuesOf('pump_current');
  const powered = untilSwitchedOff(poweredIn(v ?? a, channels[0]?.values.length ?? 0), v, a, blockS);
  const starts = powered.from * blockS > BEGINS_S ? Math.round(STARTS_S / blockS) : 0;
  const settled = { from: Math.min(powered.to, powered.from + starts), to: powered.to };
  const hasMains = a !== undefined && seesMains(a, settled, blockS);
  const current = a && loadView('current', a, settled, blockS, hasMains ? MAINS_S : SMOOTH_S);
  const pressure = valuesOf('rail_pressure');
  const isSound = v && soundness(v, current, powered, { size, blockS });
  // While a driver is off its pump's current goes round on its own: volts and amperes lie on no line.
  const lineOf = (across: Float32Array) =>
    periodS === undefined &&
    amperes &&
    isSound &&
    loadLine({ volts: across, amperes, courses, sampleRateHz, hasMains, isSound });
  const line = (volts && lineOf(volts)) || undefined;
  const source = (feedV && ground ? lineOf(feedV) : line) || undefined;
  return {
    blockS,
    isSwitched: periodS !== undefined,
    powered,
    settled,
    channels,
    ...(line && { line }),
    ...(source && { source }),
    ...(v && { supply: supplyView(v, a, current, line, blockS) }),
    ...(current && { current }),
    ...(pressure && { pressure: loadView('pressure', pressure, settled, blockS, SMOOTH_S) }),
  };
}

/** Beside a failure a window may hold some of it, s. */
const KEEPS_OFF_S = 0.01;

/** Which samples are sound: where the volts fail by themselves they tell nothing of what the current costs. */
function soundness(
  volts: Float64Array,
  current: LoadView | undefined,
  powered: Stretch,
  { size, blockS }: { readonly size: number; readonly blockS: number },
): (from: number, to: number) => boolean {
  const margin = Math.ceil(KEEPS_OFF_S / blockS);
  const unsound = new Uint8Array(volts.length).fill(1);
  unsound.fill(0, powered.from, powered.to);
  for (const { start, end } of supplyFailures({ volts, emf: volts, blockS, ...(current && { current }) }, powered)) {
    unsound.fill(1, Math.max(0, Math.floor(start) - margin), Math.ceil(end ?? powered.to) + margin);
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
  const { frequencyHz, cycles } = measurePulses(part, sampleRateHz, 0, 'the feed').train;
  // A contact may bounce at a steady rate, but not most of the time.
  const lasted = cycles / frequencyHz / (part.length / sampleRateHz);
  return cycles >= FEWEST_CYCLES && lasted > SWITCHED_SHARE ? 1 / frequencyHz : undefined;
}

/** A clamp sits backwards now and then; a pump's current flows one way. */
function forwards(amperes: Float32Array): Float32Array {
  return meanOf(amperes) < 0 ? amperes.map((value) => -value) : amperes;
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

function poweredIn(values: Float64Array | undefined, length: number): Stretch {
  if (!values) return { from: 0, to: length };
  const on = ON_SHARE * quantile(thin(values, LOOKED_AT), HIGH);
  const from = values.findIndex((value) => value > on);
  if (from < 0) return { from: 0, to: 0 };
  let to = values.length;
  while (!(values[to - 1] > on)) to--;
  return { from, to };
}

/**
 * A failure that nothing comes back from, with no current at the end, is the switching off: the pump's own voltage, as it
 * coasts, keeps the feed up for a while.
 */
function untilSwitchedOff(
  powered: Stretch,
  volts: Float64Array | undefined,
  amperes: Float64Array | undefined,
  blockS: number,
): Stretch {
  if (!volts || powered.to <= powered.from) return powered;
  const last = supplyFailures({ volts, emf: volts, blockS }, powered).at(-1);
  if (!last || last.end !== undefined) return powered;
  const draw = amperes ? median(thin(amperes, LOOKED_AT)) : 0;
  const flows = amperes !== undefined && amperes[powered.to - 1] > ON_SHARE * draw;
  return flows ? powered : { from: powered.from, to: Math.max(powered.from, Math.floor(last.start)) };
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

function loadView(
  seenIn: LoadView['seenIn'],
  values: Float64Array,
  settled: Stretch,
  blockS: number,
  smoothS: number,
): LoadView | undefined {
  if (settled.to <= settled.from) return undefined;
  const smoothed = (seconds: number) => movingAverage(values, Math.round(seconds / blockS / 2));
  const smooth = smoothed(smoothS);
  // What is next to nothing isn't the usual, though the looking begin with it.
  const from = settled.from + poweredIn(smooth.subarray(settled.from, settled.to), 0).from;
  const { at, scatter } = usualOf(smooth, { ...settled, from }, { blockS, limit: Infinity, follows: () => false });
  const usual = at(from);
  const away = smooth.map((value) => value - usual);
  const brisk = smoothS > SMOOTH_S ? smoothed(SMOOTH_S).map((value) => value - usual) : away;
  return { seenIn, raw: values, away, brisk, usual, scatter, blockS };
}
