import type { Server } from 'node:http';
import { DEFAULT_HOUSE_RULES } from '@jarro/core';
import request from 'supertest';
import { createConnection } from 'mysql2/promise';
import sharp from 'sharp';
import { DataSource } from 'typeorm';
import { Setting } from '../src/database/settings.entities.js';
import { faceCautions, startServer, type TestServer } from './support.js';

let server: TestServer;

describe('the first real start', () => {
  const owner = {
    shop: 'Kelder Row Motors',
    town: 'Ostlemere',
    name: 'Wenna Prow',
    email: 'Wenna@Kelder.demo',
    password: 'four unrelated words',
  };
  beforeAll(async () => {
    server = await startServer('setup', { fill: 'nothing' });
  });
  afterAll(() => server.close());

  it('makes the owner by the one-time code, once, and by nothing else', async () => {
    const browser = request.agent(server.app.getHttpServer() as Server);
    expect((await browser.get('/api/set-up').expect(200)).body).toEqual({ needed: true });
    const wrong = await browser
      .post('/api/set-up')
      .send({ ...owner, code: 'WRNG-WRNG-WRNG' })
      .expect(403);
    expect((wrong.body as { detail: string }).detail).toMatch(/not the code/);
    await browser
      .post('/api/set-up')
      .send({ ...owner, code: 'short' })
      .expect(400);
    const { value: code } = await server.app
      .get(DataSource)
      .getRepository(Setting)
      .findOneByOrFail({ name: 'set-up-code' });
    await browser
      .post('/api/set-up')
      .send({ ...owner, code, password: 'short' })
      .expect(400);
    await browser
      .post('/api/set-up')
      .send({ ...owner, code })
      .expect(204);
    await browser
      .post('/api/set-up')
      .send({ ...owner, code })
      .expect(409);
    expect((await browser.get('/api/set-up').expect(200)).body).toEqual({ needed: false });
    await browser.post('/api/session').send({ email: 'wenna@kelder.demo', password: owner.password }).expect(204);
    expect((await browser.get('/api/session').expect(200)).body).toMatchObject({
      user: { role: 'lead' },
      shop: { name: 'Kelder Row Motors' },
    });
  });

  it('lets the owner add people, who sign in, change their password and can be let go', async () => {
    const http = server.app.getHttpServer() as Server;
    const lead = request.agent(http);
    await lead.post('/api/session').send({ email: owner.email, password: owner.password }).expect(204);
    const me = ((await lead.get('/api/people')).body as { id: string }[])[0];
    await lead.patch(`/api/people/${me.id}`).send({ role: 'technician' }).expect(409);
    const person = { name: 'Tam Orrel', email: 'tam@kelder.demo', role: 'technician', password: 'first password' };
    const { id } = (await lead.post('/api/people').send(person).expect(201)).body as { id: string };
    await lead.post('/api/people').send(person).expect(409);

    const tam = request.agent(http);
    const elsewhere = request.agent(http);
    for (const browser of [tam, elsewhere]) await browser.post('/api/session').send(person).expect(400);
    const signIn = { email: person.email, password: person.password };
    for (const browser of [tam, elsewhere]) await browser.post('/api/session').send(signIn).expect(204);
    await tam.post('/api/session/password').send({ present: 'no', next: 'second password' }).expect(403);
    await tam.post('/api/session/password').send({ present: person.password, next: 'second password' }).expect(204);
    await tam.get('/api/session').expect(200);
    await elsewhere.get('/api/session').expect(401);

    await lead.patch(`/api/people/${id}`).send({ active: false }).expect(204);
    await tam.get('/api/session').expect(401);
    await tam.post('/api/session').send({ email: person.email, password: 'second password' }).expect(401);

    const audit = await lead.get('/api/audit').expect(200);
    const actions = (audit.body as { action: string; by: string }[]).map(({ action, by }) => `${by} ${action}`);
    expect(actions).toEqual([
      'Tam Orrel session.refused',
      'Wenna Prow person.change',
      'Tam Orrel password.change',
      'Tam Orrel session.in',
      'Tam Orrel session.in',
      'Wenna Prow person.add',
      'Wenna Prow session.in',
      'Wenna Prow session.in',
    ]);
  });

  it('keeps two leads’ settings from overwriting one another', async () => {
    const lead = request.agent(server.app.getHttpServer() as Server);
    await lead.post('/api/session').send({ email: owner.email, password: owner.password }).expect(204);
    const { shop } = (await lead.get('/api/session')).body as { shop: { version: number } };
    const settings = {
      name: 'Kelder Row Motors',
      town: 'Ostlemere',
      rules: { ...DEFAULT_HOUSE_RULES, supplyDropV: 0.3, volumeLph: 90 },
      pressureUnit: 'psi',
      labourRate: 88,
      currency: '£',
    };
    await lead
      .put('/api/shop')
      .send({ ...settings, version: shop.version })
      .expect(204);
    await lead
      .put('/api/shop')
      .send({ ...settings, rules: { ...settings.rules, supplyDropV: 1 }, version: shop.version })
      .expect(409);
    await lead
      .put('/api/shop')
      .send({ ...settings, rules: { ...settings.rules, supplyDropV: 9, order: 'by-mood' }, version: shop.version + 1 })
      .expect(400)
      .expect(/Supply drop, whole side: choose between 0.05 V and 2 V.*Where to begin: say one of/);
    expect((await lead.get('/api/session')).body).toMatchObject({
      shop: { rules: { supplyDropV: 0.3, order: 'best-value' }, pressureUnit: 'psi' },
    });
    const [newest] = (await lead.get('/api/audit')).body as { action: string; target: string }[];
    expect(newest).toMatchObject({ action: 'shop.change' });
    expect(newest.target).toMatch(/pressureUnit: kPa to psi.*supplyDropV: 0.5 to 0.3; volumeLph: 60 to 90$/);

    // From now on every case is judged by them.
    const vehicle = { model: 'Test Vehicle', engine: '1.0', plate: 'T1', complaint: 'no power uphill' };
    const { id } = (await lead.post('/api/cases').send(vehicle).expect(201)).body as { id: string };
    await faceCautions(lead, id);
    const jar = { kind: 'volume', at: 'rail', value: { volumeM3: 0.6e-3, durationS: 30 } };
    await lead
      .post(`/api/cases/${id}/evidence`)
      .send({ ...jar, keyState: 'prime', faultPresent: true })
      .expect(201);
    expect((await lead.get(`/api/cases/${id}`)).body).toMatchObject({ sheet: { volume: { ok: false } } });
  });
});

