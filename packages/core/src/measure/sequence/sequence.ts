import type { Role } from '../../capture/capture.js';
import { LIMITS } from '../../limits/limits.js';
import { START_S } from '../current/disturbances.js';
import { median } from '../../signal/levels.js';
import { edgeNear, GONE_SHARE, type Incident, type Side, type Stretch } from './incident.js';
import { loadIncidents } from './load-side.js';
import type { LoadView } from './load-view.js';
import { supplyFailures } from './supply-side.js';
import type { Channel } from './recorded.js';
import { CUT_OFF_SHARE } from './thresholds.js';
import type { Views } from './views.js';

export type IncidentCause = 'upstream' | 'pump' | 'hydraulic' | 'undetermined';

/** A channel that left its course in an incident. */
export interface Departure {
  readonly channel: string;
  readonly role: Role;
  /** Block, fractional. */
  readonly at: number;
  readonly rose: boolean;
}

/** What the current did while volts at the pump were watched. */
export type CurrentThen = 'gone' | 'less' | 'more' | 'unchanged' | 'with-volts';

export interface JudgedIncident extends Incident {
  /** Absent where the current isn't on the record, or it fell at once but not to nothing. */
  readonly currentThen?: CurrentThen;
  readonly side: Side;
  readonly cause: IncidentCause;
  readonly because: string;
  /** In order of time. */
  readonly departures: readonly Departure[];
}

/** How far before the seen start a channel may already have gone, and how long after it may follow, s. */
const LOOKS_BACK_S = 0.3;
const FOLLOWS_S = 1;
/** Level before: as long as this, up to where the looking begins. */
const BEFORE_S = 0.2;
const KNOWN_S = 0.02;
const LEAVES_SCATTERS = 6;
const LEAVES_SHARE = 0.05;

/** The starter's last swing is known so well, s. */
const LET_GO_S = 0.1;

export function incidentsOf(views: Views): JudgedIncident[] {
  const { supply, current, pressure, powered, fed, settled, isCranked, isPulledDown } = views;
  const margin = Math.round(MARGIN_S / views.blockS);
  // A relay that is let go with the starter falls where the crank ends.
  const isLetGo = ({ start, end }: Incident) =>
    isCranked && end === undefined && (fed.to - start) * views.blockS < LET_GO_S;
  const failures = supplyFailures(supply, fed)
    .filter((one) => !isLetGo(one))
    .map((one) => (current ? goneBefore(one, current, fed) : one));
  const excused: Stretch[] = failures.map(({ start, end }) => ({
    from: Math.floor(start) - margin,
    to: Math.ceil(end ?? powered.to) + margin,
  }));
  const settledFrom = isPulledDown ? fed.from : settled.from;
  const started = isPulledDown ? fed.from : powered.from + Math.round(START_S / views.blockS);
  // A starter's first pull takes current away, and a pump that drags then draws more all the same.
  const start = { from: powered.from, to: started, isStart: true, onlyFalls: isPulledDown };
  const starts = settledFrom > powered.from ? [start] : [];
  const ofCurrent = current
    ? loadIncidents(current, { ...powered, settledFrom }, failures, [...starts, ...excused])
    : [];
  // Where the supply isn't watched by itself, as while an engine begins to charge, its failure shows in the current all the same.
  const byWhatFell = (one: Incident): Incident => (fellWithVolts(one, views) ? { ...one, seenIn: 'supply' } : one);
  const known = [...failures, ...ofCurrent.filter((one) => !isFedMore(one, views)).map(byWhatFell)];
  const ofPressure = pressure
    ? loadIncidents(pressure, { ...settled, settledFrom: settled.from }, known, []).filter(
        (one) => !known.some((other) => meet(one, other, views)),
      )
    : [];
  return [...known, ...ofPressure].sort((a, b) => a.start - b.start).map((incident) => judged(incident, views));
}

/** Whether a current rises because the supply gives more, as when an engine starts and charges: what drags takes from the volts. */
function isFedMore({ start, end, rose }: Incident, { supply, powered, blockS }: Views): boolean {
  if (!rose) return false;
  const [from, size] = [Math.floor(start), Math.round(BEFORE_S / blockS)];
  const until = Math.max(from + 1, Math.min(Math.floor(end ?? powered.to), from + 2 * size, powered.to));
  const level = (first: number, last: number) => median(supply.volts.subarray(Math.max(powered.from, first), last));
  return level(Math.max(from, until - size), until) - level(from - size, from) > LIMITS.supplyDropV.value;
}

/** An open contact's volts are down to what the rotor makes, and go on falling with it, s. */
const FELL_S = 0.05;

