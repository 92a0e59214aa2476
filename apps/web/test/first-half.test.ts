import {
  ACKNOWLEDGED_CAUTIONS,
  caseBench,
  DEFAULT_HOUSE_RULES,
  EMPTY_INTAKE,
  FIRST_CHECKS,
  pressureSheet,
  STAGES,
  type Entry,
  type EntryKind,
  type EntryValue,
  type Intake,
  type KeyState,
} from '@jarro/core';
import type { CaseDetail, EvidenceItem } from '@jarro/api-types';
import { openCautions } from '../src/features/case/cautions';
import { progressOf } from '../src/features/case/progress';
import { fieldName, fieldsThatDiffer, fieldText, INTAKE_FIELDS } from '../src/features/intake/intake-words';
import { clockText, timeText } from '../src/features/pressure/hold-words';

// What the first stages say of themselves, worked out apart from any screen.

let count = 0;
const link = (
  kind: EvidenceItem['kind'],
  at: string,
  value: unknown,
  keyState: KeyState | null = null,
): EvidenceItem => ({
  id: `l${++count}`,
  sequence: count,
  kind,
  at,
  value,
  keyState,
  faultPresent: keyState && true,
  how: null,
  takenBy: 'Jem',
  takenAt: '2026-01-01T10:00:00.000Z',
  hash: '',
  voided: null,
});
const read = (kind: EntryKind, at: string, value: EntryValue, keyState: KeyState) => link(kind, at, value, keyState);

function itemOf(
  evidence: readonly EvidenceItem[],
  known: Partial<Intake> = {},
  captures: readonly unknown[] = [],
): CaseDetail {
  const intake = { ...EMPTY_INTAKE, ...known };
  const entries = evidence.filter(({ keyState }) => keyState) as unknown as Entry[];
  const sheet = pressureSheet({ entries, intake });
  const given = { stage: 'open', evidence, captures, intake: { ...intake, sequence: 1 }, system: null, sheet };
  return given as unknown as CaseDetail;
}

function openAt(
  stage: (typeof STAGES)[number],
  evidence: readonly EvidenceItem[],
  known?: Partial<Intake>,
  captures?: readonly unknown[],
): readonly string[] {
  const item = itemOf(evidence, known, captures);
  const { ladders } = caseBench({ intake: item.intake, entries: [], captures: [] }, DEFAULT_HOUSE_RULES);
  return progressOf(item, ladders)[stage].open;
}

describe('what is open in a stage', () => {
  it('every answered check leaves the list, and with a battery read nothing is open', () => {
    const answers = FIRST_CHECKS.map(({ at, answers: [first], keyState }) => read('check', at, first.value, keyState));
    answers.forEach((_, i) => {
      const open = openAt('first-checks', answers.slice(0, i + 1));
      expect(open).toHaveLength(FIRST_CHECKS.length - i);
      expect(open).not.toContain(FIRST_CHECKS[i].title.toLowerCase());
    });
    expect(openAt('first-checks', [...answers, read('battery', 'rest', 12.6, 'off')])).toEqual([]);
  });

  it('a capture that doesn’t tell the draw leaves one to be taken, as one of pressure alone does; no current is an answer', () => {
    let findings: readonly unknown[] = [];
    const openWith = (...ramps: readonly unknown[]) => {
      const links = ramps.map(() => link('capture', 'pump', null, 'prime'));
      const captures = ramps.map((ramp, i) => ({
        id: links[i].id,
        analysis: { capture: { channels: [] }, findings, ramp },
      }));
      return openAt('current', links, {}, captures);
    };
    expect(openWith()).toEqual(['a capture of the prime']);
    expect(openWith(undefined)).toEqual(['a capture of the prime']);
    const level = { pattern: 'even', steady: { meanA: 5 } };
    expect(openWith({ pattern: 'even' })).toEqual(['a capture that tells what the pump draws']);
    expect(openWith({ pattern: 'even' }, level)).toEqual([]);
    expect(openWith({ pattern: 'no-current' })).toEqual([]);
    // What it shows beside is taken into the sheet first.
    findings = [{ code: 'interrupted' }];
    expect(openWith(level)).toEqual(['what the capture shows, into the sheet']);
  });

  it('a driven path wants what the module gives out beside its command, as two duties or in a sweep', () => {
    const driven = { system: 'returnless-electronic' } as const;
    const sweep = (step: object) => read('sweep', 'module', { steps: [{ commandPercent: 53, ...step }] }, 'idle');
    const command = read('duty', 'command', 53, 'idle');
    expect(openAt('control', [])).toEqual([]);
    for (const evidence of [
      [],
      [command],
      [sweep({ currentA: 1.5 })],
      [read('fell-first', 'order', 'voltage', 'idle')],
    ])
      expect(openAt('control', evidence, driven)).toEqual(['command and output']);
    expect(openAt('control', [command, read('duty', 'output', 26, 'idle')], driven)).toEqual([]);
    expect(openAt('control', [sweep({ outputPercent: 26 })], driven)).toEqual([]);
  });

  it('the pressure sheet wants bleeding, prime, idle and hold; the three-way check only with a sensor on the rail', () => {
    expect(openAt('pressure', [])).toEqual(['bleeding', 'prime', 'idle', 'hold']);
    const points = [0, 60, 120, 180].map((t) => [t, 380e3 - 10 * t] as const);
    const evidence = [
      read('check', 'gauge_bled', 'yes', 'prime'),
      read('pressure', 'rail', 380e3, 'prime'),
      read('pressure', 'rail', 380e3, 'idle'),
      read('hold', 'rail', { points, blocked: 'none' }, 'after-off'),
    ];
    expect(openAt('pressure', evidence)).toEqual([]);
    const features = { railSensor: 'yes', returnLine: 'no', module: 'yes' } as const;
    expect(openAt('pressure', evidence, { features })).toEqual(['three-way check']);
    // A voided number is open again.
    const voided = evidence.map((one, i) =>
      i === 1 ? { ...one, voided: { by: 'Jem', at: '', reason: 'leak' } } : one,
    );
    expect(openAt('intake', voided)).toEqual(['what it does', 'when', 'which fuel system']);
  });

  it('a caution stands before its stage until it was acknowledged, once for all stages that share it', () => {
    const seen = (ids: readonly string[]) => itemOf(ids.map((id) => link('caution', id, true)));
    const ahead = (ids: readonly string[], stage: (typeof STAGES)[number]) =>
      openCautions(seen(ids), stage).map(({ id }) => id);
    expect(ahead([], 'pressure')).toEqual(['fuel-vapour', 'open-line', 'high-side']);
    expect(ahead(['fuel-vapour', 'open-line'], 'pressure')).toEqual(['high-side']);
    expect(ahead(['fuel-vapour'], 'repair')).toEqual(['tank-down']);
    for (const stage of STAGES) expect(ahead(ACKNOWLEDGED_CAUTIONS, stage)).toEqual([]);
  });
});