describe('photos', () => {
  let technician: Awaited<ReturnType<TestServer['as']>>;
  let id: string;
  beforeAll(async () => {
    server = await startServer('photos', { fill: 'people' });
    technician = await server.as('jem@fennick.demo');
    const vehicle = { model: 'Test Vehicle', engine: '1.0', plate: 'T1', complaint: 'cranks, no start' };
    id = ((await technician.post('/api/cases').send(vehicle).expect(201)).body as { id: string }).id;
  });
  afterAll(() => server.close());
  const send = (bytes: Buffer, waited: object = {}) =>
    technician
      .post(`/api/cases/${id}/photos`)
      .query({ fileName: 'fuse.jpg', caption: 'Burnt leg', stage: 'intake', ...waited })
      .set('Content-Type', 'application/octet-stream')
      .send(bytes);

  it('keeps a picture byte for byte, and shows copies that don’t say where it was taken', async () => {
    const noise = {
      create: {
        width: 1600,
        height: 1200,
        channels: 3,
        background: '#777',
        noise: { type: 'gaussian', mean: 120, sigma: 40 },
      },
    } as const;
    const place = {
      GPSLatitudeRef: 'N',
      GPSLatitude: '1/1 2/1 3/1',
      GPSLongitudeRef: 'E',
      GPSLongitude: '4/1 5/1 6/1',
    };
    const jpeg = await sharp(noise).jpeg({ quality: 95 }).withExif({ IFD3: place }).toBuffer();
    expect((await sharp(jpeg).metadata()).exif).toBeDefined();
    expect(jpeg.length).toBeGreaterThan(1024 * 1024);
    const photo = (await send(jpeg).expect(201)).body as { id: string };
    const lead = await server.as('orsa@fennick.demo');
    const original = await lead.get(`/api/photos/${photo.id}/original`).expect(200);
    expect(original.type).toBe('image/jpeg');
    expect(jpeg.equals(original.body as Buffer)).toBe(true);
    for (const [path, width, height] of [
      ['', 1600, 1200],
      ['/thumbnail', 360, 270],
    ] as const) {
      const copy = await technician.get(`/api/photos/${photo.id}${path}`).expect(200);
      const seen = await sharp(copy.body as Buffer).metadata();
      expect(seen).toMatchObject({ format: 'jpeg', width, height });
      expect(seen.exif).toBeUndefined();
      // Nothing of it may stay on the device after signing out.
      expect(copy.headers['cache-control']).toBe('no-store');
    }
  });

  it.each([
    [
      'an executable named .jpg',
      Buffer.concat([Buffer.from([0x7f, 0x45, 0x4c, 0x46]), Buffer.alloc(4000, 7)]),
      422,
      /not a photo/,
    ],
    ['half a picture', Buffer.from('ffd8ffe000104a46494600010100000100010000', 'hex'), 422, /not a photo/],
    [
      'a drawing that can run code',
      Buffer.from('<svg xmlns="http://www.w3.org/2000/svg" width="9" height="9"/>'),
      422,
      /not a photo/,
    ],
    ['50 MB', Buffer.alloc(50 * 1024 * 1024, 1), 413, /over the limit of 20 MiB. Take it at a lower resolution/],
  ])('refuses %s', async (_name, bytes, status, words) => {
    const answer = await send(bytes);
    expect(answer.status).toBe(status);
    expect((answer.body as { detail: string }).detail).toMatch(words);
    const { evidence } = (await technician.get(`/api/cases/${id}`)).body as { evidence: { kind: string }[] };
    expect(evidence.filter(({ kind }) => kind === 'photo')).toHaveLength(1);
  });

  it('keeps one that waited on a device once, with its own time, however often it is sent', async () => {
    const picture = await sharp({ create: { width: 40, height: 30, channels: 3, background: '#353' } })
      .png()
      .toBuffer();
    const waited = { id: '0a5d3f3e-6f0e-4f0e-9f5c-1b2a3c4d5e6f', secondsAgo: 7200 };
    for (let i = 0; i < 2; i++) expect((await send(picture, waited).expect(201)).body).toEqual({ id: waited.id });
    const { evidence } = (await technician.get(`/api/cases/${id}`)).body as {
      evidence: { id: string; kind: string; takenAt: string }[];
    };
    const kept = evidence.filter((link) => link.id === waited.id);
    expect(kept).toHaveLength(1);
    expect((Date.now() - Date.parse(kept[0].takenAt)) / 1000).toBeCloseTo(7200, -2);
    // The id of something else.
    const other = await technician
      .post(`/api/cases/${id}/notes`)
      .send({ stage: 'intake', text: 'A note.', id: waited.id });
    expect(other.status).toBe(409);
  });
});