/** Whether the volts went with a current that fell: a pump that opens, or has less to do, lets them rise along the load line. */
function fellWithVolts({ start, end, rose }: Incident, { supply: { volts }, powered, blockS }: Views): boolean {
  if (rose) return false;
  const from = Math.floor(start);
  const until = Math.min(Math.ceil(end ?? powered.to), from + Math.round(FELL_S / blockS));
  const before = volts.subarray(Math.max(powered.from, from - Math.round(BEFORE_S / blockS)), from);
  const least = (values: Float64Array) => values.reduce((a, b) => Math.min(a, b), Infinity);
  return before.length > 0 && least(before) - least(volts.subarray(from, until)) > LIMITS.supplyDropV.value;
}

/** What a rotor makes as it coasts may hold a feed that let go at its loaded volts for so long, s. */
const COASTS_S = 0.1;
/** An edge of the current is within this, s. */
const EDGE_S = 0.004;

/** An open feed begins where its current went, though the volts that the pump makes itself fail later. */
function goneBefore(failure: Incident, { brisk, raw, usual, blockS }: LoadView, within: Stretch): Incident {
  const first = Math.floor(failure.start);
  const earliest = Math.max(within.from, first - Math.round(COASTS_S / blockS));
  const isGone = (block: number) => -brisk[block] > (1 - GONE_SHARE) * Math.abs(usual);
  let from = first;
  while (from > earliest && isGone(from - 1)) from--;
  if (from === first) return failure;
  return { ...failure, start: edgeNear(raw, from, Math.max(1, Math.round(EDGE_S / blockS)), within) };
}

/** A current that follows its volts leaves the smoothed course a moment earlier or later, s. */
const MARGIN_S = 0.01;
/** Pressure goes on falling for as long after what made it fall (common practice, no published source), s. */
const PRESSURE_FOLLOWS_S = 3;

function meet(one: Incident, other: Incident, { blockS }: Views): boolean {
  const after = PRESSURE_FOLLOWS_S / blockS;
  return one.start <= (other.end ?? Infinity) + after && other.start <= (one.end ?? Infinity);
}

/** The channel that an incident is seen in. */
export const OWN_CHANNEL: Readonly<Record<Incident['seenIn'], Role>> = {
  supply: 'pump_feed_voltage',
  current: 'pump_current',
  pressure: 'rail_pressure',
};

function judged(incident: Incident, views: Views): JudgedIncident {
  const departures = views.channels
    .flatMap((channel) => departureOf(channel, incident, views))
    // Of what went in one block the incident's own channel comes first: a ground without current falls along.
    .sort(
      (a, b) =>
        a.at - b.at ||
        Number(b.role === OWN_CHANNEL[incident.seenIn]) - Number(a.role === OWN_CHANNEL[incident.seenIn]),
    );
  const { side, cause, because } = causeOf(incident, views, departures);
  const current = currentThen(incident, views);
  return { ...incident, side, cause, because, ...(current && { currentThen: current }), departures };
}

function currentThen({ seenIn, isSharp, rose, start, end }: Incident, views: Views): CurrentThen | undefined {
  const { current, powered } = views;
  if (!current) return undefined;
  if (seenIn === 'supply') return 'with-volts';
  if (seenIn === 'pressure') return 'unchanged';
  if (rose) return 'more';
  if (!isSharp) return 'less';
  const during = current.raw.subarray(
    Math.ceil(start) + 1,
    Math.max(Math.ceil(start) + 2, Math.floor(end ?? powered.to)),
  );
  return Math.abs(median(during)) < GONE_SHARE * Math.abs(current.usual) ? 'gone' : undefined;
}

/** Fuel that fails to come, and a rotor’s inertia, take longer to come and go (common practice, no published source), s. */
const STIRS_S = 0.015;

interface Judgement {
  readonly side: Side;
  readonly cause: IncidentCause;
  readonly because: string;
}

