import fc from 'fast-check';
import { simulateCapture, analyzeCapture, EMPTY_INTAKE, grouped } from '@jarro/core';
import { errorText } from '../src/app/api';
import { arrangeLanes, EACH_ITS_OWN, type TraceSignal } from '../src/charts/signals';
import { clampWindow, neighbour, ownWindow, timeText, toPoints, withMargin } from '../src/charts/trace-window';
import { firstViewOf, spansOf, viewsOf } from '../src/features/capture/spans';
import { entriesOf } from '../src/features/case/evidence';
import type { CaseDetail, EvidenceItem, PressureUnitName, StoredAnalysis } from '@jarro/api-types';
import { readNumber } from '../src/app/units';
import { describeLink } from '../src/features/evidence/describe-link';

describe('the trace’s window', () => {
  it('stays within the capture and keeps its width, whatever is asked', () => {
    const any = fc.double({ min: -1e7, max: 2e7, noNaN: true });
    fc.assert(
      fc.property(any, any, fc.integer({ min: 16, max: 1e7 }), (from, width, samples) => {
        const window = clampWindow({ from, to: from + Math.abs(width) }, samples);
        expect(window.from).toBeGreaterThanOrEqual(0);
        expect(window.to).toBeLessThanOrEqual(samples);
        expect(window.to - window.from).toBeGreaterThanOrEqual(16);
        expect(Number.isInteger(window.from) && Number.isInteger(window.to)).toBe(true);
      }),
    );
  });

  it('loads as much again around what is shown, and nothing that isn’t there', () => {
    const place = fc.integer({ min: 0, max: 1e6 });
    fc.assert(
      fc.property(place, place, place, (a, b, more) => {
        const view = { from: Math.min(a, b), to: Math.max(a, b) + 1 };
        const samples = view.to + more;
        const loaded = withMargin(view, samples);
        const width = view.to - view.from;
        expect(loaded.from).toBe(Math.max(0, view.from - Math.ceil(width / 2)));
        expect(loaded.to).toBe(Math.min(samples, view.to + Math.ceil(width / 2)));
      }),
    );
  });

  it('draws both ends of every column, and a single point where they are one', () => {
    const pairs = Float32Array.from([1, 3, 2, 2]);
    const points = toPoints(pairs, { from: 100, to: 300 }, (sample) => sample / 1000);
    expect(points).toEqual([
      { x: 0.15, y: 1 },
      { x: 0.15, y: 3 },
      { x: 0.25, y: 2 },
    ]);
  });

  it('leaves a gap where a column has no value', () => {
    const points = toPoints(Float32Array.from([NaN, NaN, 1, 2]), { from: 0, to: 200 }, (sample) => sample);
    expect(points.map(({ y }) => y)).toEqual([NaN, 1, 2]);
  });

  it('finds the same moments in another record, whatever its rate and where it was laid', () => {
    const main = { samples: 10_000, sampleRateHz: 1000, startS: 2 };
    const other = { samples: 4000, sampleRateHz: 200, startS: 0 };
    // Its 1 s lies at 4 s of the main record.
    expect(ownWindow({ from: 2000, to: 4000 }, main, other, 3)).toEqual({ from: 200, to: 600 });
    expect(ownWindow({ from: 0, to: 3000 }, main, other, 3)).toEqual({ from: 0, to: 400 });
    expect(ownWindow({ from: 0, to: 900 }, main, other, 3)).toBeUndefined();
  });

  it('names times in the unit of the stretch shown', () => {
    expect(timeText(0.0123, 0.01)).toBe('12.30 ms');
    expect(timeText(0.0123, 0.5)).toBe('12 ms');
    expect(timeText(90, 120)).toBe('90 s');
    expect(grouped(12345.4)).toBe('12\u2009345');
  });
});

