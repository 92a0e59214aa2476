import { grouped } from '@jarro/core';
import type { CutStep, PulseTrain, RampResult, SequenceIncident } from '@jarro/core';
import type { StoredAnalysis } from '@jarro/api-types';
import type { TraceEvent } from '../../charts/trace-window';
import type { Span } from '../../charts/signals';

const TURNS_SHOWN = 3.2;

/** Where the turn that is marked on the trace begins: a little into the middle of the steady part. */
function turnStart({ steady, runs = [] }: RampResult): number {
  const longest = runs.reduce((a, b) => (b.toS - b.fromS > a.toS - a.fromS ? b : a), runs[0]);
  const part = steady ?? longest;
  return part ? (part.fromS + part.toS) / 2 : 0;
}

/** A start's peak and its fall are over by then; what is steady may begin later, as after an engine that was cranked, s. */
const INRUSH_MOST_S = 0.5;

/** The start whose peak is told, from its switch-on until it has settled. */
function inrushOf({ runs = [], inrushPeakS, onsetS, steady }: RampResult): View | undefined {
  const run = runs.find((one) => inrushPeakS !== undefined && one.inrushPeakS === inrushPeakS);
  const fromS = run?.onsetS ?? onsetS;
  if (fromS === undefined || !steady) return undefined;
  return { fromS, toS: Math.min(fromS + INRUSH_MOST_S, Math.max(fromS, (run?.steady ?? steady).fromS)) };
}

/** The measurements as spans on the trace itself. */
export function spansOf(ramp: RampResult): Span[] {
  const spans: Span[] = [];
  const inrush = inrushOf(ramp);
  if (inrush) {
    const peak = ramp.inrushPeakA === undefined ? '' : ` · peak ${ramp.inrushPeakA.toFixed(1)} A`;
    spans.push({ ...inrush, tone: 'inrush', label: `inrush${peak}` });
  }
  if (ramp.revolutionMs !== undefined && ramp.rpm !== undefined) {
    const fromS = turnStart(ramp);
    const label = `one turn ${ramp.revolutionMs.toFixed(2)} ms · ${grouped(ramp.rpm)} rpm`;
    spans.push({ fromS, toS: fromS + ramp.revolutionMs / 1000, tone: 'turn', label });
  }
  for (const { startS, endS } of ramp.dropouts) spans.push({ fromS: startS, toS: endS, tone: 'dropout' });
  return spans;
}

/** Findings that are seen best where they happened. */
const SEEN: Readonly<Record<string, string>> = {
  stall: 'Where it stands',
  interrupted: 'Where it breaks off',
  'current-low': 'Where less flows',
  'prime-then-start': 'Between prime and start',
  coasting: 'Where it coasts',
  cranking: 'Where the engine cranks',
  switched: 'A few cycles',
};

const FELL = ['stall', 'interrupted', 'current-low'];

/** Whether something fell in a record, or stood: the whole of it is looked at first then, its turns else. */
function hasFallen({ sequence, findings }: StoredAnalysis): boolean {
  return (sequence?.incidents.length ?? 0) > 0 || findings.some(({ code }) => FELL.includes(code));
}

/** As much before and after an incident as it takes, and enough to see what was usual, s. */
const LEAST_AROUND_S = 0.05;
/** An incident without an end is shown by its beginning, s. */
const BEGINNING_S = 0.5;

export function aroundIncident({ startS, endS = startS + BEGINNING_S }: SequenceIncident): View {
  const around = Math.max(LEAST_AROUND_S, endS - startS);
  return { fromS: startS - around, toS: endS + around };
}

/** A mark is looked at with what came before it and after, s. */
const AROUND_MARK_S = 1;

export function aroundMoment(atS: number): View {
  return { fromS: atS - AROUND_MARK_S, toS: atS + AROUND_MARK_S };
}

