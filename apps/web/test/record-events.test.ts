import type { Dropout, PulseTrain, RampResult, SequenceIncident } from '@jarro/core';
import type { StoredAnalysis } from '@jarro/api-types';
import { neighbour } from '../src/charts/trace-window';
import {
  aroundIncident,
  aroundMoment,
  eventsOf,
  gapSpans,
  incidentSpans,
  stepSpans,
} from '../src/features/capture/spans';

// What happened in a record, where the trace jumps to and what it marks.

const incident = (startS: number, endS?: number) =>
  ({ startS, ...(endS !== undefined && { endS }) }) as unknown as SequenceIncident;
const dropout = (startS: number, endS: number, locked: boolean): Dropout => ({ startS, endS, depthA: 2, locked });
const train = (startsS: readonly number[], missing = 1) =>
  ({ frequencyHz: 100, gaps: startsS.map((startS) => ({ startS, missing })) }) as unknown as PulseTrain;
const analysis = (of: {
  incidents?: readonly SequenceIncident[];
  dropouts?: readonly Dropout[];
  pulses?: Record<string, PulseTrain>;
}) =>
  ({
    findings: [],
    ...(of.incidents && { sequence: { incidents: of.incidents } }),
    ...(of.dropouts && { ramp: { dropouts: of.dropouts } as unknown as RampResult }),
    ...(of.pulses && { pulses: of.pulses }),
  }) as unknown as StoredAnalysis;

it('lists incidents, gaps and missing pulses in order of time, whatever channel they came from', () => {
  const events = eventsOf(
    analysis({
      incidents: [incident(4, 4.2), incident(1, 1.5)],
      dropouts: [dropout(3, 3.01, false), dropout(2, 2.001, true)],
      pulses: { Command: train([0.5]), Output: train([2.5, 6]) },
    }),
  );
  expect(events.map(({ name, atS }) => [name, atS])).toEqual([
    ['missing pulse', 0.5],
    ['incident', 1],
    ['missing pulse', 2.5],
    ['dropout', 3],
    ['incident', 4],
    ['missing pulse', 6],
  ]);
  expect(eventsOf(analysis({}))).toEqual([]);
});

it('passes over what comes back at every turn: one of them shows it', () => {
  const every = Array.from({ length: 50 }, (_, i) => dropout(i / 100, i / 100 + 0.001, true));
  expect(eventsOf(analysis({ dropouts: every }))).toEqual([]);
});

it('shows each with as much around it as it takes, and never less than what was usual before it', () => {
  const [long, short] = eventsOf(analysis({ incidents: [incident(1, 3)], dropouts: [dropout(5, 5.001, false)] }));
  expect(long).toMatchObject({ fromS: -1, toS: 5 });
  expect(short.fromS).toBeCloseTo(4.95, 9);
  expect(short.toS).toBeCloseTo(5.051, 9);
  expect(aroundIncident(incident(1, 3))).toEqual({ fromS: -1, toS: 5 });
  // One that the record ends with is shown by its beginning.
  expect(aroundIncident(incident(10))).toEqual({ fromS: 9.5, toS: 11 });
  expect(aroundMoment(10)).toEqual({ fromS: 9, toS: 11 });
});

it('is walked through by its keys, one after the other and back', () => {
  const events = eventsOf(analysis({ incidents: [incident(2, 2.1), incident(8, 8.1), incident(5, 5.1)] }));
  const seen: number[] = [];
  for (let at = 0; seen.length < 3; at = seen[seen.length - 1]) seen.push(neighbour(events, at, 1)!.atS);
  expect(seen).toEqual([2, 5, 8]);
  expect(neighbour(events, 8, -1)?.atS).toBe(5);
  // Nothing lies beyond the ends.
  expect(neighbour(events, 8, 1)?.atS).toBe(8);
  expect(neighbour(events, 2, -1)?.atS).toBe(2);
});

it('marks what is missing as long as it is missing, and says how many', () => {
  expect(gapSpans(train([1]))).toEqual([{ fromS: 1, toS: 1.01, tone: 'dropout', label: 'missing' }]);
  expect(gapSpans(train([1], 3))[0]).toMatchObject({ label: '3 missing' });
  expect(gapSpans(train([1], 3))[0].toS).toBeCloseTo(1.03, 9);
  expect(incidentSpans([incident(1, 2), incident(5)]).map(({ toS }) => toS)).toEqual([2, 5.5]);
  expect(stepSpans([{ fromS: 1, toS: 2, commandPercent: 39.6 }])).toEqual([
    { fromS: 1, toS: 2, tone: 'inrush', label: '40 %' },
  ]);
});
