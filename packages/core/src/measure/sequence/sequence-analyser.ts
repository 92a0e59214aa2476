import type { CannotTell } from '../../errors.js';
import type { Analyser, MeasuredValue } from '../analyser.js';
import type { Side } from './incident.js';
import { loadCloud, type LoadCloud } from './load-cloud.js';
import { leavesAt, limitOf, type LoadView } from './load-view.js';
import { incidentsOf, OWN_CHANNEL, type CurrentThen, type IncidentCause, type JudgedIncident } from './sequence.js';
import { bestKnown, viewsOf, type Views } from './views.js';

/** The beginning or the end of something that fell, s, with the half-width of its 95 % interval. */
export interface SequenceEvent {
  /** The channel that went first. */
  readonly channel: string;
  readonly timeS: number;
  readonly kind: 'dropout-start' | 'dropout-end';
  readonly uncertaintyS: number;
}

/** One incident in a reader's terms: what went when, and which side it comes from. */
export interface SequenceIncident {
  readonly startS: number;
  readonly endS?: number;
  readonly side: Side;
  readonly cause: IncidentCause;
  readonly because: string;
  readonly currentThen?: CurrentThen;
  readonly departures: readonly { readonly channel: string; readonly timeS: number; readonly rose: boolean }[];
}

export interface SequencePart {
  readonly source?: {
    readonly resistanceOhm?: number;
    readonly interval?: readonly [number, number];
    /** Where what happened comes from. */
    readonly side: Side;
  };
  /** To be looked at, beside the resistance. */
  readonly cloud?: LoadCloud;
  readonly sequence: {
    readonly events: readonly SequenceEvent[];
    /** The channel that went first, in the first incident. */
    readonly first?: string;
    readonly cause: 'none' | IncidentCause;
    readonly incidents: readonly SequenceIncident[];
  };
}

/** More incidents than a person goes through in any record. */
const MOST_EVENTS = 10_000;
/** So long before and after an incident nothing is taken for usual, s. */
const QUIET_S = 0.05;
/** A line fills, and a rotor is back at its speed, within this (common practice, no published source), s. */
const SETTLES_S = 1.5;

/** Source resistance, and what fell first each time that something fell. */
export const sequenceAnalyser: Analyser<'sequence', SequencePart> = {
  name: 'sequence',
  needs: ['pump_feed_voltage'],
  wholeSignal: true,
  measure(material) {
    const pieces = viewsOf(material);
    const found = pieces
      .flatMap((views) => incidentsOf(views).map((incident) => ({ incident, views })))
      .slice(0, MOST_EVENTS)
      .map((one) => ({ ...one, told: inSeconds(one.incident, one.views) }));
    const shown = bestKnown(pieces);
    const source = sourceOf(
      shown,
      found.map(({ incident }) => incident),
    );
    const cloud = loadCloud(shown);
    const first = found[0]?.incident.departures[0];
    const part: SequencePart = {
      ...(source && { source }),
      ...(cloud && { cloud }),
      sequence: {
        events: found.flatMap(({ incident, told, views }) => eventsOf(incident, told, views)),
        ...(first && { first: first.channel }),
        cause: allOf(found.map(({ incident }) => incident.cause)) ?? 'none',
        incidents: found.map(({ told }) => told),
      },
    };
    return {
      part,
      values: valuesOf(part),
      events: found.map(({ told: { startS, endS } }) => ({
        kind: 'incident',
        atS: startS,
        ...(endS !== undefined && { untilS: endS }),
      })),
      findings: [],
      cannotTell: unknownSource(shown),
      disturbed: found.map(({ incident, views }) => disturbedBy(incident, views)),
      ...(shown.drivenHz !== undefined && { drivenHz: shown.drivenHz }),
    };
  },
};

function inSeconds(incident: JudgedIncident, { blockS, startS }: Views): SequenceIncident {
  const at = (block: number) => startS + block * blockS;
  const { start, end, side, cause, because, currentThen, departures } = incident;
  return {
    startS: at(start),
    ...(end !== undefined && { endS: at(end) }),
    side,
    cause,
    because,
    ...(currentThen && { currentThen }),
    departures: departures.map(({ channel, at: block, rose }) => ({ channel, timeS: at(block), rose })),
  };
}

/** The incident with its recovery: until the current is back at its usual for a while, and settled there if it settles soon. */
function disturbedBy(
  { start, end }: JudgedIncident,
  { blockS, startS, current, powered }: Views,
): readonly [number, number] {
  const over = Math.ceil(end ?? powered.to);
  const back = current ? calmAfter(current, over, powered.to, limitOf(current)) : over;
  const settled = current ? calmAfter(current, back, powered.to, leavesAt(current)) : back;
  const until = (settled - back) * blockS <= SETTLES_S ? settled : back;
  return [startS + start * blockS - QUIET_S, startS + until * blockS];
}

/** Where the current has stayed within a limit for a while, blocks. */
function calmAfter({ away, blockS }: LoadView, from: number, to: number, limit: number): number {
  const quiet = Math.round(QUIET_S / blockS);
  let block = from;
  for (let since = from; block < to && block - since < quiet; block++) {
    if (Math.abs(away[block]) > limit) since = block + 1;
  }
  return block;
}

/** By and by has no instant: its start is known as well as a scatter is left, within a tenth of a second. */
const GRADUAL_S = 0.1;

function eventsOf(
  { isSharp, seenIn, departures }: JudgedIncident,
  { startS, endS }: SequenceIncident,
  { blockS, channels }: Views,
): SequenceEvent[] {
  const role = OWN_CHANNEL[seenIn];
  const channel = departures[0]?.channel ?? channels.find((one) => one.role === role)?.name ?? role;
  const uncertaintyS = isSharp ? blockS : GRADUAL_S;
  return [
    { channel, timeS: startS, kind: 'dropout-start', uncertaintyS },
    ...(endS === undefined ? [] : [{ channel, timeS: endS, kind: 'dropout-end' as const, uncertaintyS }]),
  ];
}

/** What all have in common; 'undetermined' where they differ. */
function allOf<T extends string>(values: readonly T[]): T | 'undetermined' | undefined {
  if (values.length === 0) return undefined;
  return values.every((value) => value === values[0]) ? values[0] : 'undetermined';
}

function sourceOf(
  { lines: { source }, channels }: Views,
  incidents: readonly JudgedIncident[],
): SequencePart['source'] {
  const both = channels.some(({ role }) => role === 'pump_current');
  if (!both) return undefined;
  const side = allOf(incidents.map((incident) => incident.side)) ?? 'undetermined';
  return { ...(source && { resistanceOhm: source.ohm, interval: source.interval }), side };
}

function unknownSource({ lines: { source }, channels, isSwitched, isCoupled }: Views): CannotTell[] {
  if (source || !channels.some(({ role }) => role === 'pump_current')) return [];
  const because = isCoupled
    ? 'the clamp or its input passes no steady current: set the input to DC'
    : isSwitched
      ? 'a driver switches the feed: record the module’s supply with its current for it'
      : 'the volts at the pump hardly move with its current; record a start, or at a higher rate';
  return [{ what: 'source resistance', because }];
}

function valuesOf({ source }: SequencePart): MeasuredValue[] {
  if (source?.resistanceOhm === undefined) return [];
  const { resistanceOhm, interval } = source;
  return [
    {
      what: 'source.resistanceOhm',
      value: resistanceOhm,
      unit: 'Ω',
      basis: 'measured',
      ...(interval && { interval }),
    },
  ];
}
