import { spawn, type ChildProcess } from 'node:child_process';
import { existsSync, mkdtempSync, readFileSync, rmSync, symlinkSync } from 'node:fs';
import { createServer } from 'node:net';
import type { AddressInfo } from 'node:net';
import { tmpdir } from 'node:os';
import { join } from 'node:path';

// The start script as people run it, on a data folder of its own.

const data = mkdtempSync(join(tmpdir(), 'jarro-start-'));
const started: ChildProcess[] = [];

afterAll(async () => {
  for (const child of started.filter(({ exitCode }) => exitCode === null)) {
    child.kill('SIGTERM');
    await ended(child);
  }
  rmSync(data, { recursive: true, force: true });
});

interface Running {
  readonly child: ChildProcess;
  readonly address: string;
}

function launch(env: Record<string, string>): { child: ChildProcess; output: () => string } {
  const child = spawn(process.execPath, ['scripts/start.mjs', '--demo'], {
    env: { ...process.env, JARRO_DATA: data, JARRO_LOG: 'silent', ...env },
    stdio: ['ignore', 'pipe', 'pipe'],
  });
  started.push(child);
  let text = '';
  for (const stream of [child.stdout, child.stderr]) stream.on('data', (chunk: Buffer) => (text += chunk.toString()));
  return { child, output: () => text };
}

async function start(): Promise<Running> {
  const { child, output } = launch({});
  const address = await within(60_000, () => /Jarro is at (\S+)/.exec(output())?.[1]);
  return { child, address };
}

async function within<T>(limitMs: number, look: () => T | undefined | Promise<T | undefined>): Promise<T> {
  const until = Date.now() + limitMs;
  for (;;) {
    const found = await look();
    if (found !== undefined) return found;
    if (Date.now() > until) throw new Error(`Not within ${limitMs} ms.`);
    await new Promise((resolve) => setTimeout(resolve, 50));
  }
}

const ended = (child: ChildProcess) => within(40_000, () => child.exitCode ?? child.signalCode ?? undefined);
const databasePid = () => Number(readFileSync(join(data, 'mariadb-demo', 'jarro.pid'), 'utf8'));
const isAlive = (pid: number) =>
  existsSync(`/proc/${pid}/stat`) && !/\) Z /.test(readFileSync(`/proc/${pid}/stat`, 'utf8'));

async function signIn(address: string): Promise<Record<string, string>> {
  const answer = await fetch(`${address}/api/session`, {
    method: 'POST',
    headers: { 'Content-Type': 'application/json' },
    body: JSON.stringify({ email: 'jem@fennick.demo', password: 'humps-not-hunches' }),
  });
  expect(answer.status).toBe(204);
  return { Cookie: answer.headers.getSetCookie()[0].split(';')[0], 'Content-Type': 'application/json' };
}

it('recovers what was stored before everything was killed, starts again in ten seconds, and stops cleanly', async () => {
  const first = await start();
  const vehicle = { model: 'Killed In Flight', engine: '1.0', plate: 'T1', complaint: 'cranks, no start' };
  const headers = await signIn(first.address);
  const opened = await fetch(`${first.address}/api/cases`, { method: 'POST', headers, body: JSON.stringify(vehicle) });
  expect(opened.status).toBe(201);

  // Nothing gets a chance to tidy up: the script is killed, then the database that it leaves behind.
  const leftOver = databasePid();
  first.child.kill('SIGKILL');
  await ended(first.child);
  process.kill(leftOver, 'SIGKILL');
  await within(10_000, () => (isAlive(leftOver) ? undefined : true));
  await within(10_000, async () => ((await answers(first.address)) ? undefined : true));

  const before = Date.now();
  const second = await start();
  expect(Date.now() - before).toBeLessThan(10_000);
  const board = await fetch(`${second.address}/api/cases`, { headers: await signIn(second.address) });
  expect(await board.text()).toContain('Killed In Flight');

  const running = databasePid();
  second.child.kill('SIGTERM');
  expect(await ended(second.child)).toBe(0);
  expect(isAlive(running)).toBe(false);
  expect(await answers(second.address)).toBe(false);
}, 180_000);

it('says in one line that the port asked for is taken', async () => {
  const other = createServer().listen(0, '127.0.0.1');
  await new Promise((resolve) => other.once('listening', resolve));
  const { port } = other.address() as AddressInfo;
  const { child, output } = launch({ JARRO_PORT: String(port) });
  expect(await ended(child)).toBe(1);
  expect(output().trim()).toBe(`Port ${port} is taken. Stop what uses it, or set JARRO_PORT to another.`);
  other.close();
}, 60_000);

it('says in one line what to install where it can’t', async () => {
  // A machine with a shell and nothing else: no database, no apt.
  const bin = mkdtempSync(join(tmpdir(), 'jarro-bare-'));
  symlinkSync('/bin/sh', join(bin, 'sh'));
  const { child, output } = launch({ PATH: bin });
  expect(await ended(child)).toBe(1);
  expect(output().trim()).toBe(
    'mariadbd is missing. Install the package mariadb-server (on Debian: apt-get install mariadb-server) and start again.',
  );
  rmSync(bin, { recursive: true, force: true });
}, 60_000);

async function answers(address: string): Promise<boolean> {
  try {
    return (await fetch(`${address}/api/health`)).ok;
  } catch {
    return false;
  }
}
