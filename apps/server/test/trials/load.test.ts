import { randomUUID } from 'node:crypto';
import { ACKNOWLEDGED_CAUTIONS, writeWav } from '@jarro/core';
import { createConnection } from 'mysql2/promise';
import { SUMMARISE_ALL } from '../../src/cases/summaries.js';
import sharp from 'sharp';
import { csvOf, emptyDatabase, LONG, startServer, VEHICLE } from '../support.js';
import { answers, CAPTURE_QUERY, signedIn, startProcess, type Client, type ServerProcess } from './server-process.js';

// What a busy or a hostile shop sends, against the built server in a process of its own.

let server: ServerProcess;
let client: Client;
let databaseUrl: string;

beforeAll(async () => {
  databaseUrl = (await emptyDatabase('load')).href;
  const seed = await startServer('load', { fill: 'people', keep: true });
  await seed.close();
  server = await startProcess(databaseUrl);
  client = await signedIn(() => server.address, 'orsa@fennick.demo');
});
afterEach(() => {
  const holds = server.holdsMs();
  if (holds.length > 0) process.stderr.write(`The event loop was held for ${holds.join(', ')} ms.\n`);
  // A busy machine holds anything; the trials run alone.
  if (LONG) expect(Math.max(0, ...holds)).toBeLessThan(1000);
});
afterAll(() => server.stop());

async function openCase(): Promise<string> {
  const { body } = await client.send('POST', '/cases', VEHICLE);
  const { id } = body as { id: string };
  for (const caution of ACKNOWLEDGED_CAUTIONS) await client.send('POST', `/cases/${id}/cautions`, { caution });
  return id;
}
const uploadTo = (id: string, fileName: string, bytes: Uint8Array) =>
  client.upload(`/cases/${id}/captures?fileName=${fileName}&${CAPTURE_QUERY}`, bytes);

/** A WAV of any coding with a second of simulated current over and over: bytes as large as wanted. */
function longWav(samples: number, bytesEach: 2 | 4): Uint8Array {
  const channel = { name: 'ch1', unit: 'A' as const, fileFactor: 1, samples: new Float32Array(samples) };
  const source = csvFree();
  for (let at = 0; at < samples; at += source.length) {
    channel.samples.set(source.subarray(0, Math.min(source.length, samples - at)), at);
  }
  if (bytesEach === 4) return writeWav({ sampleRateHz: 100_000, startS: 0, channels: [channel], notes: [] });
  const bytes = Buffer.alloc(44 + samples * 2);
  writeWav({
    sampleRateHz: 100_000,
    startS: 0,
    channels: [{ ...channel, samples: new Float32Array(0) }],
    notes: [],
  }).forEach((byte, i) => (bytes[i] = byte));
  bytes.writeUInt16LE(1, 20);
  bytes.writeUInt16LE(2, 32);
  bytes.writeUInt16LE(16, 34);
  bytes.writeUInt32LE(samples * 2, 40);
  channel.samples.forEach((value, i) => bytes.writeInt16LE(Math.round(value * 1000), 44 + i * 2));
  return bytes;
}

function csvFree(): Float32Array {
  return Float32Array.from({ length: 100_000 }, (_, i) => 5 + 0.4 * Math.sin(i / 20) + 0.05 * Math.sin(i * i));
}

it('answers for its health all the while that twelve upload and decide', async () => {
  const capture = longWav(LONG ? 10_000_000 : 1_000_000, 4);
  const ids = await Promise.all(Array.from({ length: 12 }, openCase));
  const verdict = { kind: 'replace-pump', statement: 'Noisy.', overrideReason: 'Customer insists, in writing.' };
  let busy = true;
  const waits: number[] = [];
  const health = (async () => {
    while (busy) {
      const asked = performance.now();
      expect(await answers(server.address)).toBe(true);
      waits.push(performance.now() - asked);
      await new Promise((resolve) => setTimeout(resolve, 25));
    }
  })();
  const done = await Promise.all(
    ids.flatMap((id, i) =>
      i % 2
        ? [client.send('POST', `/cases/${id}/verdicts`, verdict)]
        : [
            uploadTo(id, 'a.wav', capture),
            client.send('POST', `/cases/${id}/notes`, { stage: 'intake', text: 'Waits.' }),
          ],
    ),
  );
  busy = false;
  await health;
  expect(done.map(({ status }) => status).filter((status) => status !== 201)).toEqual([]);
  // A busy machine takes its time for anything; the trials run alone.
  if (LONG) expect(Math.max(...waits)).toBeLessThan(1000);
});

