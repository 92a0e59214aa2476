import type { AddressInfo } from 'node:net';
import type { Server } from 'node:http';
import { DEMO_PASSWORD } from '../src/demo/scenario.js';
import { openCase, readVolts, startServer, type TestServer } from './support.js';

// Two server processes' worth of application on one database: what is written by the one shows at the other.

let writes: TestServer;
let shows: TestServer;

beforeAll(async () => {
  writes = await startServer('changes', { fill: 'people' });
  shows = await startServer('changes', { fill: 'nothing', keep: true });
});
afterAll(() => Promise.all([writes.close(), shows.close()]));

const addressOf = ({ app }: TestServer) =>
  `http://127.0.0.1:${((app.getHttpServer() as Server).address() as AddressInfo).port}`;

async function cookieOf(server: TestServer, email: string): Promise<string> {
  const response = await fetch(`${addressOf(server)}/api/session`, {
    method: 'POST',
    headers: { 'Content-Type': 'application/json' },
    body: JSON.stringify({ email, password: DEMO_PASSWORD }),
  });
  return response.headers.get('set-cookie')!.split(';')[0];
}

/** The versions that a listener is told, as they come. */
async function* versionsOf(server: TestServer, caseId: string, signal: AbortSignal): AsyncGenerator<number> {
  const headers = { cookie: await cookieOf(server, 'jem@fennick.demo') };
  const response = await fetch(`${addressOf(server)}/api/cases/${caseId}/changes`, { headers, signal });
  expect(response.headers.get('content-type')).toBe('text/event-stream');
  expect(response.headers.get('content-encoding')).toBeNull();
  const text = response.body!.pipeThrough(new TextDecoderStream());
  for await (const piece of text as unknown as AsyncIterable<string>) {
    for (const [, version] of piece.matchAll(/^data: (\d+)$/gm)) yield Number(version);
  }
}

it('tells whoever looks at a case of what was written to it elsewhere, and each write once', async () => {
  const lead = await writes.as('orsa@fennick.demo');
  const id = await openCase(lead);
  const gone = new AbortController();
  const versions = versionsOf(shows, id, gone.signal);
  const first = (await versions.next()).value as number;
  await readVolts(lead, id, 'battery', 12.4).expect(201);
  const second = (await versions.next()).value as number;
  expect(second).toBeGreaterThan(first);
  const { version } = (await lead.get(`/api/cases/${id}`).expect(200)).body as { version: number };
  expect(second).toBe(version);
  gone.abort();
});

it('tells a stranger and nobody nothing', async () => {
  const lead = await writes.as('orsa@fennick.demo');
  const id = await openCase(lead);
  expect((await fetch(`${addressOf(shows)}/api/cases/${id}/changes`)).status).toBe(401);
  const headers = { cookie: await cookieOf(shows, 'jem@fennick.demo') };
  const other = '00000000-0000-4000-8000-000000000000';
  expect((await fetch(`${addressOf(shows)}/api/cases/${other}/changes`, { headers })).status).toBe(404);
});

it('stops although somebody still listens', async () => {
  const lead = await writes.as('orsa@fennick.demo');
  const id = await openCase(lead);
  const third = await startServer('changes', { fill: 'nothing', keep: true });
  const versions = versionsOf(third, id, new AbortController().signal);
  await versions.next();
  await third.close();
  expect(await versions.next()).toEqual({ done: true, value: undefined });
});
