import { analyzeCapture } from '../src/analyze.js';
import { weighCase } from '../src/casework/case-bench.js';
import { presentEvidence, type CaseGround, type MeasuredCapture } from '../src/casework/chain.js';
import { chainWindow } from '../src/casework/chain-windows.js';
import { driveChain } from '../src/casework/drive-chain.js';
import { caseReadings } from '../src/casework/from-case.js';
import { signalEntries } from '../src/casework/signal-entries.js';
import { judgeWatch, watchLine, type Seen, type WatchMark } from '../src/casework/watch.js';
import type { Entry, EntryKind } from '../src/evidence/entry.js';
import { NOT_POSSIBLE } from '../src/evidence/entry.js';
import { DEFAULT_HOUSE_RULES } from '../src/rules/house-rules.js';
import { driveRecord } from '../src/simulate/wide-drive.js';
import { intermittentRecord } from '../src/simulate/wide-intermittent.js';
import { wideCapture } from '../src/simulate/wide-capture.js';
import { templateProfile } from '../src/vehicle/templates.js';
import { chain } from './support/case-chain.js';

// A driven pump's chain as handbooks of the trade walk it: asked, arriving, supplied, given out, answered (common practice, no
// published source).

const profile = {
  ...templateProfile('P4'),
  commandTable: [
    [10, 0],
    [90, 100],
  ] as const,
  feedbackTable: [
    { fromPercent: 20, toPercent: 30, meaning: 'no command' },
    { fromPercent: 45, toPercent: 55, meaning: 'normal' },
  ],
};
const moduleAt = profile.stations.findIndex(({ kind }) => kind === 'module');
const supply = profile.stations[moduleAt - 1].id;

let next = 0;
const entry = (kind: EntryKind, at: string, value: number | string, more: Partial<Entry> = {}): Entry => ({
  id: `e${next++}`,
  kind,
  at,
  value,
  keyState: 'idle',
  faultPresent: true,
  takenAt: '2026-01-01T00:00:00.000Z',
  ...more,
});
const scan = (value: number) => entry('scan', 'commanded_duty', value);
const duty = (at: 'command' | 'output' | 'feedback', value: number) => entry('duty', at, value);
const breaksAt = (...entries: Entry[]) => driveChain(entries, profile).breaks;

it.each([
  ['not-asked', [scan(0)]],
  ['not-asked', [duty('command', 0)]],
  ['not-arriving', [scan(60), duty('command', 0)]],
  ['not-arriving', [scan(60), duty('command', 30)]],
  ['not-supplied', [scan(60), duty('command', 60), entry('voltage', supply, 9.1), duty('output', 20)]],
  ['not-supplied', [duty('command', 60), entry('voltage', supply, 13.6), entry('voltage', 'module_ground', 0.9)]],
  ['not-given', [scan(60), duty('command', 50), duty('command', 60), duty('output', 30)]],
  ['answered-wrong', [duty('command', 60), duty('feedback', 25)]],
  [
    'nowhere',
    [scan(60), duty('command', 60), entry('voltage', supply, 13.6), duty('output', 62), duty('feedback', 50)],
  ],
  ['unknown', []],
  ['unknown', [scan(60), duty('command', 60)]],
] as const)('breaks: %s', (breaks, entries) => {
  expect(breaksAt(...entries)).toBe(breaks);
});

it('takes a line that is active low for what it asks, and says by which readings it judges', () => {
  const entries = [scan(30), duty('command', 70)];
  expect(driveChain([...entries, duty('output', 75)], profile).breaks).toBe('nowhere');
  const { because, says } = driveChain([...entries, duty('output', 20)], profile);
  expect(because).toHaveLength(2);
  expect(says).toMatch(/70 % asked means 75 % given out, and it is 20 %/);
});

it('leaves out what couldn’t be read, and what was read under another command', () => {
  expect(breaksAt(entry('duty', 'command', NOT_POSSIBLE), scan(60))).toBe('unknown');
  const bypassed = entry('duty', 'output', 10, { helped: 'module-bypassed' });
  expect(breaksAt(duty('command', 60), duty('output', 62), bypassed)).toBe('nowhere');
});

it('without a table a module may read its command in its own way', () => {
  const { commandTable: _, ...plain } = profile;
  expect(driveChain([duty('command', 30), duty('output', 60)], plain).breaks).toBe('unknown');
});

