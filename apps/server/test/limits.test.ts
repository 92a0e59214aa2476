import { request as httpRequest } from 'node:http';
import type { AddressInfo } from 'node:net';
import type { Server } from 'node:http';
import { EMPTY_INTAKE, templateProfile } from '@jarro/core';
import { DataSource } from 'typeorm';
import { Attempts } from '../src/auth/attempts.js';
import { readConfig } from '../src/config.js';
import { Attempt } from '../src/auth/auth.entities.js';
import { SetUpService } from '../src/people/set-up.js';
import { Sweeper } from '../src/upkeep/sweeper.js';
import { openCase, startServer, type TestServer } from './support.js';

interface Call {
  readonly body?: object;
  readonly from?: string;
  readonly headers?: Record<string, string>;
}

/** A request from any of this machine's loopback addresses, with any Host. */
function call(server: TestServer, method: string, path: string, { body, from, headers }: Call = {}) {
  const { port } = (server.app.getHttpServer() as Server).address() as AddressInfo;
  return new Promise<{ status: number; text: string; cookie: string }>((resolve, reject) => {
    const sent = httpRequest(
      {
        host: '127.0.0.1',
        port,
        method,
        path,
        ...(from && { localAddress: from }),
        headers: { 'Content-Type': 'application/json', ...headers },
      },
      (answer) => {
        let text = '';
        answer.on('data', (part: Buffer) => (text += part.toString()));
        answer.on('end', () =>
          resolve({ status: answer.statusCode ?? 0, text, cookie: String(answer.headers['set-cookie'] ?? '') }),
        );
      },
    );
    sent.on('error', reject);
    sent.end(body ? JSON.stringify(body) : undefined);
  });
}

describe('guessing', () => {
  let server: TestServer;
  beforeAll(async () => {
    server = await startServer('limits', { fill: 'people' });
  });
  afterAll(() => server.close());
  const signIn = (email: string, password: string, from: string) =>
    call(server, 'POST', '/api/session', { body: { email, password }, from });

  it('lets ten guesses through, however many come at once, and answers alike for accounts that there aren’t', async () => {
    for (const [email, from] of [
      ['orsa@fennick.demo', '127.0.0.2'],
      ['nobody@fennick.demo', '127.0.0.3'],
    ]) {
      const answers = await Promise.all(Array.from({ length: 60 }, (_, i) => signIn(email, `guess ${i}`, from)));
      expect(answers.filter(({ status }) => status === 401)).toHaveLength(10);
      expect(answers.filter(({ status }) => status === 429)).toHaveLength(50);
    }
  });

  it('locks nobody out: the account’s owner signs in from elsewhere', async () => {
    expect((await signIn('orsa@fennick.demo', 'humps-not-hunches', '127.0.0.2')).status).toBe(429);
    expect((await signIn('orsa@fennick.demo', 'humps-not-hunches', '127.0.0.4')).status).toBe(204);
  });

  it('limits an address over all accounts', async () => {
    const answers = await Promise.all(Array.from({ length: 80 }, (_, i) => signIn(`x${i}@x.demo`, 'x', '127.0.0.5')));
    expect(answers.filter(({ status }) => status === 401)).toHaveLength(60);
  });

  it('limits one’s own present password', async () => {
    const jem = await server.as('jem@fennick.demo');
    const guess = () => jem.post('/api/session/password').send({ present: 'wrong', next: 'long enough words' });
    const answers = await Promise.all(Array.from({ length: 20 }, guess));
    expect(answers.filter(({ status }) => status === 403)).toHaveLength(10);
  });

  it('counts a /64 of IPv6 as one address, and forgets what ran out', async () => {
    const attempts = server.app.get(Attempts);
    const tries = Array.from({ length: 11 }, (_, i) => attempts.take('account', `2001:db8:1:2::${i + 1}`, 'a'));
    expect((await Promise.allSettled(tries)).filter(({ status }) => status === 'rejected')).toHaveLength(1);
    await attempts.take('account', '2001:db8:1:3::1', 'a');
    const source = server.app.get(DataSource);
    await source.query('UPDATE attempts SET until = until - INTERVAL 1 HOUR');
    await attempts.take('account', '2001:db8:1:2::1', 'a');
    await server.app.get(Sweeper).sweep();
    expect(await source.getRepository(Attempt).count()).toBe(1);
  });

  it('limits the set-up code', async () => {
    const fresh = await startServer('limits_set_up', { fill: 'nothing' });
    const wrong = {
      code: 'AAAA-BBBB-CCCC',
      shop: 'S',
      town: 'T',
      name: 'N',
      email: 'n@n.demo',
      password: 'long enough',
    };
    const answers = await Promise.all(
      Array.from({ length: 40 }, () => call(fresh, 'POST', '/api/set-up', { body: wrong, from: '127.0.0.6' })),
    );
    expect(answers.filter(({ status }) => status === 403)).toHaveLength(10);
    const code = await fresh.app.get(SetUpService).code();
    const right = await call(fresh, 'POST', '/api/set-up', { body: { ...wrong, code }, from: '127.0.0.7' });
    expect(right.status).toBe(204);
    await fresh.close();
  });
});

