import type { Server } from 'node:http';
import { DEFAULT_HOUSE_RULES, EMPTY_INTAKE, templateProfile } from '@jarro/core';
import request from 'supertest';
import { DataSource } from 'typeorm';
import { hashPassword } from '../src/auth/auth.service.js';
import { CaptureRecord } from '../src/captures/captures.entities.js';
import { EvidenceRecord } from '../src/evidence/evidence.entities.js';
import { Shop, User } from '../src/people/people.entities.js';
import { faceCautions, startServer, type TestServer } from './support.js';

type Agent = Awaited<ReturnType<TestServer['as']>>;
type Who = 'adviser' | 'technician' | 'lead' | 'stranger' | 'nobody';

/**
 * Every endpoint with what it answers to each role of the shop, to a lead of another shop and to nobody. Bodies are right
 * where a role may pass, so that a refusal can only come from the role. A 404 is all that a stranger learns.
 */
interface Row {
  readonly route: string;
  readonly query?: Record<string, string>;
  readonly body?: object | Buffer;
  /** Status by role; `else` for those not named. */
  readonly answers: Partial<Record<Who, number>> & { readonly else: number };
}

let server: TestServer;
let agents: Record<Who, Agent>;
const ids: Record<string, string> = { shelf: '6f1c2a34-0000-4000-8000-000000000009' };

const PNG = Buffer.from(
  'iVBORw0KGgoAAAANSUhEUgAAAAEAAAABCAYAAAAfFcSJAAAADUlEQVR42mNk+M9QDwADhgGAWjR9awAAAABJRU5ErkJggg==',
  'base64',
);
const VEHICLE = { model: 'M', engine: '1.0', plate: 'P', complaint: 'stalls' };
const PERSON = { name: 'New', role: 'technician', password: 'long enough words' };
const SHOP = { name: 'S', town: 'T', rules: DEFAULT_HOUSE_RULES, pressureUnit: 'bar', labourRate: 90, currency: '€' };
const PROFILE = templateProfile('P1');
const SET_UP = { code: 'AAAA-BBBB-CCCC', shop: 'S', town: 'T', name: 'N', email: 'n@n.demo', password: 'long enough' };
const STRETCH = { from: '0', to: '10', columns: '1' };
const WINDOW = { channel: '0', ...STRETCH };
const EVERYONE = { stranger: 404, nobody: 401 };
const BENCH = { ...EVERYONE, adviser: 403 };
const LEAD = { adviser: 403, technician: 403, nobody: 401 };