it('says what each link should read: by the link before it, the system’s tables and windows, and the house', () => {
  const grounds = {
    profile: { ...profile, currentWindows: { idle: { minA: 4, maxA: 7 } } },
    rules: { ...DEFAULT_HOUSE_RULES, groundDropV: 0.15 },
    pressure: { idle: { minPa: 380_000, maxPa: 420_000, basis: 'maker', source: 'x' } } as const,
  };
  const read = [scan(50), duty('command', 60)];
  const { links } = driveChain(read, profile);
  const windows = links.map((link) => chainWindow(link, read, grounds));
  expect(links.map(({ kind, at }) => `${kind}/${at}`)).toEqual([
    ...['scan/commanded_duty', 'duty/command', `voltage/${supply}`, 'voltage/module_ground', 'duty/output'],
    ...['duty/feedback', 'scan/actual_pressure', expect.stringMatching(/^current\//) as string],
  ]);
  expect(windows).toEqual([
    { least: 5, by: 'or nothing is asked' },
    { least: 44, most: 56, by: 'as the scan tool says' },
    { least: expect.closeTo(11.5, 0) as number, by: 'of a sound supply' },
    { most: 0.15, by: 'house limit' },
    // 60 % asked, by a table from 10 % for nothing to 90 % for all: 62.5 %.
    { least: 56.5, most: 68.5, by: 'by this system’s table' },
    { least: 45, most: 55, by: 'normal' },
    { least: 380_000, most: 420_000, by: 'maker’s' },
    { least: 4, most: 7, by: 'this system’s' },
  ]);
  // With nothing read before it a link is asked for nothing in particular.
  expect(chainWindow({ kind: 'duty', at: 'output' }, [], grounds)).toBeUndefined();
  expect(chainWindow({ kind: 'duty', at: 'command' }, [], grounds)).toEqual({ least: 5, by: 'or nothing is asked' });
});

describe('what a capture says as evidence', () => {
  const analyze = (sampleRateHz: number, columns: Readonly<Record<string, Float32Array | undefined>>) => {
    const unit = (role: string) => (role === 'pump_current' ? 'A' : role === 'rail_pressure' ? 'Pa' : 'V');
    const channels = Object.entries(columns).flatMap(([name, samples]) =>
      samples ? [{ name, unit: unit(name), fileFactor: 1, samples } as const] : [],
    );
    const setups = Object.fromEntries(channels.map(({ name }) => [name, { role: name as 'other' }]));
    return analyzeCapture('drawn', { sampleRateHz, startS: 0, channels, notes: [] }, { setups });
  };

  const falters = (fault: Parameters<typeof intermittentRecord>[1], withPressure: boolean) => {
    const { sampleRateHz, feedV, currentA, truth } = intermittentRecord(1104, fault);
    const pressure = feedV.map(() => 380e3);
    const columns = { pump_feed_voltage: feedV, pump_current: currentA };
    const analysis = analyze(sampleRateHz, { ...columns, ...(withPressure && { rail_pressure: pressure }) });
    return { truth, analysis, entries: signalEntries(analysis, 'idle') };
  };

  it('the duty of each line, with what is missing in it', () => {
    const { sampleRateHz, commandV, outputV, truth } = driveRecord(12, 'output-drops');
    const analysis = analyze(sampleRateHz, { command_signal: commandV, module_output_voltage: outputV });
    const entries = signalEntries(analysis, 'idle');
    expect(entries.map(({ kind, at }) => `${kind} ${at}`)).toEqual(['duty command', 'duty output']);
    expect(Math.abs(Number(entries[1].value) - truth.output.dutyPercent)).toBeLessThan(0.5);
    // What the module is supplied with meanwhile stands on the path, before the module.
    const supplied = analyze(sampleRateHz, {
      ...{ command_signal: commandV, module_output_voltage: outputV },
      module_supply_voltage: outputV.map(() => 13.42),
    });
    expect(signalEntries(supplied, 'idle', supply)).toContainEqual({
      ...{ kind: 'voltage', at: supply, value: 13.42, keyState: 'idle' },
    });
    expect(signalEntries(supplied, 'idle').map(({ kind }) => kind)).not.toContain('voltage');
  });

  it('which let go first, where the record can say it', () => {
    const told = (...record: Parameters<typeof falters>) =>
      falters(...record).entries.filter(({ kind }) => kind === 'fell-first');
    expect(told('contact-open', false)).toMatchObject([{ at: 'stall', value: 'voltage' }]);
    // With volts and current on the record an open pump needs no gauge.
    for (const withPressure of [true, false]) {
      expect(told('brush-open', withPressure)).toMatchObject([{ at: 'current', value: 'gone' }]);
    }
    expect(told('bind', false)).toMatchObject([{ at: 'current', value: 'more' }]);
    expect(told('starve', false)).toMatchObject([{ at: 'current', value: 'less' }]);
    expect(told('healthy', true)).toEqual([]);
  });

  it('that the rotor stood or the current broke off, where only a clamp was on', () => {
    const told = (seed: number) => {
      const { samples, sampleRateHz } = wideCapture(seed);
      return signalEntries(analyze(sampleRateHz, { pump_current: samples }), 'idle');
    };
    // No volts make a pump draw so much.
    expect(wideCapture(270_003).truth.fault).toBe('stall');
    expect(told(270_003)).toEqual([{ kind: 'fell-first', at: 'current', value: 'more', keyState: 'idle' }]);
    // That a current is gone doesn't say on which side of the pump's pin, without the volts.
    expect(wideCapture(270_019).truth.fault).toBe('contact-dropout');
    expect(told(270_019)).toEqual([{ kind: 'fell-first', at: 'current', value: 'broke-off', keyState: 'idle' }]);
    expect(wideCapture(440_067).truth.fault).toBe('healthy');
    expect(told(440_067)).toEqual([]);
  });

  it('what the feed loses for each ampere, beside what comes and goes: read while that was away', () => {
    const { truth, entries } = falters('contact-open', false);
    const [lost] = entries.filter(({ kind }) => kind === 'source');
    expect(lost).toMatchObject({ at: 'feed', faultPresent: false });
    expect(Number(lost.value) / truth.sourceOhm).toBeCloseTo(1, 1);
  });

  it('a sound current between the times that a contact lets go was read while that was away', () => {
    const { analysis } = falters('contact-open', false);
    const { links, read } = chain();
    read('capture', 'pump', {}, { keyState: 'idle' });
    const evidence = (measured: MeasuredCapture) => {
      const ground: CaseGround = { complaint: 'stalls at times', links, measuredOf: () => measured };
      return presentEvidence(ground, 'open');
    };
    const present = (measured: MeasuredCapture) => [
      ...new Set(caseReadings(evidence(measured)).map(({ faultPresent }) => faultPresent)),
    ];
    const { ramp, sequence } = analysis;
    expect(ramp?.pattern).toBe('even');
    expect(present({ ramp, sequence })).toEqual([false]);
    // So by a clamp alone: a rotor that stood, a current that broke off.
    for (const seed of [270_003, 270_019]) {
      const { samples, sampleRateHz } = wideCapture(seed);
      const alone = analyze(sampleRateHz, { pump_current: samples });
      expect(alone.sequence).toBeUndefined();
      expect(present(alone)).toEqual([false]);
    }
    expect(present({ ramp })).toEqual([true]);
    // The fault is on the record all the same: nothing is to be read again when it shows.
    expect(weighCase(evidence({ ramp, sequence }), DEFAULT_HOUSE_RULES).contradictions).toEqual([]);
    // Burnt bars show all the while.
    expect(present({ ramp: ramp && { ...ramp, pattern: 'burnt-bars' }, sequence })).toEqual([true]);
  });
});

describe('what fell first, by eye', () => {
  const both = { voltage: true, pressure: true };
  const seen = (...marks: (readonly [WatchMark, number, string?])[]): Seen[] =>
    marks.map(([mark, atS, what]) => ({ mark, atS, ...(what && { what }) }));

  it.each([
    ['voltage', seen(['voltage', 12], ['pressure', 13], ['engine', 14])],
    ['voltage', seen(['voltage', 12], ['back', 13], ['pressure', 20])],
    ['pressure', seen(['pressure', 5], ['engine', 9])],
    ['pressure', seen(['pressure', 5], ['voltage', 9])],
    ['together', seen(['voltage', 5.3], ['pressure', 5.1])],
    ['engine', seen(['engine', 3])],
    [undefined, seen(['disturbed', 3, 'plug wiggled'])],
  ] as const)('%s', (fell, marks) => {
    expect(judgeWatch(marks, both, 60).fell).toBe(fell);
  });

  it('claims nothing of what nobody watched', () => {
    const marks = seen(['pressure', 4], ['engine', 6]);
    expect(judgeWatch(marks, { voltage: false, pressure: true }, 60).fell).toBeUndefined();
    expect(judgeWatch(seen(['engine', 4]), { voltage: true, pressure: false }, 60).says).toMatch(
      /pressure weren’t watched/,
    );
  });

  it('says how long nothing fell, and what was disturbed before something did', () => {
    expect(judgeWatch([], both, 720).says).toBe('12 minutes without a drop.');
    const marks = seen(['disturbed', 30, 'heat on the relay'], ['voltage', 41.2]);
    expect(judgeWatch(marks, both, 60).says).toMatch(/volts went first, after heat on the relay/);
    expect(watchLine(marks)).toBe('30.0 s disturbed (heat on the relay), 41.2 s volts gone');
  });
});
