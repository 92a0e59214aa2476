import { connect } from 'node:net';
import type { AddressInfo } from 'node:net';
import type { Server } from 'node:http';
import {
  ACKNOWLEDGED_CAUTIONS,
  checkCase,
  DEFAULT_HOUSE_RULES,
  diagnose,
  simulateCapture,
  writeWav,
} from '@jarro/core';
import request from 'supertest';
import { DataSource } from 'typeorm';
import { hashPassword } from '../src/auth/auth.service.js';
import { CaptureRecord } from '../src/captures/captures.entities.js';
import { Case } from '../src/cases/cases.entities.js';
import { Session } from '../src/auth/auth.entities.js';
import { Shop, User } from '../src/people/people.entities.js';
import {
  csvOf,
  faceCautions,
  floatsOf,
  openCase,
  readVolts,
  startServer,
  upload,
  VEHICLE,
  type Agent,
  type TestServer,
} from './support.js';

let server: TestServer;
let lead: Agent;
let technician: Agent;

beforeAll(async () => {
  server = await startServer('cases', { fill: 'people' });
  lead = await server.as('orsa@fennick.demo');
  technician = await server.as('jem@fennick.demo');
});
afterAll(() => server.close());

const add = (by: Agent, id: string, kind: string, at: string, value: unknown, keyState = 'prime') =>
  by.post(`/api/cases/${id}/evidence`).send({ kind, at, value, keyState, faultPresent: true });
interface CaseBody {
  readonly ledger: object;
  readonly captures: readonly object[];
  readonly evidence: readonly { readonly id: string; readonly kind: string; readonly value: unknown }[];
  readonly seal: { readonly entries: number; readonly intact: boolean };
}

/** Without the cautions, with which every case here begins. */
const detail = async (by: Agent, id: string): Promise<CaseBody> => {
  const body = (await by.get(`/api/cases/${id}`).expect(200)).body as CaseBody;
  return { ...body, evidence: body.evidence.filter(({ kind }) => kind !== 'caution') };
};
const capturesStored = () => server.app.get(DataSource).getRepository(CaptureRecord).count();

