import { spawn } from 'node:child_process';
import { randomBytes } from 'node:crypto';
import { createReadStream } from 'node:fs';
import { mkdtemp, open, readdir, readFile, rm } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { gzipSync } from 'node:zlib';
import { chromium } from '@playwright/test';
import { ACKNOWLEDGED_CAUTIONS, simulateCapture, writeWav } from '@jarro/core';
import { removeMariaDb, startMariaDb } from '../lib/mariadb.mjs';
import { ROOT } from '../lib/paths.mjs';
import { startServers } from '../lib/servers.mjs';
import { allWeighed } from '../lib/weighed.mjs';

const SIGN_IN = { email: 'orsa@fennick.demo', password: 'humps-not-hunches' };
const SAMPLES = 10_000_000;
const WINDOWS = 300;
const LOADS = 5;

/** What is served: windows of a long record, a case with many entries, the first page, a second start. @param {import('./table.mjs').Table} table */
export async function benchServed(table) {
  await removeMariaDb('bench');
  const database = await startMariaDb('bench');
  const servers = await startServers(1, {
    JARRO_DATABASE_URL: database.url,
    JARRO_DEMO: '1',
    JARRO_SEAL_KEY: randomBytes(32).toString('hex'),
  });
  try {
    await allWeighed(database.url);
    const client = await signIn(servers.address);
    const caseId = await openCase(client);
    await benchUpload(table, client, caseId);
    await benchDetail(table, client);
    await benchFirstLoad(table, servers.address);
  } finally {
    servers.stop();
    await database.stop();
  }
  await benchStart(table);
}

/** Somebody signed in: sends a request and gives its answer. */
async function signIn(address) {
  const answer = await fetch(`${address}/api/session`, {
    method: 'POST',
    headers: { 'Content-Type': 'application/json', Origin: address },
    body: JSON.stringify(SIGN_IN),
  });
  const cookie = answer.headers.getSetCookie()[0].split(';')[0];
  const ask = (method, path, options = {}) =>
    fetch(`${address}/api${path}`, {
      method,
      ...options,
      headers: { Cookie: cookie, Origin: address, ...options.headers },
    });
  return {
    ask,
    send: async (method, path, body) =>
      (await ask(method, path, { headers: { 'Content-Type': 'application/json' }, body: JSON.stringify(body) }))
        .text()
        .then((text) => (text ? JSON.parse(text) : undefined)),
  };
}

async function openCase(client) {
  const vehicle = { model: 'Bench', engine: '1.0', plate: 'B', complaint: 'stalls' };
  const { id } = await client.send('POST', '/cases', vehicle);
  for (const caution of ACKNOWLEDGED_CAUTIONS) await client.send('POST', `/cases/${id}/cautions`, { caution });
  return id;
}

async function benchUpload(table, client, caseId) {
  const folder = await mkdtemp(join(tmpdir(), 'jarro-bench-'));
  const path = join(folder, 'long.wav');
  await writeLong(path);
  const query = 'fileName=long.wav&label=Long&keyState=idle&faultPresent=true';
  const began = performance.now();
  const answer = await client.ask('POST', `/cases/${caseId}/captures?${query}`, {
    headers: { 'Content-Type': 'application/octet-stream' },
    body: createReadStream(path),
    duplex: 'half',
  });
  const { id } = await answer.json();
  table.row('10 million samples sent, measured and stored', `${((performance.now() - began) / 1000).toFixed(1)} s`);
  await rm(folder, { recursive: true });
  const tookMs = [];
  for (let i = 0; i < WINDOWS; i++) {
    const span = Math.round(SAMPLES / 2 ** (i % 14));
    const from = Math.round((((i * 7919) % 1000) / 1000) * (SAMPLES - span));
    const asked = performance.now();
    await (
      await client.ask('GET', `/captures/${id}/window?channel=0&from=${from}&to=${from + span}&columns=1200`)
    ).arrayBuffer();
    tookMs.push(performance.now() - asked);
  }
  table.time('  a window of it, 95 of 100', share(tookMs, 0.95), 50);
}