describe('lanes', () => {
  const signal = (id: string, unit: string): TraceSignal => ({ id, name: id, unit, source: () => Promise.reject(new Error('none')) }); // prettier-ignore
  const signals = [signal('current', 'A'), signal('feed', 'V'), signal('ground', 'V'), signal('rail', 'kPa')];
  const ids = (over: Record<string, string>, hidden: string[] = []) =>
    arrangeLanes(signals, { over, hidden }).map((lane) => lane.map(({ id }) => id));

  it('are one a signal until somebody lays one over another', () => {
    expect(arrangeLanes(signals, EACH_ITS_OWN).map(([{ id }]) => id)).toEqual(['current', 'feed', 'ground', 'rail']);
    expect(ids({ ground: 'feed' })).toEqual([['current'], ['feed', 'ground'], ['rail']]);
    expect(ids({ current: 'feed' })).toEqual([['feed', 'current'], ['ground'], ['rail']]);
  });

  it('bear two units at most, and lose nothing but what is hidden', () => {
    expect(ids({ current: 'feed', rail: 'feed' })).toEqual([['feed', 'current'], ['ground'], ['rail']]);
    expect(ids({ ground: 'feed' }, ['feed'])).toEqual([['current'], ['ground'], ['rail']]);
    expect(ids({ feed: 'ground', ground: 'feed' }).flat().sort()).toEqual(['current', 'feed', 'ground', 'rail']);
  });
});

describe('measurements on the trace', () => {
  const { capture } = simulateCapture({ sampleRateHz: 50_000, burnt: [{ bar: 2, extraOhm: 2 }] });
  const { ramp } = analyzeCapture('x', capture);
  if (!ramp) throw new Error('no ramp');

  it('marks one turn as long as the revolution, inside the steady part', () => {
    const turn = spansOf(ramp).find(({ tone }) => tone === 'turn');
    expect(turn && (turn.toS - turn.fromS) * 1000).toBeCloseTo(ramp.revolutionMs ?? NaN, 6);
    expect(turn && turn.fromS > (ramp.steady?.fromS ?? NaN) && turn.toS < (ramp.steady?.toS ?? NaN)).toBe(true);
    expect(turn?.label).toMatch(/one turn [\d.]+ ms · \d\u2009\d{3} rpm/);
  });

  it('marks every dropout and the inrush, and offers views of them', () => {
    const spans = spansOf(ramp);
    expect(spans.filter(({ tone }) => tone === 'dropout')).toHaveLength(ramp.dropouts.length);
    expect(spans.find(({ tone }) => tone === 'inrush')?.label).toMatch(/peak 1\d\.\d A/);
    expect(viewsOf({ ramp, findings: [] } as unknown as StoredAnalysis).map(({ name }) => name)).toEqual([
      'A few turns',
      'Inrush',
    ]);
  });

  it('opens on what shows a shape, and on the whole where something fell', () => {
    const first = (analysis: object) => firstViewOf(analysis as unknown as StoredAnalysis);
    expect(first({ ramp, findings: [] })?.toS).toBeLessThan(ramp.steady!.toS);
    const switched = { code: 'switched', window: [1, 1.02] };
    const chopped = { inverted: false, dropouts: [], pattern: 'pulsed' };
    expect(first({ ramp: chopped, findings: [switched] })).toMatchObject({ name: 'A few cycles' });
    expect(first({ ramp: chopped, findings: [] })).toBeUndefined();
    expect(first({ ramp, findings: [{ code: 'stall', window: [1, 2] }] })).toBeUndefined();
  });

  it('draws nothing that was not measured', () => {
    expect(spansOf({ inverted: false, dropouts: [], pattern: 'no-current' })).toEqual([]);
    expect(
      viewsOf({
        ramp: { inverted: false, dropouts: [], pattern: 'no-current' },
        findings: [],
      } as unknown as StoredAnalysis),
    ).toEqual([]);
  });
});

