import { removeMains } from '../../signal/mains.js';
import type { Material } from '../analyser.js';
import { START_S } from '../current/disturbances.js';
import type { Stretch } from './incident.js';
import { loadView, SMOOTH_S } from './load-course.js';
import { loadLine, type LoadLine } from './load-line.js';
import type { LoadView } from './load-view.js';
import { poweredParts, type PoweredPart } from './powered-parts.js';
import { poweredStretch } from './powered.js';
import { partOf, readRecord, type Channel, type Recorded } from './recorded.js';
import { supplyFailures, type SupplyView } from './supply-side.js';

/** All that the sequence is told from. */
export interface Views {
  /** Of the first block, on the record's clock. */
  readonly startS: number;
  readonly blockS: number;
  /** A driver switches the feed; everything here is averaged over its periods. */
  readonly isSwitched: boolean;
  /** How often, Hz. */
  readonly drivenHz?: number;
  /** There is a current on the record, through a clamp or an input that passes no steady one: it tells no level. */
  readonly isCoupled: boolean;
  /** The starter turned the engine through all of it. */
  readonly isCranked: boolean;
  /** The pump was running when that began: what the starter pulls down isn't on its way to a level of its own. */
  readonly isPulledDown: boolean;
  /** From the first block with power to the last. */
  readonly powered: Stretch;
  /** The same without what a switch-on does to the volts. */
  readonly fed: Stretch;
  /** The same without the start, in which current and pressure go their own way. */
  readonly settled: Stretch;
  readonly lines: Lines;
  readonly supply: SupplyView;
  readonly current?: LoadView;
  readonly pressure?: LoadView;
  readonly channels: readonly Channel[];
}

/** Where a clamp's lead picks up the mains its current is smoothed over a period of them, s. */
const MAINS_S = 0.02;
/** A dozen periods of the mains, s. */
const PIECE_S = 0.25;
const MOST_PIECES = 20;
/** After a switch-on pressure builds up, and the current with it: most of the usual prime time, s. */
const STARTS_S = 1.5;
/** A block in which a feed was switched on holds less than the volts, and without spikes its neighbour too, s. */
const SWITCHES_S = 0.002;
/** A starter that begins to turn pulls the volts down furthest, s. */
const PULLS_S = 0.4;
/** A record that begins later than this with power was switched on within it, s. */
const BEGINS_S = 0.005;

/** The views of a record's pieces, in order; those that show no load line of their own go by the best of the others'. */
export function viewsOf(material: Material): Views[] {
  const recorded = readRecord(material);
  const { blockS, startS, acrossV, courses, size } = recorded;
  const cranks = material.cranks.map(([from, until]) => ({
    from: Math.round((from - startS) / blockS),
    to: Math.round((until - startS) / blockS),
  }));
  const parts = poweredParts(courses.of(acrossV, size), currentOf(recorded)?.values, blockS, cranks);
  // Of a record in one piece nothing is copied.
  const isWhole = parts.length === 1 && parts[0].to - parts[0].from === courses.of(acrossV, size).length;
  const isCalm = cranks.length === 0;
  const pieces = parts.map((part) => ({ part, recorded: isWhole ? recorded : partOf(recorded, part) }));
  const alone = pieces.map((piece) => viewsOfPart(piece.recorded, piece.part, isCalm));
  const { lines } = bestKnown(alone);
  if (!lines.line) return alone;
  return alone.map((views, i) => (views.lines.line ? views : viewsOfPart(pieces[i].recorded, parts[i], isCalm, lines)));
}

/** The pump's current by blocks, where its clamp tells levels. */
function currentOf({ clamp, channels }: Recorded): Channel | undefined {
  if (!clamp || clamp.reading.tellsNone) return undefined;
  return channels.find(({ role }) => role === 'pump_current');
}

/** Of a record's pieces the one whose resistance is known best; any where none is. */
export function bestKnown(pieces: readonly Views[]): Views {
  const width = ({ lines: { source } }: Views) =>
    source ? (source.interval[1] - source.interval[0]) / source.ohm : Infinity;
  return pieces.reduce((a, b) => (width(b) < width(a) ? b : a));
}

