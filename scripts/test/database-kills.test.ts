import { chmodSync, mkdtempSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { ACKNOWLEDGED_CAUTIONS, csvBlocks, simulateCapture } from '@jarro/core';
import { answers, databasePid, fillWithDemo, isAlive, serverPid, signIn, start, stopAll, within } from './running.js';

const LONG = process.env.JARRO_TRIALS === 'long';
const data = mkdtempSync(join(tmpdir(), 'jarro-kills-'));
chmodSync(data, 0o711);

afterAll(async () => {
  await stopAll();
  rmSync(data, { recursive: true, force: true });
});

it('serves through deaths of its database under load, and keeps what it confirmed', async () => {
  fillWithDemo(data);
  const running = await start(data);
  const { address } = running;
  const server = serverPid(running);
  const headers = await signIn(address);
  const ask = async (method: string, path: string, body?: object) => {
    const raw = Buffer.isBuffer(body);
    const answer = await fetch(`${address}/api${path}`, {
      method,
      headers: { ...headers, ...(raw && { 'Content-Type': 'application/octet-stream' }) },
      ...(body && { body: raw ? new Uint8Array(body) : JSON.stringify(body) }),
    });
    const text = await answer.text();
    return { status: answer.status, body: (text ? JSON.parse(text) : {}) as { id: string } };
  };
  const vehicle = { model: 'Loaded', engine: '1.0', plate: 'T1', complaint: 'cranks, no start' };
  const {
    body: { id },
  } = await ask('POST', '/cases', vehicle);
  for (const caution of ACKNOWLEDGED_CAUTIONS) await ask('POST', `/cases/${id}/cautions`, { caution });
  const csv = Buffer.concat([...csvBlocks(simulateCapture({ sampleRateHz: 20_000, durationS: 1 }).capture)]);
  const capture = new URLSearchParams({ fileName: 'a.csv', label: 'Prime', keyState: 'prime', faultPresent: 'true' });
  const reading = { kind: 'voltage', at: 'battery', value: 12.5, keyState: 'prime', faultPresent: true };
  const verdict = { kind: 'no-fault-found', statement: 'Nothing found.' };

  let loaded = true;
  const confirmed = new Set<string>();
  const statuses = new Map<number, number>();
  const press = async (work: () => ReturnType<typeof ask>) => {
    while (loaded) {
      const { status, body } = await work();
      statuses.set(status, (statuses.get(status) ?? 0) + 1);
      if (status === 201) confirmed.add(body.id);
      await new Promise((resolve) => setTimeout(resolve, 5));
    }
  };
  const load = [
    press(() => ask('POST', `/cases/${id}/evidence`, reading)),
    press(() => ask('POST', `/cases/${id}/captures?${capture}`, csv)),
    press(() => ask('POST', `/cases/${id}/captures?${capture}`, csv)),
    press(() => ask('POST', `/cases/${id}/verdicts`, verdict)),
    press(() => ask('GET', `/cases/${id}`)),
    press(() => ask('POST', `/cases/${id}/photos?fileName=a.png&caption=&stage=intake`, PNG)),
  ];
  for (let round = 0; round < (LONG ? 50 : 2); round++) {
    // Only what was confirmed before a death can be lost by it, and a busy machine takes seconds to confirm any.
    const had = confirmed.size;
    await within(60_000, () => (confirmed.size > had + 1 ? true : undefined));
    await new Promise((resolve) => setTimeout(resolve, 300 + ((round * 131) % 600)));
    const database = databasePid(data);
    process.kill(database, 'SIGKILL');
    await within(60_000, () => (isAlive(database) ? undefined : true));
    await within(60_000, async () => ((await answers(address)) ? true : undefined));
    expect(serverPid(running)).toBe(server);
  }
  loaded = false;
  await Promise.all(load);
  expect([...statuses.keys()].filter((status) => ![200, 201, 409, 503].includes(status))).toEqual([]);
  expect(statuses.get(503)).toBeGreaterThan(0);
  const answer = await fetch(`${address}/api/cases/${id}`, { headers });
  const { evidence, seal } = (await answer.json()) as { evidence: { id: string }[]; seal: { intact: boolean } };
  const stored = new Set(evidence.map((link) => link.id));
  expect(confirmed.size).toBeGreaterThan(2);
  expect([...confirmed].filter((link) => !stored.has(link))).toEqual([]);
  expect(seal.intact).toBe(true);
}, 1_800_000);

const PNG = Buffer.from(
  'iVBORw0KGgoAAAANSUhEUgAAAAEAAAABCAYAAAAfFcSJAAAADUlEQVR42mNk+M9QDwADhgGAWjR9awAAAABJRU5ErkJggg==',
  'base64',
);
