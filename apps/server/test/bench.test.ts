import { randomUUID } from 'node:crypto';
import type { CaseDetail, Colleague, Me, PhotoValue, ToolItem } from '@jarro/api-types';
import { templateProfile } from '@jarro/core';
import { DataSource } from 'typeorm';
import sharp from 'sharp';
import { DEMO_CODE, DEMO_PASSWORD } from '../src/demo/scenario.js';
import { EvidenceRecord } from '../src/evidence/evidence.entities.js';
import { openCase, startServer, type Agent, type TestServer } from './support.js';

let server: TestServer;
let technician: Agent;

beforeAll(async () => {
  server = await startServer('bench', { fill: 'people' });
  technician = await server.as('jem@fennick.demo');
});
afterAll(() => server.close());

const links = (id: string) => server.app.get(DataSource).getRepository(EvidenceRecord).findBy({ id });
const nameOf = async (agent: Agent) => ((await agent.get('/api/session').expect(200)).body as Me).user.name;

describe('an entry that waited on the device', () => {
  const entry = { kind: 'voltage', at: 'battery', value: 12.4, keyState: 'prime', faultPresent: true };

  it.each([
    ['evidence', entry, { at: 'pump' }],
    ['notes', { stage: 'power-path', text: 'Plug green inside.' }, { stage: 'intake' }],
  ])(
    'is kept once however often it is sent, with the time at which it was made (%s)',
    async (path, made, elsewhere) => {
      const caseId = await openCase(technician);
      const id = randomUUID();
      const waited = { ...made, id, secondsAgo: 600 };
      const send = (body: object, to = caseId) => technician.post(`/api/cases/${to}/${path}`).send(body);
      const answers = await Promise.all([send(waited), send(waited), send(waited)]);
      expect(answers.map(({ status }) => status)).toEqual([201, 201, 201]);
      const [kept, ...more] = await links(id);
      expect(more).toEqual([]);
      expect(Math.abs(Date.now() - kept.takenAt.getTime() - 600_000)).toBeLessThan(60_000);
      const other = await openCase(technician);
      await send(waited, other).expect(409);
      await send({ ...waited, ...elsewhere }).expect(409);
      await send({ ...made, secondsAgo: -5 }, other).expect(400);
    },
  );

  it('is told that it arrived, though the case was decided since', async () => {
    const caseId = await openCase(technician);
    const waited = { ...entry, id: randomUUID(), secondsAgo: 1 };
    await technician.post(`/api/cases/${caseId}/evidence`).send(waited).expect(201);
    const lead = await server.as('orsa@fennick.demo');
    const verdict = { kind: 'replace-pump', statement: 'Noisy.', overrideReason: 'Customer insists, in writing.' };
    await lead.post(`/api/cases/${caseId}/verdicts`).send(verdict).expect(201);
    await technician.post(`/api/cases/${caseId}/evidence`).send(waited).expect(201);
    await technician
      .post(`/api/cases/${caseId}/evidence`)
      .send({ ...waited, id: randomUUID() })
      .expect(409);
    expect(await links(waited.id)).toHaveLength(1);
  });
});

describe('a shared tablet', () => {
  it('changes its person by a code, and what is entered then is theirs', async () => {
    const tablet = await server.as('jem@fennick.demo');
    const colleagues = (await tablet.get('/api/session/colleagues').expect(200)).body as Colleague[];
    expect(colleagues.map(({ name }) => name)).not.toContain(await nameOf(tablet));
    const [next] = colleagues;
    await tablet.post('/api/session/person').send({ to: next.id, pin: '0000' }).expect(403);
    await tablet.post('/api/session/person').send({ to: next.id, pin: DEMO_CODE }).expect(204);
    expect(await nameOf(tablet)).toBe(next.name);
  });

  it('asks for the password after five wrong codes, and for a code that was set with one', async () => {
    const tablet = await server.as('jem@fennick.demo');
    const orsa = await server.as('orsa@fennick.demo');
    const lead = ((await tablet.get('/api/session/colleagues')).body as Colleague[]).find(
      ({ role }) => role === 'lead',
    );
    const hand = (pin: string) => tablet.post('/api/session/person').send({ to: lead?.id, pin });
    for (let i = 0; i < 5; i++) await hand('1111').expect(403);
    await hand(DEMO_CODE).expect(403);
    await orsa.put('/api/session/pin').send({ password: 'wrong words here', pin: '4711' }).expect(403);
    await orsa.put('/api/session/pin').send({ password: DEMO_PASSWORD, pin: '47' }).expect(400);
    await orsa.put('/api/session/pin').send({ password: DEMO_PASSWORD, pin: '4711' }).expect(204);
    await hand('4711').expect(204);
    // Taken away, by hand or with a new password, nobody gets in by one.
    const next = 'four other unrelated words';
    await orsa.post('/api/session/password').send({ present: DEMO_PASSWORD, next }).expect(204);
    expect(((await orsa.get('/api/session')).body as Me).user.hasCode).toBe(false);
    await orsa.put('/api/session/pin').send({ password: next, pin: '4711' }).expect(204);
    await orsa.put('/api/session/pin').send({ password: next }).expect(204);
    expect(((await orsa.get('/api/session')).body as Me).user.hasCode).toBe(false);
    await orsa.post('/api/session/password').send({ present: next, next: DEMO_PASSWORD }).expect(204);
    const other = await server.as('jem@fennick.demo');
    await other.post('/api/session/person').send({ to: lead?.id, pin: '4711' }).expect(403);
  });
});