const ROWS: readonly Row[] = [
  { route: 'GET /api/health', answers: { else: 200 } },
  { route: 'GET /api/set-up', answers: { else: 200 } },
  { route: 'POST /api/set-up', body: SET_UP, answers: { else: 409 } },
  { route: 'GET /api/session', answers: { nobody: 401, else: 200 } },
  { route: 'POST /api/session', body: { email: 'x@x.demo', password: 'x' }, answers: { else: 401 } },
  {
    route: 'POST /api/session/password',
    body: { present: 'wrong', next: 'long enough words' },
    answers: { nobody: 401, else: 403 },
  },
  { route: 'PUT /api/session/pin', body: { password: 'wrong', pin: '1234' }, answers: { nobody: 401, else: 403 } },
  { route: 'GET /api/session/colleagues', answers: { nobody: 401, else: 200 } },
  {
    route: 'POST /api/session/person',
    body: { to: '6f1c2a34-0000-4000-8000-000000000009', pin: '1234' },
    answers: { nobody: 401, else: 403 },
  },
  { route: 'POST /api/session/units', body: {}, answers: { nobody: 401, else: 204 } },
  { route: 'GET /api/cases', answers: { nobody: 401, else: 200 } },
  { route: 'POST /api/cases', body: VEHICLE, answers: { nobody: 401, else: 201 } },
  { route: 'GET /api/cases/{id}', answers: { ...EVERYONE, else: 200 } },
  {
    route: 'PUT /api/cases/{id}/intake',
    body: { basis: -1, intake: EMPTY_INTAKE },
    answers: { nobody: 401, else: 400 },
  },
  {
    route: 'PUT /api/cases/{id}/intake',
    body: { basis: 9999, intake: EMPTY_INTAKE },
    answers: { ...EVERYONE, else: 409 },
  },
  { route: 'POST /api/cases/{id}/notes', body: { stage: 'repair', text: 'x' }, answers: { ...EVERYONE, else: 201 } },
  {
    route: 'POST /api/cases/{id}/marks',
    body: { captureId: '00000000-0000-4000-8000-000000000000', mark: 'engine', atS: 1 },
    answers: { nobody: 401, else: 404 },
  },
  { route: 'POST /api/cases/{id}/cautions', body: { caution: 'power' }, answers: { ...BENCH, else: 204 } },
  {
    route: 'POST /api/cases/{id}/evidence',
    body: { kind: 'voltage', at: 'battery', value: 12, keyState: 'prime', faultPresent: true },
    answers: { ...BENCH, else: 201 },
  },
  {
    route: 'POST /api/cases/{id}/evidence/{entry}/void',
    body: { reason: 'wrong pin' },
    answers: { ...BENCH, technician: 204, lead: 404, else: 404 },
  },
  {
    route: 'POST /api/cases/{id}/captures',
    query: { fileName: 'a.csv', label: 'x', keyState: 'prime', faultPresent: 'true' },
    body: Buffer.from('Time,A\n'),
    answers: { ...BENCH, else: 422 },
  },
  { route: 'GET /api/jobs/{job}', answers: { nobody: 401, else: 404 } },
  { route: 'DELETE /api/jobs/{job}', answers: { nobody: 401, else: 404 } },
  { route: 'GET /api/backups', answers: { ...LEAD, else: 200 } },
  { route: 'POST /api/backups', answers: { ...LEAD, else: 409 } },
  { route: 'DELETE /api/backups/running', answers: { ...LEAD, else: 204 } },
  { route: 'GET /api/captures/{id}/original', answers: { ...EVERYONE, else: 200 } },
  { route: 'POST /api/captures/{id}/analyses', answers: { ...BENCH, else: 409 } },
  { route: 'GET /api/cases/{id}/verify', answers: { ...EVERYONE, else: 200 } },
  { route: 'GET /api/captures/{id}/window', query: WINDOW, answers: { ...EVERYONE, else: 200 } },
  { route: 'POST /api/captures/{id}/math', body: { kind: 'low-pass', of: 99 }, answers: { ...BENCH, else: 422 } },
  { route: 'GET /api/captures/{id}/math/{channel}/window', query: STRETCH, answers: { nobody: 401, else: 404 } },
  { route: 'DELETE /api/captures/{id}/math/{channel}', answers: { ...BENCH, else: 204 } },
  {
    route: 'POST /api/cases/{id}/photos',
    query: { fileName: 'a.png', caption: '', stage: 'intake' },
    body: PNG,
    answers: { ...EVERYONE, else: 201 },
  },
  { route: 'GET /api/photos/{id}', answers: { ...EVERYONE, else: 200 } },
  { route: 'GET /api/photos/{id}/original', answers: { ...LEAD, stranger: 404, lead: 200, else: 403 } },
  { route: 'GET /api/photos/{id}/thumbnail', answers: { ...EVERYONE, else: 200 } },
  { route: 'POST /api/cases/{id}/system', body: { template: 'P2' }, answers: { ...BENCH, else: 201 } },
  {
    route: 'POST /api/cases/{id}/verdicts',
    body: { kind: 'replace-pump', statement: 'worn', overrideReason: 'the customer insists on it' },
    answers: { ...BENCH, technician: 403, lead: 201, else: 404 },
  },
  { route: 'POST /api/cases/{id}/close', body: {}, answers: { ...BENCH, technician: 409, lead: 409, else: 404 } },
  {
    route: 'POST /api/cases/{id}/repair',
    body: { at: 'part', value: { name: 'Pump' } },
    answers: { ...BENCH, technician: 201, lead: 201, else: 404 },
  },
  {
    route: 'POST /api/cases/{id}/left-in',
    body: { at: 'lead', what: 'a long lead at the relay' },
    answers: { ...BENCH, technician: 201, lead: 201, else: 404 },
  },
  {
    route: 'POST /api/cases/{id}/taken-out',
    body: { at: 'nothing', how: 'it is out' },
    answers: { ...BENCH, technician: 422, lead: 422, else: 404 },
  },
  {
    route: 'POST /api/cases/{id}/reopen',
    body: { reason: 'the customer is back with it' },
    answers: { ...BENCH, technician: 204, else: 409 },
  },
  {
    route: 'POST /api/cases/{id}/removals',
    body: { plate: false, photos: [], words: ['Nobody'], reason: 'asked for by letter' },
    answers: { ...LEAD, stranger: 404, else: 422 },
  },
  {
    route: 'GET /api/cases/{id}/report.pdf',
    query: { kind: 'customer', paper: 'A4' },
    answers: { ...EVERYONE, else: 200 },
  },
  { route: 'GET /api/cases/{id}/bundle', answers: { ...EVERYONE, else: 200 } },
  {
    route: 'POST /api/bundles',
    body: Buffer.from('no zip'),
    answers: { nobody: 401, adviser: 403, else: 422 },
  },
  { route: 'GET /api/cases/{id}/file', answers: { ...EVERYONE, else: 200 } },
  { route: 'GET /api/systems', answers: { nobody: 401, else: 200 } },
  { route: 'GET /api/systems/{line}', answers: { ...EVERYONE, else: 200 } },
  { route: 'POST /api/systems', body: { profile: PROFILE }, answers: { adviser: 403, nobody: 401, else: 201 } },
  { route: 'PUT /api/systems/{line}', body: { basis: 99, profile: PROFILE }, answers: { ...BENCH, else: 409 } },
  { route: 'POST /api/systems/{line}/retire', body: { retired: false }, answers: { ...BENCH, else: 204 } },
  { route: 'GET /api/people', answers: { ...LEAD, else: 200 } },
  { route: 'POST /api/people', body: { ...PERSON, email: 'nobody at all' }, answers: { ...LEAD, else: 400 } },
  { route: 'PATCH /api/people/{id}', body: { role: 'adviser' }, answers: { ...LEAD, stranger: 404, else: 204 } },
  { route: 'PUT /api/shop', body: { ...SHOP, version: 9999 }, answers: { ...LEAD, else: 409 } },
  { route: 'GET /api/tools', answers: { nobody: 401, else: 200 } },
  {
    route: 'POST /api/tools',
    body: { kind: 'clamp', name: 'Old grey clamp', voltsPerUnit: 0.01, zeroV: 0 },
    answers: { nobody: 401, adviser: 403, lead: 409, else: 201 },
  },
  { route: 'POST /api/tools/{id}/used', answers: { nobody: 401, adviser: 403, else: 204 } },
  { route: 'DELETE /api/tools/{id}', answers: { ...BENCH, technician: 204, else: 404 } },
  { route: 'GET /api/shelf', answers: { nobody: 401, else: 200 } },
  {
    route: 'POST /api/shelf',
    body: { captureId: '6f1c2a34-0000-4000-8000-000000000009', label: 'Some pump' },
    answers: { nobody: 401, adviser: 403, else: 404 },
  },
  {
    route: 'POST /api/shelf/{id}/retire',
    body: { retired: true },
    answers: { nobody: 401, adviser: 403, else: 404 },
  },
  { route: 'GET /api/learned', answers: { nobody: 401, else: 200 } },
  { route: 'GET /api/audit', answers: { ...LEAD, else: 200 } },
  { route: 'DELETE /api/session', answers: { else: 204 } },
];