function viewsOfPart(
  recorded: Recorded,
  { from, isCranked, follows, goesOn = false, offFrom }: PoweredPart,
  isCalm: boolean,
  known: Lines = {},
): Views {
  const { blockS, startS, size, isSwitched, drivenHz, courses, acrossV, clamp, channels } = recorded;
  const volts = courses.of(acrossV, size);
  const clamped = currentOf(recorded);
  const amperes = clamped?.values;
  const on = poweredStretch(volts, amperes, blockS);
  const powered =
    offFrom === undefined ? on : { from: on.from, to: Math.max(on.from, Math.min(on.to, offFrom - from)) };
  const switchedOn = powered.from * blockS > BEGINS_S;
  const wasOff = follows || switchedOn;
  const after = (seconds: number) => ({
    from: Math.min(powered.to, powered.from + (wasOff ? Math.ceil(seconds / blockS) : 0)),
    to: powered.to,
  });
  const settled = after(STARTS_S);
  // Without the current nothing tells what a surge costs from a feed that fails.
  const feeds = follows ? (isCranked ? PULLS_S : STARTS_S) : amperes ? SWITCHES_S : START_S;
  const fed = after(feeds);
  // What the looking begins with is usual; of a short start most of what follows the surge.
  const isShort = isCranked || settled.to - settled.from < (powered.to - powered.from) / 2;
  const { from: startedFrom } = after(START_S);
  const usually = isShort ? { from: startedFrom, to: powered.to } : settled;
  const hasMains = amperes !== undefined && seesMains(amperes, usually, blockS);
  const current =
    clamped &&
    loadView(
      'current',
      clamped,
      { ...usually, isShort, isSwinging: isCranked, startedFrom },
      blockS,
      hasMains ? MAINS_S : SMOOTH_S,
    );
  const pressure = channels.find(({ role }) => role === 'rail_pressure');
  // While the engine cranks, the battery's own volts move with the current.
  const own: Lines =
    amperes && !isSwitched && !isCranked ? linesOf(recorded, { volts, current, fed, hasMains, isCalm }) : {};
  const lines = own.line ? own : known;
  return {
    ...{ startS, blockS, isSwitched, isCranked, powered, fed, settled, channels, lines },
    ...(drivenHz !== undefined && { drivenHz }),
    isPulledDown: isCranked && goesOn && !switchedOn,
    isCoupled: clamp?.reading.tellsNone === 'coupled',
    supply: supplyView(volts, amperes, current, lines.line, blockS),
    ...(current && { current }),
    ...(pressure && {
      pressure: loadView(
        'pressure',
        pressure,
        { ...settled, isShort: false, isSwinging: false, startedFrom: settled.from },
        blockS,
        SMOOTH_S,
      ),
    }),
  };
}

export interface Lines {
  /** Of the pump's two pins: what its current costs on the way in and on the way out. */
  readonly line?: LoadLine;
  /** Of the feed alone, against battery −. */
  readonly source?: LoadLine;
}

interface LineViews {
  /** At the pump, by blocks. */
  readonly volts: Float64Array;
  readonly current: LoadView | undefined;
  readonly fed: Stretch;
  readonly hasMains: boolean;
  /** No engine is cranked within the record. */
  readonly isCalm: boolean;
}

/**
 * The load lines of pump and feed. Not of a feed that a driver switches: while it is off the pump's current goes round on its
 * own, and volts and amperes lie on no line.
 */
function linesOf(
  { feedV, acrossV, hasGround, clamp, courses, sampleRateHz, size, blockS }: Recorded,
  { volts, current, fed, hasMains, isCalm }: LineViews,
): Lines {
  if (!clamp) return {};
  const { amperes } = clamp;
  const isSound = soundness(volts, current, fed, { size, blockS });
  const of = (against: Float32Array) =>
    loadLine({ volts: against, amperes, courses, sampleRateHz, hasMains, isCalm, isSound });
  const line = of(acrossV);
  const source = hasGround ? of(feedV) : line;
  return { ...(line && { line }), ...(source && { source }) };
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