describe('evidence', () => {
  const link = (part: Partial<EvidenceItem>): EvidenceItem => ({
    id: '1',
    sequence: 1,
    kind: 'voltage',
    at: 'battery',
    value: 12,
    keyState: 'prime',
    faultPresent: true,
    how: null,
    takenBy: 'x',
    takenAt: '2026-01-01T00:00:00Z',
    hash: '',
    voided: null,
    ...part,
  });
  const voided = { by: 'x', at: '', reason: 'pin off' };

  it('hands on what stands, with how it was taken, and no voided reading', () => {
    const evidence = [
      link({ id: 'a', value: 12.1, how: { reference: 'chassis' } }),
      link({ id: 'b', value: 1, voided }),
      link({ id: 'v', kind: 'void', at: 'b', value: { reason: 'pin off' }, keyState: null, faultPresent: null }),
      link({ id: 'c', kind: 'note', at: 'repair', value: 'x', keyState: null, faultPresent: null }),
    ];
    expect(entriesOf({ evidence, stage: 'open' })).toMatchObject([{ id: 'a', value: 12.1, reference: 'chassis' }]);
    expect(entriesOf({ evidence, stage: 'open' })).toHaveLength(1);
  });

  it('reads in the units of whoever reads it', () => {
    const item = { evidence: [link({})], captures: [], intake: EMPTY_INTAKE, system: null } as unknown as CaseDetail;
    const text = (part: Partial<EvidenceItem>, unit: PressureUnitName) => describeLink(link(part), item, unit);
    const rail = { kind: 'pressure', at: 'rail', value: 379_212 } as const;
    expect(text(rail, 'psi')).toMatchObject({ title: 'Gauge at the rail', text: '55.0 psi' });
    expect(text(rail, 'bar').text).toBe('3.79 bar');
    expect(text(rail, 'kPa').text).toBe('379 kPa');
    expect(text({ kind: 'timing', at: 'injector_on_time', value: 0.038 }, 'psi').text).toBe('38.00 ms');
    expect(text({ kind: 'check', at: 'prime_heard', value: 'silent' }, 'psi').text).toBe('Silent');
    expect(text({ kind: 'void', at: '1', value: { reason: 'pin off' } }, 'psi').text).toBe('of entry 1: pin off');
    const points = [0, 60, 120].map((t) => [t, 300e3 - 100 * t]);
    expect(text({ kind: 'hold', at: 'rail', value: { points, blocked: 'none' } }, 'kPa').text).toBe(
      '3 points, 6 kPa a minute',
    );
    const short = { points: points.map(([t, pascal]) => [t / 30, pascal]), blocked: 'supply' };
    expect(text({ kind: 'hold', at: 'rail', value: short }, 'kPa').text).toBe(
      '3 points, supply line blocked, too short to tell',
    );
    expect(text({ kind: 'caution', at: 'high-side' }, 'kPa').text).toBe('High-pressure side');
  });

  it('takes a comma for a point, and text for what it is', () => {
    expect(['12,5', ' -3 ', '−3', '', 'x', '1e9999'].map(readNumber)).toEqual([
      12.5,
      -3,
      -3,
      undefined,
      undefined,
      undefined,
    ]);
  });

  it('says what the server said, or that it is away', () => {
    expect(errorText(undefined)).toBeUndefined();
    expect(errorText({ status: 422, data: { detail: 'Row 3 is bad.' } })).toBe('Row 3 is bad.');
    expect(errorText({ status: 'FETCH_ERROR', error: 'x' })).toMatch(/can’t be reached/);
  });
});

it('goes from one event to the next, from wherever the window is, and not beyond the ends', () => {
  const events = [1, 2.5, 7].map((atS) => ({ name: 'dropout', atS, fromS: atS - 0.1, toS: atS + 0.1 }));
  const jumps = [0, 1, 3, 9].map((timeS) => [neighbour(events, timeS, -1)?.atS, neighbour(events, timeS, 1)?.atS]);
  expect(jumps).toEqual([
    [1, 1],
    [1, 2.5],
    [2.5, 7],
    [7, 7],
  ]);
  expect(neighbour([], 1, 1)).toBeUndefined();
});