describe('an installation of the first version', () => {
  it('keeps its evidence, voids included, when it is brought up to date', async () => {
    const { First1764000000000 } = await import('../src/database/migrations/1-first.js');
    const { CaptureJobs1764000000001 } = await import('../src/database/migrations/2-capture-jobs.js');
    const url = new URL(process.env.JARRO_TEST_DATABASE_URL ?? '');
    url.pathname = '';
    const connection = await createConnection(url.href);
    await connection.query('DROP DATABASE IF EXISTS jarro_old');
    await connection.query('CREATE DATABASE jarro_old CHARACTER SET utf8mb4');
    await connection.end();
    url.pathname = '/jarro_old';
    const old = new DataSource({
      type: 'mariadb',
      url: url.href,
      timezone: 'Z',
      migrations: [First1764000000000, CaptureJobs1764000000001],
    });
    await old.initialize();
    await old.runMigrations();
    const hash = 'f'.repeat(64);
    const { DEMO_PASSWORD } = await import('../src/demo/scenario.js');
    const { hashPassword } = await import('../src/auth/auth.service.js');
    await old.query(`INSERT INTO shops VALUES ('s', 'Old Shop', 'T', 0.5, 0.2)`);
    await old.query(`INSERT INTO users VALUES ('u', 's', 'Jem', 'jem@fennick.demo', ?, 'lead', 0, NULL)`, [
      await hashPassword(DEMO_PASSWORD),
    ]);
    await old.query(`INSERT INTO vehicles VALUES ('v', 's', 'Old Vehicle', 2001, '1.0', 'P')`);
    const caseId = '11111111-1111-4111-8111-111111111111';
    await old.query(`INSERT INTO cases VALUES (?, 1, 's', 'v', 'stalls', 'open', 'u', '2025-01-01', 1)`, [caseId]);
    for (const [id, kind, value, voided] of [
      ['22222222-2222-4222-8222-222222222222', 'battery', 12.5, null],
      ['33333333-3333-4333-8333-333333333333', 'pump_feed', 2.5, '2025-01-01 12:10:00.000'],
      ['44444444-4444-4444-8444-444444444444', 'current', 5.5, null],
    ]) {
      await old.query(
        `INSERT INTO readings VALUES (?, ?, ?, ?, 'prime', 1, 'u', '2025-01-01 12:00:00.000', ?, 'pin off', 'u', ?, ?)`,
        [id, caseId, kind, value, voided, hash, hash],
      );
    }
    await old.destroy();

    server = await startServer('old', { fill: 'nothing', keep: true });
    const lead = await server.as('jem@fennick.demo');
    const item = (await lead.get(`/api/cases/${caseId}`).expect(200)).body as { evidence: object[]; seal: object };
    expect(item.evidence).toMatchObject([
      { kind: 'voltage', at: 'battery', value: 12.5, voided: null },
      { kind: 'voltage', at: 'pump_feed', value: 2.5, voided: { reason: 'pin off', by: 'Jem' } },
      { kind: 'current', at: 'pump', value: 5.5 },
      { kind: 'void', at: '33333333-3333-4333-8333-333333333333' },
    ]);
    expect(item.seal).toMatchObject({ entries: 4, intact: true });
    await server.close();
  });
});