describe('from a capture to a verdict', () => {
  it('measures a file, serves its trace and lets the gate decide', async () => {
    const id = await openCase(technician);
    const verdict = { kind: 'replace-pump', statement: 'Bars burnt on a proven feed.' };
    const refused = await technician.post(`/api/cases/${id}/verdicts`).send(verdict).expect(409);
    expect(refused.type).toBe('application/problem+json');
    expect((refused.body as { errors: string[] }).errors.length).toBeGreaterThan(3);

    const added = await upload(technician, id, csvOf({ burnt: [{ bar: 3, extraOhm: 2 }] })).expect(201);
    const captureId = (added.body as { id: string }).id;
    for (const [kind, value] of [
      ['battery', 12.5],
      ['pump', 12.2],
      ['ground-pin', 0.08],
    ] as const) {
      await readVolts(technician, id, kind, value).expect(201);
    }
    const body = await detail(technician, id);
    expect(body).toMatchObject({
      ledger: { lines: [{ side: 'supply' }, { side: 'ground' }] },
    });
    expect(body.captures[0]).toMatchObject({
      analysis: { ramp: { pattern: 'locked-notch', humps: { perRevolution: 8, basis: 'measured' } } },
    });

    const window = { channel: 0, from: 0, to: 16_000, columns: 100 };
    const pairs = await floatsOf(technician.get(`/api/captures/${captureId}/window`).query(window));
    expect(pairs).toHaveLength(200);
    expect(Math.max(...pairs)).toBeGreaterThan(8);

    await technician.post(`/api/cases/${id}/verdicts`).send(verdict).expect(201);
    const [kept] = (await detail(technician, id)).evidence.filter(({ kind }) => kind === 'verdict');
    expect(kept.value).toMatchObject({
      gate: { allowed: true },
      families: [{ family: 'pump-electrical' }, {}, {}, {}, {}],
    });
    await readVolts(technician, id, 'battery', 12).expect(409);
  });

  it('tells how far an upload has come while it runs, and that it is done', async () => {
    const id = await openCase(technician);
    const job = '6f1c2a34-0000-4000-8000-000000000001';
    const sending = technician
      .post(`/api/cases/${id}/captures`)
      .query({ fileName: 'a.csv', label: 'Prime', keyState: 'prime', faultPresent: 'true', job })
      .set('Content-Type', 'application/octet-stream')
      .send(csvOf({ sampleRateHz: 50_000, durationS: 1 }));
    const stages = new Set<string>();
    const watch = setInterval(() => {
      void technician.get(`/api/jobs/${job}`).then(({ status, body }) => {
        if (status === 200) stages.add((body as { stage: string }).stage);
      });
    }, 15);
    await sending.expect(201);
    clearInterval(watch);
    expect([...stages]).toContain('measuring');
    const over = await technician.get(`/api/jobs/${job}`).expect(200);
    expect(over.body).toMatchObject({ state: 'done', share: 1, id: expect.any(String) as string });
  });

  it('lets only a lead override the gate, and shows the reason', async () => {
    const id = await openCase(technician);
    const verdict = { kind: 'replace-pump', statement: 'Noisy.', overrideReason: 'Customer insists, in writing.' };
    await technician.post(`/api/cases/${id}/verdicts`).send(verdict).expect(403);
    await lead.post(`/api/cases/${id}/verdicts`).send(verdict).expect(201);
    const body = await detail(lead, id);
    expect(body.evidence.at(-1)).toMatchObject({ kind: 'verdict', value: { overrideReason: verdict.overrideReason } });
  });

  it('voids evidence with a reason, never twice, and then leaves it out of the ledger', async () => {
    const id = await openCase(technician);
    await readVolts(technician, id, 'battery', 12.5).expect(201);
    const wrong = (await readVolts(technician, id, 'pump', 2).expect(201)).body as { id: string };
    const path = `/api/cases/${id}/evidence/${wrong.id}/void`;
    await technician.post(path).send({ reason: '' }).expect(400);
    await technician.post(path).send({ reason: 'Pin not touching' }).expect(204);
    await technician.post(path).send({ reason: 'Again' }).expect(404);
    const body = await detail(technician, id);
    expect(body).toMatchObject({
      ledger: { lines: [] },
      evidence: [{}, { voided: { reason: 'Pin not touching', by: 'Jem Wackett' } }, { kind: 'void', at: wrong.id }],
    });
  });

  it('keeps how a reading was taken, seals it, and hands the case over as a file that is weighed alike', async () => {
    const id = await openCase(technician);
    const taken = { kind: 'voltage', at: 'relay', value: 1.3, keyState: 'prime', faultPresent: true };
    await readVolts(technician, id, 'battery', 12.4).expect(201);
    await technician
      .post(`/api/cases/${id}/evidence`)
      .send({ ...taken, reference: 'moon' })
      .expect(400);
    const how = { reference: 'battery+', trust: 'high' };
    await technician
      .post(`/api/cases/${id}/evidence`)
      .send({ ...taken, ...how })
      .expect(201);
    await technician
      .post(`/api/cases/${id}/evidence`)
      .send({ ...taken, value: 12.4, unloaded: true })
      .expect(201);
    const body = await detail(technician, id);
    expect(body.seal.intact).toBe(true);
    expect(body.evidence).toMatchObject([{ how: null }, { how }, { how: { unloaded: true } }]);

    const file = (await technician.get(`/api/cases/${id}/file`).expect(200)).body as object;
    const checked = checkCase(file);
    if (!('case' in checked)) throw new Error(JSON.stringify(checked.problems));
    const { system, readings, rules } = checked.case;
    expect(readings).toMatchObject([
      {},
      { reference: 'battery+', trust: 'high', keyState: 'prime' },
      { unloaded: true },
    ]);
    expect(diagnose(system, readings, { rules }).families[0].family).toBe('relay-contact');
  });

  it('chains evidence that is written at the same moment', async () => {
    const id = await openCase(technician);
    await Promise.all([1, 2, 3, 4, 5].map((n) => readVolts(technician, id, 'battery', 12 + n / 10).expect(201)));
    const body = await detail(technician, id);
    expect(body.seal).toMatchObject({ entries: ACKNOWLEDGED_CAUTIONS.length + 5, intact: true });
  });

  it('keeps a note that looks like something else as the text that it is', async () => {
    const id = await openCase(technician);
    const notes = ['12.6', 'true', '{"a":1}', '[', '"x"', 'null'];
    for (const text of notes) {
      await technician.post(`/api/cases/${id}/notes`).send({ stage: 'intake', text }).expect(201);
    }
    const { evidence, seal } = await detail(technician, id);
    expect(evidence.map(({ value }) => value)).toEqual(notes);
    expect(seal.intact).toBe(true);
  });

  it('notices a change behind its back', async () => {
    const id = await openCase(technician);
    for (const volts of [12.5, 12.4, 12.3]) await readVolts(technician, id, 'battery', volts).expect(201);
    const second = ACKNOWLEDGED_CAUTIONS.length + 2;
    const change = 'UPDATE evidence SET value = 14.4 WHERE caseId = ? AND sequence = ?';
    await server.app.get(DataSource).query(change, [id, second]);
    expect((await detail(technician, id)).seal.intact).toBe(false);
  });
});