/** Simulated seconds over and over, as a scope writes them. */
async function writeLong(path) {
  const { capture } = simulateCapture({ sampleRateHz: 500_000, durationS: 2, barSpread: 0.03 });
  const [channel] = capture.channels;
  const samples = new Float32Array(SAMPLES);
  for (let at = 0; at < SAMPLES; at += channel.samples.length) {
    samples.set(channel.samples.subarray(0, Math.min(channel.samples.length, SAMPLES - at)), at);
  }
  const file = await open(path, 'w');
  await file.write(writeWav({ ...capture, channels: [{ ...channel, samples }] }));
  await file.close();
}

const ENTRIES = 300;

async function benchDetail(table, client) {
  const caseId = await openCase(client);
  for (let i = 0; i < ENTRIES; i++) {
    const entry = { kind: 'voltage', at: 'battery', value: 12 + i / 1000, keyState: 'prime', faultPresent: true };
    await client.send('POST', `/cases/${caseId}/evidence`, entry);
  }
  const tookMs = [];
  for (let i = 0; i < 20; i++) {
    const asked = performance.now();
    await (await client.ask('GET', `/cases/${caseId}`)).text();
    tookMs.push(performance.now() - asked);
  }
  table.time(`a case with ${ENTRIES} entries, 95 of 100`, share(tookMs, 0.95), 150);
}

async function benchFirstLoad(table, address) {
  const assets = join(ROOT, 'apps/web/dist');
  const page = await readFile(join(assets, 'index.html'), 'utf8');
  const first = [...page.matchAll(/(?:src|href)="(\/assets\/[^"]+\.js)"/g)].map(([, name]) => name);
  const files = await Promise.all(first.map((name) => readFile(join(assets, name))));
  const bytes = files.reduce((sum, file) => sum + gzipSync(file).length, 0);
  const all = (await readdir(join(assets, 'assets'))).filter((name) => name.endsWith('.js')).length;
  const most = 250 * 1024;
  table.row(
    'first scripts, gzip',
    `${(bytes / 1024).toFixed(0)} KiB of ${all} files`,
    'at most 250 KiB',
    bytes <= most,
  );
  const browser = await chromium.launch({
    executablePath: '/usr/bin/chromium-headless-shell',
    args: ['--no-sandbox', '--disable-gpu'],
  });
  const tookMs = [];
  for (let i = 0; i < LOADS; i++) {
    const tab = await (await browser.newContext()).newPage();
    const asked = performance.now();
    await tab.goto(address, { waitUntil: 'commit' });
    await tab.getByLabel('E-mail').waitFor();
    tookMs.push(performance.now() - asked);
    await tab.close();
  }
  await browser.close();
  table.time('first load to a form that can be filled, median', share(tookMs, 0.5), 1000);
}

/** The demo is there; how long until it serves again? */
async function benchStart(table) {
  const data = await mkdtemp(join(tmpdir(), 'jarro-bench-'));
  const env = { ...process.env, JARRO_DATA: data, JARRO_PORT: '8790' };
  await startOnce(env);
  table.time('npm start, the second time, to serving', await startOnce(env), 10_000);
  await rm(data, { recursive: true, force: true });
}

/** @returns how long until it served, ms */
function startOnce(env) {
  const asked = performance.now();
  // As npm starts it, without npm between: that ends before what it started has given its port back.
  const args = [join(ROOT, 'scripts/start.mjs'), '--demo'];
  const child = spawn(process.execPath, args, { cwd: ROOT, env, stdio: ['ignore', 'pipe', 'inherit'] });
  return new Promise((resolve) => {
    let tookMs = NaN;
    child.stdout.on('data', (text) => {
      if (!String(text).includes('Jarro is at')) return;
      tookMs = performance.now() - asked;
      child.kill('SIGTERM');
    });
    child.on('exit', () => resolve(tookMs));
  });
}

function share(values, part) {
  const sorted = [...values].sort((a, b) => a - b);
  return sorted[Math.min(sorted.length - 1, Math.floor(part * sorted.length))];
}