beforeAll(async () => {
  server = await startServer('roles');
  const source = server.app.get(DataSource);
  const other = await source.getRepository(Shop).save({ name: 'Other', town: 'Elsewhere', rules: DEFAULT_HOUSE_RULES });
  const passwordHash = await hashPassword('humps-not-hunches');
  const common = { passwordHash };
  await source
    .getRepository(User)
    .save({ ...common, shopId: other.id, name: 'Stranger', email: 'stranger@other.demo', role: 'lead' });
  const [own] = await source.getRepository(Shop).findBy({ name: 'Fennick Lane Garage' });
  const spare = await source
    .getRepository(User)
    .save({ ...common, shopId: own.id, name: 'Spare', email: 'spare@fennick.demo', role: 'adviser' });
  agents = {
    lead: await server.as('orsa@fennick.demo'),
    technician: await server.as('jem@fennick.demo'),
    adviser: await server.as('pell@fennick.demo'),
    stranger: await server.as('stranger@other.demo'),
    nobody: request.agent(server.app.getHttpServer() as Server),
  };
  const created = (answer: request.Response) => (answer.body as { id: string }).id;
  ids.cases = created(await agents.lead.post('/api/cases').send(VEHICLE).expect(201));
  await faceCautions(agents.lead, ids.cases);
  const entry = { kind: 'voltage', at: 'battery', value: 12, keyState: 'prime', faultPresent: true };
  ids.entry = created(await agents.lead.post(`/api/cases/${ids.cases}/evidence`).send(entry).expect(201));
  ids.photos = created(
    await agents.lead
      .post(`/api/cases/${ids.cases}/photos`)
      .query({ fileName: 'a.png', caption: 'Fuse', stage: 'intake' })
      .set('Content-Type', 'application/octet-stream')
      .send(PNG)
      .expect(201),
  );
  const [capture] = await source.getRepository(CaptureRecord).find({ take: 1 });
  ids.captures = capture.id;
  ids.line = created(await agents.lead.post('/api/systems').send({ profile: PROFILE }).expect(201));
  const clamp = { kind: 'clamp', name: 'Blue clamp', voltsPerUnit: 0.1, zeroV: 0 };
  ids.tools = created(await agents.lead.post('/api/tools').send(clamp).expect(201));
  ids.people = spare.id;
});
afterAll(() => server.close());