describe('bad input stores nothing and says what to do', () => {
  const lines = (row: (i: number) => string) => Array.from({ length: 40 }, (_, i) => row(i)).join('\n');
  const wav = Buffer.from(writeWav(simulateCapture({ sampleRateHz: 20_000, durationS: 0.1 }).capture));
  const unknownCodec = Buffer.from(wav);
  unknownCodec[20] = 85;
  it.each([
    ['an empty file', Buffer.alloc(0), /empty/],
    ['a picture', Buffer.from([0xff, 0xd8, 0xff, 0xe0, 0, 16, 74, 70]), /not CSV text/],
    ['a header only', Buffer.from('Time,A\n'), /No row of numbers/],
    ['one column', Buffer.from(`Time (s)\n${lines(String)}`), /Only one column/],
    ['text among numbers', Buffer.from(`Time,A\n${'0,1\n'.repeat(20)}x,y\n`), /Row 22/],
    ['NaN', Buffer.from(`Time,A\n${lines((i) => `${i},${i === 9 ? 'NaN' : 1}`)}`), /Row 11, column "A": "NaN"/],
    ['no time column', Buffer.from(`A,B\n${lines((i) => `${(i * 7) % 5},${(i * 3) % 7}`)}`), /no time column/],
    ['3 samples', Buffer.from('Time,A\n0,1\n1,2\n2,3\n'), /Only 3 rows/],
    ['all zeros', Buffer.from(`Time,A\n${lines((i) => `${i},0`)}`), /nothing was recorded/],
    ['a WAV that ends before its samples', wav.subarray(0, 30), /cut off/],
    ['an unknown codec', unknownCodec, /format 85/],
  ])('%s', async (_name, body, message) => {
    const id = await openCase(technician);
    const before = await capturesStored();
    const answer = await upload(technician, id, body).expect(422);
    expect((answer.body as { detail: string }).detail).toMatch(message);
    expect(await capturesStored()).toBe(before);
  });

  it('a file over the limit', async () => {
    const id = await openCase(technician);
    const answer = await upload(technician, id, Buffer.alloc(3 * 1024 * 1024, '1')).expect(413);
    expect((answer.body as { detail: string }).detail).toMatch(/over the limit of 2 MiB/);
  });

  it('a connection cut in mid-upload', async () => {
    const id = await openCase(technician);
    const before = await capturesStored();
    const { port } = (server.app.getHttpServer() as Server).address() as AddressInfo;
    const login = await request(server.app.getHttpServer() as string)
      .post('/api/session')
      .send({ email: 'jem@fennick.demo', password: 'humps-not-hunches' });
    const cookie = login.headers['set-cookie'][0].split(';')[0];
    await new Promise<void>((resolve) => {
      const socket = connect(port, '127.0.0.1', () => {
        socket.write(
          `POST /api/cases/${id}/captures?fileName=a.csv&label=x&keyState=prime&faultPresent=true HTTP/1.1\r\nHost: x\r\nCookie: ${cookie}\r\n` +
            `Content-Type: application/octet-stream\r\nContent-Length: 100000\r\n\r\nTime,A\n0,1\n`,
        );
        setTimeout(() => socket.destroy(), 200);
      });
      socket.on('close', () => setTimeout(resolve, 300));
    });
    expect(await capturesStored()).toBe(before);
    await technician.get('/api/health').expect(200);
  });

  it('what can hurt, before its cautions were acknowledged', async () => {
    const { id } = (await technician.post('/api/cases').send(VEHICLE).expect(201)).body as { id: string };
    await add(technician, id, 'battery', 'rest', 12.5, 'off').expect(201);
    await add(technician, id, 'scan', 'commanded_duty', 30, 'idle').expect(201);
    const words = /acknowledge the cautions of its stage first \(fuel vapour, opening a line, high-pressure side\)/;
    await add(technician, id, 'pressure', 'rail', 380e3, 'idle').expect(422).expect(words);
    await technician.post(`/api/cases/${id}/cautions`).send({ caution: 'fuel-vapour' }).expect(204);
    await add(technician, id, 'pressure', 'rail', 380e3, 'idle')
      .expect(422)
      .expect(/first \(opening a line, high-pressure side\)/);
    await readVolts(technician, id, 'pump', 12)
      .expect(422)
      .expect(/power where it belongs/);
    expect((await detail(technician, id)).evidence).toHaveLength(2);
    await faceCautions(technician, id);
    await add(technician, id, 'pressure', 'rail', 380e3, 'idle').expect(201);
    await readVolts(technician, id, 'pump', 12).expect(201);
  });

  it('fields that are missing or out of range', async () => {
    const id = await openCase(technician);
    await technician.post('/api/cases').send({ model: '' }).expect(400);
    const answer = await readVolts(technician, id, 'battery', 124).expect(422);
    expect((answer.body as { detail: string }).detail).toMatch(/decimal point/);
    await add(technician, id, 'voltage', 'battery', 'abc').expect(422);
    await add(technician, id, 'voltage', 'battery', 12, 'sideways').expect(400);
    await add(technician, id, 'pressure', 'rail', -150e3, 'idle').expect(422);
    await add(technician, id, 'check', 'prime_heard', 'perhaps').expect(422);
    const nowhere = await add(technician, id, 'voltage', 'moon', 12).expect(422);
    expect((nowhere.body as { detail: string }).detail).toMatch(/Name a station of this path: battery, link/);
    await add(technician, id, 'resistance', 'cutoff', -1, 'off').expect(422);
    await add(technician, id, 'resistance', 'cutoff', 'wandering', 'off').expect(201);
    await technician.get('/api/cases/not-an-id').expect(400);
  });
});