describe('the name it is reached by', () => {
  const body = { email: 'jem@fennick.demo', password: 'humps-not-hunches' };

  it('refuses a foreign name, even with a page of that name behind it', async () => {
    const server = await startServer('names', { fill: 'people' });
    const foreign = { Host: 'rebound.example', Origin: 'http://rebound.example' };
    expect((await call(server, 'POST', '/api/session', { body, headers: foreign })).status).toBe(403);
    expect((await call(server, 'GET', '/api/health', { headers: { Host: 'rebound.example' } })).status).toBe(403);
    for (const Host of ['localhost:8420', '127.0.0.1', '[::1]:8420', '192.168.7.20:8420']) {
      expect(
        (await call(server, 'POST', '/api/session', { body, headers: { Host, Origin: `http://${Host}` } })).status,
      ).toBe(204);
    }
    await server.close();
  });

  it('behind a proxy that speaks TLS: its origin is let in, its cookie is Secure, its callers are told apart', async () => {
    const server = await startServer('proxied', {
      fill: 'people',
      origin: new URL('https://jarro.example'),
      trustProxy: 'loopback',
    });
    const forwarded = {
      'X-Forwarded-Proto': 'https',
      'X-Forwarded-For': '203.0.113.7',
      Origin: 'https://jarro.example',
    };
    // A proxy that doesn't forward Host, and one that does.
    for (const Host of ['127.0.0.1:8420', 'jarro.example']) {
      const answer = await call(server, 'POST', '/api/session', { body, headers: { ...forwarded, Host } });
      expect(answer.status).toBe(204);
      expect(answer.cookie).toMatch(/; Secure/);
    }
    const elsewhere = { ...forwarded, Origin: 'https://other.example' };
    expect((await call(server, 'POST', '/api/session', { body, headers: elsewhere })).status).toBe(403);
    const wrong = { ...body, password: 'wrong' };
    for (let i = 0; i < 11; i++) {
      const answer = await call(server, 'POST', '/api/session', { body: wrong, headers: forwarded });
      expect(answer.status).toBe(i < 10 ? 401 : 429);
    }
    const other = { ...forwarded, 'X-Forwarded-For': '203.0.113.8' };
    expect((await call(server, 'POST', '/api/session', { body, headers: other })).status).toBe(204);
    await server.close();
  });
});