describe('an intake in words', () => {
  const full: Required<Intake> = {
    vehicle: { model: 'Osier Plover', engine: '1.6', plate: 'OP1', year: 2014 },
    system: 'return-rail',
    features: { railSensor: 'no', returnLine: 'yes', module: 'no' },
    symptoms: ['stalls'],
    circumstances: ['hot', 'after-minutes'],
    frequency: 'often',
    since: 'spring',
    afterMinutes: 10,
    priorRepairs: 'pump',
    condemnedBy: 'the last shop',
    tampering: ['bypassed-relay'],
    batterySupport: 'charger',
    codes: ['P0087'],
    makersWindows: { idle: { minPa: 300e3, maxPa: 400e3 } },
    sensorTable: [
      [0.5, 0],
      [4.5, 1e6],
    ],
    notes: 'n',
  };

  it('every field has a name and words, and an empty intake has dashes where nothing was said', () => {
    expect(new Set(INTAKE_FIELDS)).toEqual(new Set(Object.keys(full)));
    for (const field of INTAKE_FIELDS) {
      expect(fieldName(field)).toMatch(/^[A-Z]/);
      expect(fieldText(full, field, 'kPa')).not.toBe('–');
    }
    expect(fieldText(full, 'makersWindows', 'psi')).toBe('idle 43.5 to 58.0 psi');
    expect(fieldText(full, 'sensorTable', 'bar')).toBe('0.5 V = 0.00 bar, 4.5 V = 10.00 bar');
    expect(fieldText(EMPTY_INTAKE, 'vehicle', 'kPa')).toBe('–');
    expect(fieldText(EMPTY_INTAKE, 'codes', 'kPa')).toBe('–');
  });

  it('two intakes differ by what they say, not by the order it was written in', () => {
    expect(
      fieldsThatDiffer(full, { ...full, vehicle: { year: 2014, plate: 'OP1', engine: '1.6', model: 'Osier Plover' } }),
    ).toEqual([]);
    const changed = { ...full, codes: ['P0087', 'P0171'], features: { ...full.features, module: 'unknown' as const } };
    expect(fieldsThatDiffer(full, changed)).toEqual(['features', 'codes']);
    expect(fieldsThatDiffer(EMPTY_INTAKE, full)).toEqual(INTAKE_FIELDS);
  });

  it('a clock shows minutes and seconds, a time to half what is worth saying', () => {
    expect([0, 7.9, 61, 754].map(clockText)).toEqual(['0:00', '0:07', '1:01', '12:34']);
    expect([40, 89, 150, 1800].map(timeText)).toEqual(['40 s', '89 s', '2.5 min', '30 min']);
  });
});