describe('who may do what', () => {
  it('needs a sign-in everywhere but for health', async () => {
    const nobody = request(server.app.getHttpServer() as string);
    await nobody.get('/api/health').expect(200);
    for (const path of ['/api/cases', '/api/session', '/api/captures/00000000-0000-4000-8000-000000000000/window']) {
      await nobody.get(path).expect(401);
    }
  });

  it("hides another shop's cases", async () => {
    const source = server.app.get(DataSource);
    const shop = await source
      .getRepository(Shop)
      .save({ name: 'Other', town: 'Elsewhere', rules: DEFAULT_HOUSE_RULES });
    await source.getRepository(User).save({
      shopId: shop.id,
      name: 'Stranger',
      email: 'stranger@other.demo',
      passwordHash: await hashPassword('humps-not-hunches'),
      role: 'lead',
    });
    const stranger = await server.as('stranger@other.demo');
    const [item] = await source.getRepository(Case).findBy({ number: 2 });
    const [capture] = await source.getRepository(CaptureRecord).findBy({ caseId: item.id });
    await stranger.get(`/api/cases/${item.id}`).expect(404);
    await stranger
      .get(`/api/captures/${capture.id}/window`)
      .query({ channel: 0, from: 0, to: 10, columns: 1 })
      .expect(404);
    await readVolts(stranger, item.id, 'battery', 12).expect(404);
    await upload(stranger, item.id, Buffer.from('x')).expect(404);
    expect((await stranger.get('/api/cases').expect(200)).body).toEqual({ cases: [], pages: 1, total: 0 });
  });

  it('refuses writes sent by another site', async () => {
    await technician.post('/api/cases').set('Origin', 'http://evil.example').send(VEHICLE).expect(403);
  });

  it('locks an account after ten wrong passwords, and signs out for good', async () => {
    const nobody = request(server.app.getHttpServer() as string);
    const wrong = () => nobody.post('/api/session').send({ email: 'pell@fennick.demo', password: 'wrong' });
    for (let i = 0; i < 10; i++) await wrong().expect(401);
    const locked = await nobody
      .post('/api/session')
      .send({ email: 'pell@fennick.demo', password: 'humps-not-hunches' });
    expect(locked.status).toBe(429);
    const agent = await server.as('jem@fennick.demo');
    await agent.delete('/api/session').expect(204);
    await agent.get('/api/session').expect(401);
  });

  it('keeps no session token in the database', async () => {
    const sessions = await server.app.get(DataSource).getRepository(Session).find();
    expect(sessions.every(({ tokenHash }) => /^[0-9a-f]{64}$/.test(tokenHash))).toBe(true);
  });
});

it('describes itself at /api/docs', async () => {
  const { text } = await request(server.app.getHttpServer() as string)
    .get('/api/docs-json')
    .expect(200);
  expect(text).toContain('/api/cases/{id}/captures');
});