/** What happened in a record, in order of time: incidents, dropouts, stalls, what was missed, each with what is around it. */
export function eventsOf({ sequence, ramp, pulses = {} }: StoredAnalysis): TraceEvent[] {
  const event = (name: string, startS: number, endS = startS): TraceEvent => {
    const around = Math.max(LEAST_AROUND_S, endS - startS);
    return { name, atS: startS, fromS: startS - around, toS: endS + around };
  };
  const stops = sequence?.incidents ?? [];
  // What comes back at every turn is no event: one of them shows it.
  const gaps = (ramp?.dropouts ?? []).filter(({ locked }) => !locked);
  return [
    ...stops.map(({ startS, endS = startS + BEGINNING_S }) => event('incident', startS, endS)),
    ...gaps.map(({ startS, endS }) => event('dropout', startS, endS)),
    ...Object.values(pulses).flatMap((train) => train.gaps.map(({ startS }) => event('missing pulse', startS))),
  ].sort((a, b) => a.atS - b.atS);
}

/** Incidents, on every lane. */
export function incidentSpans(incidents: readonly SequenceIncident[]): Span[] {
  return incidents.map(({ startS, endS }) => ({ fromS: startS, toS: endS ?? startS + BEGINNING_S, tone: 'dropout' }));
}

/** Steps of the command, on every lane that they were read on. */
export function stepSpans(steps: readonly CutStep[]): Span[] {
  return steps.map(({ fromS, toS, commandPercent }) => ({
    ...{ fromS, toS },
    tone: 'inrush',
    label: `${commandPercent.toFixed(0)} %`,
  }));
}

/** Missing pulses, on their own line. */
export function gapSpans({ gaps, frequencyHz }: PulseTrain): Span[] {
  return gaps.map(({ startS, missing }) => ({
    fromS: startS,
    toS: startS + missing / frequencyHz,
    tone: 'dropout',
    label: missing === 1 ? 'missing' : `${missing} missing`,
  }));
}

export interface View {
  readonly fromS: number;
  readonly toS: number;
}

const PULSES_SHOWN = 8;

/** What shows the shape of a current or a line, where there is one; undefined: the whole record is looked at first. */
export function firstViewOf(analysis: StoredAnalysis): View | undefined {
  if (hasFallen(analysis)) return undefined;
  return viewsOf(analysis).find(({ name }) => SHAPES.has(name));
}

const SHAPES: ReadonlySet<string> = new Set(['A few turns', 'A few pulses', 'A few cycles']);

/** Stretches of a record that are worth looking at. */
export function viewsOf({ ramp, pulses = {}, findings }: StoredAnalysis): (View & { readonly name: string })[] {
  const views = [];
  if (ramp?.revolutionMs !== undefined) {
    const turn = ramp.revolutionMs / 1000;
    const fromS = turnStart(ramp) - turn;
    views.push({ name: 'A few turns', fromS, toS: fromS + TURNS_SHOWN * turn });
  }
  const inrush = ramp && inrushOf(ramp);
  if (inrush) {
    const width = inrush.toS - inrush.fromS;
    views.push({ name: 'Inrush', fromS: inrush.fromS - 0.3 * width, toS: inrush.toS + 0.6 * width });
  }
  for (const { code, window } of findings) {
    if (!window || !(code in SEEN)) continue;
    const [fromS, toS] = window;
    views.push({ name: SEEN[code], fromS: fromS - 0.5 * (toS - fromS), toS: toS + 0.5 * (toS - fromS) });
  }
  const trains = Object.values(pulses).filter(({ frequencyHz }) => frequencyHz > 0);
  const slowest = trains.reduce((least, { frequencyHz }) => Math.min(least, frequencyHz), Infinity);
  const gap = trains.flatMap(({ gaps }) => gaps)[0];
  if (trains.length > 0) {
    const fromS = trains[0].trend?.[0]?.atS ?? 0;
    views.push({ name: 'A few pulses', fromS, toS: fromS + PULSES_SHOWN / slowest });
  }
  if (gap) {
    const { startS } = gap;
    const around = PULSES_SHOWN / slowest / 2;
    views.push({ name: 'First missing pulse', fromS: startS - around, toS: startS + around });
  }
  return views;
}