describe('a photo', () => {
  it('hangs on a station of the path or on a reading, and on nothing that isn’t there', async () => {
    const caseId = await openCase(technician);
    const picture = await sharp({ create: { width: 8, height: 8, channels: 3, background: 'red' } })
      .png()
      .toBuffer();
    const send = (about: Record<string, string>) =>
      technician
        .post(`/api/cases/${caseId}/photos`)
        .query({ fileName: 'a.png', caption: 'Green pin', stage: 'power-path', ...about })
        .set('Content-Type', 'application/octet-stream')
        .send(picture);
    const { evidence } = (await technician.get(`/api/cases/${caseId}`)).body as CaseDetail;
    const station = templateProfile('P1').stations[3].id;
    await send({ station }).expect(201);
    await send({ entry: evidence[0].id }).expect(201);
    await send({ station: 'no-such-place' }).expect(422);
    await send({ entry: randomUUID() }).expect(422);
    const after = ((await technician.get(`/api/cases/${caseId}`)).body as CaseDetail).evidence;
    const abouts = after.filter(({ kind }) => kind === 'photo').map(({ value }) => (value as PhotoValue).about);
    expect(abouts).toEqual([{ station }, { entry: evidence[0].id }]);
  });
});

describe('the shop’s clamps and transducers', () => {
  const clamp = { kind: 'clamp', name: 'Brass clamp', voltsPerUnit: 0.01, zeroV: 0 };
  const names = async () => {
    const tools = (await technician.get('/api/tools').expect(200)).body as ToolItem[];
    return tools.map(({ name }) => name);
  };

  it('come last used first, each name once a kind, and go without what was taken with them', async () => {
    const add = (tool: object, status = 201) => technician.post('/api/tools').send(tool).expect(status);
    const first = ((await add(clamp)).body as { id: string }).id;
    await add({ ...clamp, name: 'Steel clamp', voltsPerUnit: 0.1 });
    // The same name of another kind is another thing; a space beside it isn't.
    await add({ ...clamp, kind: 'transducer', voltsPerUnit: 4e-6, zeroV: 0.5 });
    const again = await add({ ...clamp, name: ' Brass clamp ' }, 409);
    expect((again.body as { detail: string }).detail).toMatch(/There is a clamp of that name already/);
    await technician.post(`/api/tools/${first}/used`).expect(204);
    expect((await names())[0]).toBe('Brass clamp');
    expect(await names()).toHaveLength(3);
    await technician.delete(`/api/tools/${first}`).expect(204);
    await technician.delete(`/api/tools/${first}`).expect(404);
    expect((await names()).sort()).toEqual(['Brass clamp', 'Steel clamp']);
  });

  it('are refused in one clear line where they could scale nothing', async () => {
    const before = await names();
    for (const [wrong, says] of [
      [{ voltsPerUnit: 0 }, /a number above 0/],
      [{ voltsPerUnit: -0.1 }, /a number above 0/],
      [{ voltsPerUnit: 'much' }, /voltsPerUnit/],
      [{ name: '' }, /as it is written on it/],
      [{ kind: 'spoon' }, /kind/],
      [{ zeroV: 1e9 }, /zeroV/],
    ] as const) {
      const answer = await technician
        .post('/api/tools')
        .send({ ...clamp, name: 'Wrong one', ...wrong })
        .expect(400);
      expect((answer.body as { detail: string }).detail).toMatch(says);
    }
    expect(await names()).toEqual(before);
  });
});
