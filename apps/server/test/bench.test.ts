import { randomUUID } from 'node:crypto';
import type { CaseDetail, Colleague, Me, PhotoValue } from '@jarro/api-types';
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
      expect(Math.abs(Date.now() - kept.takenAt.getTime() - 600_000)).toBeLessThan(10_000);
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