describe('what a form never sends', () => {
  let server: TestServer;
  let lead: Awaited<ReturnType<TestServer['as']>>;
  let id: string;
  beforeAll(async () => {
    server = await startServer('shapes', { fill: 'people' });
    lead = await server.as('orsa@fennick.demo');
    id = await openCase(lead);
  });
  afterAll(() => server.close());

  const deep = (levels: number) => `${'{"a":'.repeat(levels)}1${'}'.repeat(levels)}`;
  it.each([
    [
      'a check named like the language’s machinery',
      'evidence',
      { kind: 'check', at: 'constructor', value: 'yes', keyState: 'off', faultPresent: true },
    ],
    [
      'a check of the prototype',
      'evidence',
      { kind: 'check', at: '__proto__', value: 'yes', keyState: 'off', faultPresent: true },
    ],
    ['half a character', 'notes', { stage: 'intake', text: 'a\ud800b' }],
    ['an intake that is a list', 'intake', { basis: 0, intake: [] }],
    ['a system line of null', 'system', { line: null, version: 1 }],
    [
      'a hold with something else in it',
      'evidence',
      {
        kind: 'hold',
        at: 'rail',
        keyState: 'after-off',
        faultPresent: true,
        value: {
          points: [
            [0, 3e5],
            [60, 3e5],
            [120, 3e5],
          ],
          blocked: 'none',
          more: 1,
        },
      },
    ],
  ])('refuses %s', async (_name, path, body) => {
    const method = path === 'intake' ? 'put' : 'post';
    const answer = await lead[method](`/api/cases/${id}/${path}`).send(body);
    expect([400, 422]).toContain(answer.status);
    expect((answer.body as { detail: string }).detail).not.toMatch(/undefined|Cannot|stack/);
  });

  it('refuses a window of null, a vehicle that is a list, a password of null, and keeps nothing of it', async () => {
    for (const change of [
      { makersWindows: { prime: null } },
      { vehicle: [] },
      { makersWindows: { prime: { minPa: 1, maxPa: 2, x: 3 } } },
    ]) {
      const answer = await lead
        .put(`/api/cases/${id}/intake`)
        .send({ basis: 0, intake: { ...EMPTY_INTAKE, ...change } });
      expect([400, 422]).toContain(answer.status);
    }
    const people = (await lead.get('/api/people')).body as { id: string; email: string }[];
    const jem = people.find(({ email }) => email.startsWith('jem'))!;
    await lead.patch(`/api/people/${jem.id}`).send({ password: null }).expect(400);
    await server.as('jem@fennick.demo');
  });

  it('takes a name and an address as long as they may be', async () => {
    const email = `${'a'.repeat(60)}@${'b'.repeat(60)}.${'c'.repeat(60)}.demo`;
    await lead
      .post('/api/people')
      .send({ name: 'Long', email, role: 'technician', password: 'long enough words' })
      .expect(201);
    await lead
      .post('/api/systems')
      .send({ profile: { ...templateProfile('P1'), name: 'ß'.repeat(200), extra: 1 } })
      .expect(201);
    const systems = (await lead.get('/api/systems')).body as { profile: object }[];
    expect(JSON.stringify(systems)).not.toContain('extra');
  });

  it('refuses bodies without end in a moment', async () => {
    for (const body of [deep(10_000), deep(40)]) {
      const { status } = await lead.post(`/api/cases/${id}/notes`).set('Content-Type', 'application/json').send(body);
      expect(status).toBe(400);
    }
    const { status } = await lead.post(`/api/cases/${id}/notes`).send({ stage: 'intake', text: 'x'.repeat(400_000) });
    expect(status).toBe(413);
  });

  it('signs somebody who left out for good, and gives no retired system', async () => {
    const jem = await server.as('jem@fennick.demo');
    const people = (await lead.get('/api/people')).body as { id: string; email: string }[];
    const person = people.find(({ email }) => email.startsWith('jem'))!;
    await lead.patch(`/api/people/${person.id}`).send({ active: false }).expect(204);
    await lead.patch(`/api/people/${person.id}`).send({ active: true }).expect(204);
    await jem.get('/api/session').expect(401);
    const profile = { ...templateProfile('P1'), name: 'Own' };
    const line = (await lead.post('/api/systems').send({ profile }).expect(201)).body as {
      id: string;
      version: number;
    };
    await lead.post(`/api/systems/${line.id}/retire`).send({ retired: true }).expect(204);
    await lead.post(`/api/cases/${id}/system`).send({ line: line.id, version: line.version }).expect(409);
  });
});

it.each([
  ['JARRO_UPLOAD_LIMIT_MIB', 'abc'],
  ['JARRO_UPLOAD_LIMIT_MIB', '0'],
  ['JARRO_PORT', '99999'],
  ['JARRO_ORIGIN', 'jarro.example'],
  ['JARRO_SEAL_KEY', 'too-short'],
  ['JARRO_SEAL_KEY_FILE', '/no/such/folder/seal.key'],
])('refuses the setting %s=%s at the start', (name, value) => {
  expect(() => readConfig({ JARRO_DATABASE_URL: 'mysql://x', [name]: value })).toThrow(name);
});
