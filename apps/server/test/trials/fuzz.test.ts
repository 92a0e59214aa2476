import { DEFAULT_HOUSE_RULES, EMPTY_INTAKE, templateProfile } from '@jarro/core';
import fc from 'fast-check';
import { LONG, openCase, startServer, VEHICLE, type Agent, type TestServer } from '../support.js';

// Bodies that no form sends, made from ones that a form does. Whatever comes, it is answered: never with a 500.

const RUNS = LONG ? 20_000 : 1200;
const SEED = Number(process.env.JARRO_TRIAL_SEED ?? 20_261_126);

interface Form {
  readonly method: 'post' | 'put' | 'patch' | 'get';
  readonly path: string;
  readonly body?: object;
  readonly query?: Record<string, string>;
}

const entry = (kind: string, at: string, value: unknown, keyState = 'prime') => ({
  method: 'post' as const,
  path: '/api/cases/{case}/evidence',
  body: { kind, at, value, keyState, faultPresent: true, reference: 'battery-', unloaded: false, trust: 'normal' },
});
const HOLD = { points: [[0, 371e3], [60, 369e3], [180, 366e3]], blocked: 'none' }; // prettier-ignore
const FORMS: readonly Form[] = [
  { method: 'post', path: '/api/session', body: { email: 'a@b.demo', password: 'x' } },
  { method: 'post', path: '/api/session/password', body: { present: 'x', next: 'long enough words' } },
  { method: 'post', path: '/api/session/units', body: { pressureUnit: 'bar' } },
  { method: 'get', path: '/api/cases', query: { page: '1' } },
  { method: 'post', path: '/api/cases', body: { ...VEHICLE, year: 2014 } },
  { method: 'get', path: '/api/cases/{case}' },
  { method: 'get', path: '/api/cases/{case}/file' },
  entry('voltage', 'pump', 12.1),
  entry('current', 'pump', 4.2),
  entry('pressure', 'rail', 371e3),
  entry('check', 'fuel_in_tank', 'yes', 'off'),
  entry('hold', 'rail', HOLD, 'after-off'),
  entry('volume', 'rail', { volumeM3: 0.001, durationS: 30 }, 'idle'),
  entry('scan', 'long_trim', 4, 'idle'),
  entry('visual', 'relay', 'damaged', 'off'),
  { method: 'post', path: '/api/cases/{case}/notes', body: { stage: 'intake', text: '12.6' } },
  { method: 'post', path: '/api/cases/{case}/cautions', body: { caution: 'power' } },
  {
    method: 'put',
    path: '/api/cases/{case}/intake',
    body: {
      basis: 0,
      intake: {
        ...EMPTY_INTAKE,
        vehicle: { model: 'M', engine: '1', plate: 'P', year: 2001 },
        codes: ['P0087'],
        frequency: 'often',
        afterMinutes: 5,
        makersWindows: { prime: { minPa: 3e5, maxPa: 4e5 } },
        sensorTable: [[0.5, 0], [4.5, 1e6]], // prettier-ignore
      },
    },
  },
  { method: 'post', path: '/api/cases/{case}/system', body: { line: '{line}', version: 1 } },
  { method: 'post', path: '/api/cases/{case}/system', body: { template: 'P2' } },
  {
    method: 'post',
    path: '/api/cases/{case}/verdicts',
    body: { kind: 'replace-pump', statement: 'Because.', overrideReason: 'short' },
  },
  { method: 'post', path: '/api/cases/{case}/close', body: {} },
  { method: 'post', path: '/api/cases/{case}/reopen', body: { reason: 'another look is needed' } },
  { method: 'post', path: '/api/cases/{case}/repair', body: { at: 'done', value: { what: 'x', changed: true } } },
  { method: 'post', path: '/api/cases/{case}/left-in', body: { at: 'lead', what: 'a long lead' } },
  { method: 'post', path: '/api/cases/{case}/taken-out', body: { at: 'fed', how: 'it is off' } },
  { method: 'get', path: '/api/captures/{case}/window', query: { channel: '0', from: '0', to: '10', columns: '4' } },
  {
    method: 'post',
    path: '/api/cases/{case}/captures',
    query: {
      fileName: 'a.csv',
      label: 'x',
      keyState: 'prime',
      faultPresent: 'true',
      setups: '{"A":{"role":"pump_current","factor":1}}',
      bars: '8',
      rateHz: '1000',
    },
    body: { not: 'a capture' },
  },
  { method: 'get', path: '/api/systems' },
  { method: 'post', path: '/api/systems', body: { profile: templateProfile('P4') } },
  { method: 'put', path: '/api/systems/{line}', body: { basis: 1, profile: templateProfile('P1') } },
  { method: 'post', path: '/api/systems/{line}/retire', body: { retired: false } },
  {
    method: 'post',
    path: '/api/people',
    body: { name: 'N', email: 'n@n.demo', role: 'technician', password: 'long enough' },
  },
  {
    method: 'patch',
    path: '/api/people/{person}',
    body: { role: 'technician', active: true, password: 'long enough' },
  },
  {
    method: 'put',
    path: '/api/shop',
    body: { version: 1, name: 'S', town: 'T', rules: DEFAULT_HOUSE_RULES, pressureUnit: 'bar' },
  },
  { method: 'get', path: '/api/audit', query: { before: '5' } },
  {
    method: 'post',
    path: '/api/set-up',
    body: { code: 'AAAA-BBBB-CCCC', shop: 'S', town: 'T', name: 'N', email: 'n@n.demo', password: 'long enough' },
  },
];

