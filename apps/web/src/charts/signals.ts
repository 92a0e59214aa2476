import type { Recorded, TraceSource } from './trace-window';

/** A measurement drawn where it was made. Times in seconds. */
export interface Span {
  readonly fromS: number;
  readonly toS: number;
  readonly label?: string;
  readonly tone: 'turn' | 'inrush' | 'dropout';
}

/** One signal of a trace. */
export interface TraceSignal {
  /** Among those of the trace. */
  readonly id: string;
  readonly name: string;
  readonly unit: string;
  readonly source: TraceSource;
  readonly spans?: readonly Span[];
  /** The clock of another record that it is of, and how much later it is laid. */
  readonly of?: { readonly recorded: Recorded; readonly laterS: number };
}

/** A moment with a name, drawn over all lanes. */
export interface TraceMark {
  readonly atS: number;
  readonly name: string;
}

/** Plain numbers, and channels whose file names no unit, have none to show. */
export const isNamed = (unit: string) => unit !== '1';

/** Signals of one lane: the first has its scale on the left; what isn't in its unit has one on the right. */
export type TraceLane = readonly TraceSignal[];

/** Which signals share a lane and which aren't shown, by their ids. */
export interface LaneOrder {
  /** The signal whose lane one lies in. */
  readonly over: Readonly<Record<string, string>>;
  readonly hidden: readonly string[];
}

export const EACH_ITS_OWN: LaneOrder = { over: {}, hidden: [] };

/** Whether a signal can share a lane: there is one scale on each side. */
export function fitsOver(signal: TraceSignal, lane: TraceLane): boolean {
  const units = new Set([...lane.map(({ unit }) => unit), signal.unit]);
  return units.size <= 2;
}

/** Lanes as they were asked for; what can't share the lane it was put in has its own. */
export function arrangeLanes(signals: readonly TraceSignal[], { over, hidden }: LaneOrder): TraceLane[] {
  const shown = signals.filter(({ id }) => !hidden.includes(id));
  const lanes = new Map<string, TraceSignal[]>();
  const leads = shown.filter(({ id }) => !shown.some((lead) => lead.id === over[id] && !(lead.id in over)));
  for (const lead of leads) lanes.set(lead.id, [lead]);
  for (const signal of shown.filter((one) => !leads.includes(one))) {
    const lane = lanes.get(over[signal.id]);
    if (lane && fitsOver(signal, lane)) lane.push(signal);
    else lanes.set(signal.id, [signal]);
  }
  return [...lanes.values()];
}