it('holds 700 MB at most, whatever it is sent', async () => {
  const id = await openCase();
  const white = { width: 7200, height: 7200, channels: 3, background: '#fff' } as const;
  const picture = await sharp({ create: white }).png({ compressionLevel: 9 }).toBuffer();
  const huge = await sharp({ create: { ...white, width: 16_000, height: 16_000 } })
    .png()
    .toBuffer();
  const photo = (bytes: Uint8Array) => client.upload(`/cases/${id}/photos?fileName=a.png&caption=&stage=intake`, bytes);
  const pictures = await Promise.all([...Array<Buffer>(11).fill(picture), huge].map(photo));
  expect(pictures.map(({ status }) => status)).toEqual([...Array<number>(11).fill(201), 422]);
  const records: [string, Uint8Array, number][] = LONG
    ? [
        ['full.wav', longWav(40_000_000, 4), 201],
        ['over.wav', longWav(60_000_000, 2), 422],
        ['half.wav', longWav(40_000_000, 2), 201],
        ['line.csv', Buffer.alloc(200 * 2 ** 20, '1'), 422],
        ['names.csv', Buffer.from(`${'a,'.repeat(30_000)}a\n1,1\n`), 422],
        ['long.csv', csvOf({ sampleRateHz: 1_000_000, durationS: 8 }), 201],
      ]
    : [
        ['short.wav', longWav(5_000_000, 4), 201],
        ['several-blocks.csv', csvOf({ sampleRateHz: 200_000, durationS: 1 }), 201],
      ];
  // While those were made, the server closed the lines that stood idle; let the client notice.
  await new Promise((resolve) => setTimeout(resolve, 200));
  const sent = await Promise.all(records.map(([name, bytes]) => uploadTo(id, name, bytes)));
  expect(sent.map(({ status }) => status)).toEqual(records.map(([, , status]) => status));
  process.stderr.write(`The server held ${(server.peakBytes() / 1e6).toFixed(0)} MB at most.\n`);
  expect(server.peakBytes()).toBeLessThan(700e6);
  expect(server.ended()).toBeNull();
});

it('shows the board of a shop with many cases in a moment', async () => {
  const cases = LONG ? 10_000 : 600;
  await manyCases(cases);
  await client.send('GET', '/cases');
  const waits = await boardWaits();
  const { status, body } = await client.send('GET', '/cases?page=2');
  expect(status).toBe(200);
  const board = body as {
    total: number;
    pages: number;
    cases: { readings: number; captures: number; verdict: string | null }[];
  };
  expect(board.total).toBeGreaterThanOrEqual(cases);
  expect(board.cases).toHaveLength(60);
  expect(board.cases[0]).toMatchObject({ readings: 19, captures: 1, verdict: 'replace-pump' });
  expect(JSON.stringify(body).length).toBeLessThan(200_000);
  // Every case once, the open ones first, whatever page they come to stand on.
  const seen: { number: number; stage: string }[] = [];
  for (let page = 1; page <= board.pages; page++) {
    seen.push(...((await client.send('GET', `/cases?page=${page}`)).body as { cases: typeof seen }).cases);
  }
  const order = (a: (typeof seen)[0], b: (typeof seen)[0]) =>
    Number(b.stage === 'open') - Number(a.stage === 'open') || b.number - a.number;
  expect(new Set(seen.map(({ number }) => number)).size).toBe(board.total);
  expect(seen).toEqual([...seen].sort(order));
  // A busy machine is slow; the trials run alone.
  if (LONG) expect(waits.toSorted((a, b) => a - b)[Math.floor(0.95 * waits.length)]).toBeLessThan(100);
});

/** How long the board takes, ms, whatever it is asked for: each filter alone, and several at once, from a near and a far page. */
async function boardWaits(): Promise<number[]> {
  const filters = ['search=no+start', 'stage=closed', 'mine=true', 'verdict=replace-pump', 'olderDays=7'];
  const questions = ['page=1', 'page=9', ...filters, filters.join('&'), 'search=one+two+three+four'];
  const waits: number[] = [];
  for (const question of Array<string[]>(6).fill(questions).flat()) {
    const asked = performance.now();
    expect((await client.send('GET', `/cases?${question}`)).status).toBe(200);
    waits.push(performance.now() - asked);
  }
  return waits;
}

/** As after years: each case with twenty readings, one of them voided, a capture and a verdict. */
async function manyCases(count: number): Promise<void> {
  const database = await createConnection(databaseUrl);
  const [[{ shop, user }]] = (await database.query(
    'SELECT shopId AS shop, id AS user FROM users LIMIT 1',
  )) as unknown as [[{ shop: string; user: string }]];
  const vehicle = randomUUID();
  await database.query('INSERT INTO vehicles VALUES (?, ?, ?, 2001, ?, ?)', [vehicle, shop, 'Brindle', '1.4', 'P']);
  for (let from = 0; from < count; from += 500) {
    const cases: unknown[][] = [];
    const links: unknown[][] = [];
    for (let n = from; n < Math.min(count, from + 500); n++) {
      const id = randomUUID();
      cases.push([id, 1000 + n, shop, vehicle, `Stalls when hot, ${n}`, n % 50 ? 'closed' : 'open', user, 1]);
      const readings = Array.from({ length: 20 }, () => randomUUID());
      const kinds = [
        ...readings.map((link) => [link, 'voltage', 'pump', '12.1']),
        [randomUUID(), 'capture', 'pump', JSON.stringify({ fileName: 'a.csv', channels: 'x'.repeat(400) })],
        [randomUUID(), 'void', readings[0], '{"reason":"pin off"}'],
        [randomUUID(), 'verdict', 'pump', JSON.stringify({ kind: 'replace-pump', gate: 'x'.repeat(2000) })],
      ];
      kinds.forEach(([link, kind, at, value], i) =>
        links.push([link, id, i + 1, kind, at, value, 'prime', 1, user, new Date(), '0', '0']),
      );
    }
    await database.query(
      'INSERT INTO cases (id, number, shopId, vehicleId, complaint, stage, openedBy, version) VALUES ?',
      [cases],
    );
    await database.query(
      `INSERT INTO evidence (id, caseId, sequence, kind, at, value, keyState, faultPresent, takenBy, takenAt,
       previousHash, hash) VALUES ?`,
      [links],
    );
  }
  await database.query(SUMMARISE_ALL);
  await database.end();
}