const NASTY = fc.oneof(
  fc.constantFrom<unknown>(
    ...[null, true, '', [], {}, 0, -0, -1, 1.5, 2 ** 31, 2 ** 53, 1e308, -1e308, 5e-324],
    ...['constructor', '__proto__', 'toString', 'hasOwnProperty', '\ud800', 'a\u0000b', '\u202e', '😀'.repeat(300)],
    ...['x'.repeat(191), 'x'.repeat(70_000), "' OR 1=1 --", '{"a":1}', '12', 'NaN', '../../etc', '%00', 'P0087'],
    ...[[[]], [null], [[1, 2, 3]], { minPa: 1 }, { length: 1e9 }, { then: 'x' }, { prime: null }, { toJSON: 1 }],
    JSON.parse('{"__proto__":{"admin":true}}'),
    JSON.parse('['.repeat(60) + ']'.repeat(60)),
  ),
  fc.jsonValue({ maxDepth: 4 }),
);

interface Step {
  /** Which part, counted over all of them. */
  readonly at: number;
  readonly how: 'replace' | 'remove' | 'add';
  readonly value: unknown;
}

const step: fc.Arbitrary<Step> = fc.record({
  at: fc.nat({ max: 400 }),
  how: fc.constantFrom('replace' as const, 'replace' as const, 'remove' as const, 'add' as const),
  value: NASTY,
});

/** Every place of a body, as the object that holds it and the key. */
function places(value: unknown, found: [Record<string, unknown>, string][] = []) {
  if (typeof value !== 'object' || value === null) return found;
  for (const key of Object.keys(value)) {
    found.push([value as Record<string, unknown>, key]);
    places((value as Record<string, unknown>)[key], found);
  }
  return found;
}

function spoil(body: object, steps: readonly Step[]): unknown {
  const root = { body: structuredClone(body) as unknown };
  for (const { at, how, value: drawn } of steps) {
    // A copy: the same value may be put into itself otherwise.
    const value = structuredClone(drawn);
    const all = places(root);
    const [holder, key] = all[at % all.length];
    if (how === 'replace') holder[key] = value;
    else if (how === 'remove' && !Array.isArray(holder) && key !== 'body') delete holder[key];
    else if (typeof holder[key] === 'object' && holder[key] !== null) {
      Object.defineProperty(holder[key], `more${at}`, { value, enumerable: true, configurable: true, writable: true });
    }
  }
  return root.body;
}

let server: TestServer;
let lead: Agent;
const ids: Record<string, string> = {};

beforeAll(async () => {
  server = await startServer('fuzz', { fill: 'people' });
  lead = await server.as('orsa@fennick.demo');
  ids.case = await openCase(lead);
  const system = await lead.post('/api/systems').send({ profile: { ...templateProfile('P1'), name: 'Own' } });
  ids.line = (system.body as { id: string }).id;
  const people = (await lead.get('/api/people')).body as { id: string; email: string }[];
  ids.person = people.find(({ email }) => email.startsWith('jem'))!.id;
});
afterAll(() => server.close());

const named = (text: string) => text.replace(/\{(case|line|person)\}/g, (_, name: string) => ids[name]);

it(`answers ${RUNS} spoilt requests without one 500`, async () => {
  const run = fc.record({
    form: fc.constantFrom(...FORMS),
    steps: fc.array(step, { minLength: 1, maxLength: 3 }),
    raw: fc.option(fc.constantFrom('{', '[1,', 'null', '"x"', '12', '', '{"a":1e999}', '\ufeff{}', '{"a":"\\ud800"}'), {
      freq: 25,
    }),
  });
  const failed: string[] = [];
  const counts = new Map<number, number>();
  for (const { form, steps, raw } of fc.sample(run, { numRuns: RUNS, seed: SEED })) {
    const call = lead[form.method](named(form.path));
    if (form.query) {
      const query = spoil(form.query, steps) as Record<string, unknown>;
      call.query(typeof query === 'object' && query !== null ? (query as Record<string, string>) : {});
    }
    const body =
      form.body && (raw ?? JSON.stringify(spoil(JSON.parse(named(JSON.stringify(form.body))) as object, steps)));
    if (form.method !== 'get') call.set('Content-Type', 'application/json');
    const { status, text } = await call.send(body);
    counts.set(status, (counts.get(status) ?? 0) + 1);
    if (status >= 500)
      failed.push(`${form.method} ${form.path} ${String(body).slice(0, 300)} -> ${status} ${text.slice(0, 200)}`);
  }
  expect(failed).toEqual([]);
  // Some get through and some don't, or nothing was tried.
  expect(counts.get(400)).toBeGreaterThan(RUNS / 10);
  expect((counts.get(200) ?? 0) + (counts.get(201) ?? 0) + (counts.get(204) ?? 0)).toBeGreaterThan(RUNS / 50);
  // Whatever was stored opens.
  await lead.get(`/api/cases/${ids.case}`).expect(200);
});