/** Handbooks say what fell first; the load line says it even where both fall within a millisecond. */
function causeOf(incident: Incident, views: Views, departures: readonly Departure[]): Judgement {
  const { seenIn, isSharp, rose, start, end } = incident;
  const { current, channels, blockS } = views;
  const has = (role: Role) => channels.some((channel) => channel.role === role);
  const went = (role: Role) => departures.find((one) => one.role === role);
  if (seenIn === 'supply') {
    const cutsOff = isSharp && fallsFar(incident, views) && !isSurge(incident, views);
    const isPlaced = went('battery_voltage')?.rose === false || went('pump_ground_voltage')?.rose;
    if (!current && !cutsOff && !isPlaced) {
      const because =
        'The volts at the pump fell: its feed failed, or it drew more. A clamp on its wire tells them apart.';
      return { side: 'undetermined', cause: 'undetermined', because };
    }
    return { side: 'upstream', cause: 'upstream', because: `The volts at the pump fell${place(went, has)}.` };
  }
  if (seenIn === 'pressure') {
    if (rose) return { side: 'load', cause: 'hydraulic', because: 'Pressure rose by itself: regulator or return.' };
    if (current) {
      const because = 'Pressure fell with volts and current steady: a leak, the regulator, or no fuel.';
      return { side: 'load', cause: 'hydraulic', because };
    }
    const because =
      'Pressure fell with the volts steady: the pump or the fuel side. A clamp on the pump’s wire tells them apart.';
    return { side: 'load', cause: 'undetermined', because };
  }
  if (rose) {
    return went('rail_pressure')?.rose
      ? { side: 'load', cause: 'hydraulic', because: 'Current and pressure rose together: something blocks the flow.' }
      : {
          side: 'load',
          cause: 'pump',
          because: 'The current rose and the volts fell only by what it costs: the pump drags.',
        };
  }
  const isShort = end !== undefined && (end - start) * blockS < STIRS_S;
  if (isSharp || isShort) {
    const how = isSharp
      ? 'The current fell at once and the volts rose along the load line: the pump itself opened.'
      : 'The current fell and was back faster than fuel or a rotor could: the pump’s own contacts.';
    const ground = has('pump_ground_voltage') ? '' : ' Its ground isn’t on the record: an open one looks the same.';
    return { side: 'load', cause: 'pump', because: how + ground };
  }
  return {
    side: 'load',
    cause: 'hydraulic',
    because: 'The current fell by and by with the volts sound: the pump had less to do, as when it runs dry.',
  };
}

/** Whether the volts fall further than a load could pull them: then the feed itself is gone. */
function fallsFar({ start, end }: Incident, { supply, powered }: Views): boolean {
  const [from, to] = [Math.floor(start), Math.ceil(end ?? powered.to)];
  const before = supply.volts.subarray(Math.max(powered.from, from - Math.round(BEFORE_S / supply.blockS)), from);
  const least = supply.volts.subarray(from, to).reduce((a, b) => Math.min(a, b), Infinity);
  return before.length > 0 && least < (1 - CUT_OFF_SHARE) * median(before);
}

/** A surge is deepest within so long, s, and half through it is back by this share of its depth. */
const SURGES_S = 0.008;
const COMES_BACK = 0.3;

/** Whether the volts fall as a start pulls them down: deepest at once, and back by and by from then on. */
function isSurge({ start, end }: Incident, { supply: { volts }, powered, blockS }: Views): boolean {
  if (end === undefined) return false;
  const [from, to] = [Math.floor(start), Math.ceil(end)];
  const during = volts.subarray(from, to);
  const least = during.reduce((a, b) => Math.min(a, b), Infinity);
  const before = median(volts.subarray(Math.max(powered.from, from - Math.round(BEFORE_S / blockS)), from));
  const half = median(during.subarray(during.length >> 1, (during.length >> 1) + 3));
  return during.indexOf(least) * blockS < SURGES_S && half - least > COMES_BACK * (before - least);
}

/** The furthest channel upstream that fell along: the fault lies before it, and after the one that stood. */
function place(went: (role: Role) => Departure | undefined, has: (role: Role) => boolean): string {
  if (went('battery_voltage') && !went('battery_voltage')?.rose) return ', and the battery’s with them';
  if (went('pump_ground_voltage')?.rose) return ' because its ground rose';
  const relay = went('relay_output_voltage');
  if (relay && !relay.rose) return ', and the relay’s output with them';
  if (has('relay_output_voltage')) return ' while the relay’s output stood: the wiring between them';
  return has('battery_voltage') ? ' while the battery’s stood' : '';
}

/** Where a channel leaves the level that it had before the incident, if it does. */
function departureOf(
  { role, name, values }: Channel,
  { start, end }: Incident,
  { blockS, powered }: Views,
): Departure[] {
  const size = (seconds: number) => Math.round(seconds / blockS);
  const from = Math.max(powered.from, Math.floor(start) - size(LOOKS_BACK_S));
  const before = values.subarray(Math.max(powered.from, from - size(BEFORE_S)), Math.max(from, powered.from + 1));
  // Right after a switch-on there was no level yet.
  if (before.length < size(KNOWN_S)) return [];
  const level = median(before);
  let scatter = 0;
  for (const value of before) scatter += (value - level) ** 2;
  const limit = Math.max(LEAVES_SCATTERS * Math.sqrt(scatter / before.length), LEAVES_SHARE * Math.abs(level));
  const last = Math.min(powered.to, Math.ceil(Math.min(end ?? Infinity, start + size(FOLLOWS_S))) + size(BEFORE_S));
  for (let block = from; block < last; block++) {
    const away = values[block] - level;
    if (Math.abs(away) > limit) return [{ channel: name, role, at: block + 0.5, rose: away > 0 }];
  }
  return [];
}
