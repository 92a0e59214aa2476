import { readdirSync, readFileSync } from 'node:fs';
import { join } from 'node:path';
import Ajv from 'ajv';
import {
  checkCase,
  DEFAULT_HOUSE_RULES,
  diagnose,
  FIRST_CHECKS,
  NUMBER_RULES,
  READING_KINDS,
  type Family,
} from '../src/index.js';

const FORMATS = join(__dirname, '../../../docs/formats');
const json = (path: string) => JSON.parse(readFileSync(join(FORMATS, path), 'utf8')) as Record<string, unknown>;
const EXAMPLES = readdirSync(join(FORMATS, 'examples')).sort();
const validate = new Ajv().compile(json('jarro.case-1.schema.json'));
const P1 = { format: 'jarro.case/1', system: { template: 'P1' } };
const problemsOf = (content: unknown) => {
  const checked = checkCase(content);
  return 'problems' in checked ? checked.problems : [];
};

describe('case files', () => {
  it.each([
    ['p1.json', 'relay-contact'],
    ['p2.json', 'relay-control'],
    ['p3.json', 'ground-wiring'],
    ['p4.json', 'module'],
    ['p5.json', 'sensor'],
    ['p6.json', 'pump-electrical'],
    ['p7.json', 'feed-wiring'],
    ['p8.json', 'hydraulic'],
    ['p9.json', 'hydraulic'],
  ] satisfies [string, Family][])('the example %s meets the schema and comes out as %s', (name, family) => {
    const content = json(`examples/${name}`);
    expect(validate(content)).toBe(true);
    const checked = checkCase(content);
    if (!('case' in checked)) throw new Error(JSON.stringify(checked.problems));
    expect(diagnose(checked.case.system, checked.case.readings).families[0].family).toBe(family);
    expect(EXAMPLES).toHaveLength(9);
  });

  it('the schema and its page have every house rule, with the range that the rules have', () => {
    const { rules } = json('jarro.case-1.schema.json').properties as Record<string, { properties: object }>;
    expect(Object.keys(rules.properties).sort()).toEqual(Object.keys(DEFAULT_HOUSE_RULES).sort());
    for (const [name, { least, most }] of Object.entries(NUMBER_RULES)) {
      expect(rules.properties).toHaveProperty(name, expect.objectContaining({ minimum: least, maximum: most }));
    }
    const page = readFileSync(join(FORMATS, 'README.md'), 'utf8');
    for (const name of Object.keys(DEFAULT_HOUSE_RULES)) expect(page).toContain(`\`${name}\``);
    // A file of before the later rules is taken as ever.
    expect(problemsOf({ ...P1, rules: { supplyDropV: 0.3 }, readings: [] })).toEqual([]);
  });

  it('every example in the page of reading kinds is taken, and none is missing', () => {
    const page = readFileSync(join(FORMATS, 'reading-kinds.md'), 'utf8');
    const rows = [...page.matchAll(/`(\{"kind":.*?\})` *\|/g)].map(([, text]) => JSON.parse(text) as { kind: string });
    const readings = rows.map((row) => ({ ...row, id: row.kind }));
    const system = { template: 'P4' };
    expect(problemsOf({ ...P1, system, readings })).toEqual([]);
    expect(validate({ ...P1, system, readings })).toBe(true);
    expect(readings.map(({ kind }) => kind).sort()).toEqual([...READING_KINDS].sort());
    for (const { at } of FIRST_CHECKS) expect(page).toContain(`\`${at}\``);
  });

  it.each<[string, unknown, string, string]>([
    ['no JSON object', [], '', 'one JSON object'],
    ['another format', { ...P1, format: 'x/2', readings: [] }, 'format', 'later version'],
    ['no such template', { ...P1, system: { template: 'P77' }, readings: [] }, 'system.template', 'P1'],
    [
      'a path that can’t close',
      { ...P1, system: { template: 'P1', stations: [] }, readings: [] },
      'system.stations',
      'closed',
    ],
    [
      'an impossible voltage',
      one({ kind: 'voltage', at: 'relay', value: 1234, state: 'prime' }),
      'readings[0].value',
      '1234 V',
    ],
    [
      'a wrong unit',
      one({ kind: 'voltage', at: 'relay', value: 12, unit: 'psi', state: 'prime' }),
      'readings[0].unit',
      'V, mV',
    ],
    [
      'no such station',
      one({ kind: 'voltage', at: 'moon', value: 12, state: 'prime' }),
      'readings[0].at',
      'ground-pin',
    ],
    ['no key state', one({ kind: 'current', value: 4 }), 'readings[0].state', 'prime'],
    ['no such answer', one({ kind: 'swap', value: 'maybe', state: 'prime' }), 'readings[0].value', 'changed'],
    [
      'a perfect vacuum and more',
      one({ kind: 'pressure', at: 'rail', value: -20, unit: 'psi', state: 'idle' }),
      'readings[0].value',
      '-20 psi',
    ],
    [
      'a module where there is none',
      one({ kind: 'module-bypass', value: 'runs', state: 'prime' }),
      'readings[0].kind',
      'no module',
    ],
    ['text for a number', one({ kind: 'current', value: '4 A', state: 'prime' }), 'readings[0].value', 'number'],
  ])('%s is refused by its field', (_name, content, field, words) => {
    const found = problemsOf(content).filter((problem) => problem.field === field);
    expect(found.map(({ message }) => message).join(' ')).toContain(words);
  });

  it('takes units to SI', () => {
    const readings = [
      { kind: 'pressure', at: 'rail', value: 1, unit: 'psi', state: 'idle' },
      { kind: 'voltage', at: 'relay', value: 250, unit: 'mV', state: 'prime' },
    ];
    const checked = checkCase({ ...P1, readings });
    if (!('case' in checked)) throw new Error(JSON.stringify(checked.problems));
    // NIST SP 811: 1 psi = 6.894 757 kPa.
    expect(checked.case.readings.map(({ value }) => value)).toEqual([expect.closeTo(6894.757, 2), 0.25]);
  });
});

function one(reading: object) {
  return { ...P1, readings: [reading] };
}
