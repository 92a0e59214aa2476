import {
  caseBench,
  DEFAULT_HOUSE_RULES,
  EMPTY_INTAKE,
  templateProfile,
  type CaseEvidence,
  type Entry,
} from '@jarro/core';
import type { Bench } from '../src/features/case/bench';
import { ruledOut, type KeptEntry } from '../src/features/path/ruled-out';

// What stands there the moment a number was entered, before the next is typed.

const system = { shipped: true, name: 'P1', profile: templateProfile('P1') };
const volts = (at: string, value: number, changes: Partial<KeptEntry> = {}): KeptEntry => ({
  kind: 'voltage',
  at,
  value,
  keyState: 'prime',
  faultPresent: true,
  reference: 'battery-',
  unloaded: false,
  trust: 'normal',
  ...changes,
});

function benchWith(...entries: readonly (Omit<KeptEntry, 'kind'> & Pick<Entry, 'kind'>)[]): Bench {
  const taken = entries.map((entry, i) => ({ ...entry, id: `e${i}`, takenAt: '2026-01-01T10:00:00.000Z' }));
  const evidence: CaseEvidence = { intake: EMPTY_INTAKE, system, entries: taken, captures: [] };
  return { evidence, rules: DEFAULT_HOUSE_RULES, ...caseBench(evidence, DEFAULT_HOUSE_RULES) } as unknown as Bench;
}
const current = { ...volts('pump', 5), kind: 'current' as const };

describe('what one more number rules out', () => {
  it('a good one far down the path clears all before it at once', () => {
    const text = ruledOut(benchWith(volts('battery', 12.5), current), volts('cutoff', 12.4));
    expect(text).toMatch(/^12\.40 V clears .*Fuse.*Relay 87.* and Cut-off switch\.$/);
  });

  it('a bad one says between what the volts are lost', () => {
    const bench = benchWith(volts('battery', 12.5), volts('fuse', 12.45), current);
    expect(ruledOut(bench, volts('relay', 11.2))).toBe('11.20 V: what is lost lies in Relay 87.');
  });

  it('says the same before and after the bench knows of it, and follows what arrives late', () => {
    const [battery, fuse, relay] = [volts('battery', 12.5), volts('fuse', 12.45), volts('relay', 11.2)];
    const said = '11.20 V: what is lost lies in Relay 87.';
    expect(ruledOut(benchWith(battery, fuse, current), relay)).toBe(said);
    expect(ruledOut(benchWith(battery, fuse, current, relay), relay)).toBe(said);
    expect(ruledOut(benchWith(battery, current, relay), relay)).toMatch(/Fuse and Relay 87/);
  });

  it('says nothing where nothing is settled: no load, another state, the fault away', () => {
    const bench = benchWith(volts('battery', 12.5), current);
    expect(ruledOut(bench, volts('relay', 12.4, { unloaded: true }))).toBeUndefined();
    expect(ruledOut(bench, volts('relay', 12.4, { keyState: 'idle' }))).toBeUndefined();
    expect(ruledOut(bench, volts('relay', 12.4, { faultPresent: false }))).toBeUndefined();
  });
});