it('has a row here for every endpoint there is', async () => {
  const docs = await agents.lead.get('/api/docs-json').expect(200);
  const { paths } = docs.body as { paths: Record<string, Record<string, unknown>> };
  const real = Object.entries(paths).flatMap(([path, methods]) =>
    Object.keys(methods).map((method) => `${method.toUpperCase()} ${path}`),
  );
  expect([...new Set(ROWS.map(({ route }) => route))].sort()).toEqual(real.sort());
});

const WHO: readonly Who[] = ['nobody', 'stranger', 'adviser', 'technician', 'lead'];

it.each(ROWS)('$route', async ({ route, query = {}, body, answers }) => {
  const [method, template] = route.split(' ');
  const family = /^\/api\/(\w+)/.exec(template)?.[1] ?? '';
  const path = template
    .replace('{id}', ids[family] ?? '')
    .replace('{entry}', ids.entry)
    .replace('{line}', ids.line)
    .replace('{channel}', '3')
    .replace('{job}', '6f1c2a34-0000-4000-8000-000000000009');
  const before = await rows();
  for (const who of WHO) {
    const call = agents[who][method.toLowerCase() as 'get' | 'post'](path).query(query);
    if (Buffer.isBuffer(body)) call.set('Content-Type', 'application/octet-stream');
    const answer = await call.send(body);
    expect(`${who} ${answer.status}`).toBe(`${who} ${answers[who] ?? answers.else}`);
    // A refusal leaves nothing behind and gives nothing away.
    if (who === 'nobody' || who === 'stranger') {
      if (answer.status >= 400) expect(JSON.stringify(answer.body)).not.toMatch(/Fennick|Jem|Orsa|battery/);
    }
  }
  // Of those who were let in each left one link.
  const kept = WHO.filter((who) => [201, 204].includes(answers[who] ?? answers.else)).length;
  if (answers.else >= 400) expect(await rows()).toBe(before + (WRITES.test(route) ? kept : 0));
});

/** What adds to a case's chain. */
const WRITES = /void|verdicts|repair|left-in|taken-out|reopen/;

const rows = () => server.app.get(DataSource).getRepository(EvidenceRecord).count();
