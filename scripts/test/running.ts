import { spawn, spawnSync, type ChildProcess } from 'node:child_process';
import { readFileSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';

/** The start script as people run it, on a data folder of its own. */
export interface Running {
  readonly child: ChildProcess;
  readonly address: string;
  readonly output: () => string;
}

const started: ChildProcess[] = [];

export function launch(data: string, env: Record<string, string> = {}): Omit<Running, 'address'> {
  const child = spawn(process.execPath, ['scripts/start.mjs', '--demo'], {
    env: { ...process.env, JARRO_DATA: data, JARRO_LOG: 'silent', ...env },
    stdio: ['ignore', 'pipe', 'pipe'],
  });
  started.push(child);
  let text = '';
  for (const stream of [child.stdout, child.stderr]) stream.on('data', (chunk: Buffer) => (text += chunk.toString()));
  return { child, output: () => text };
}

export async function start(data: string, env: Record<string, string> = {}): Promise<Running> {
  const running = launch(data, env);
  const address = await within(180_000, () => /Jarro is at (\S+)/.exec(running.output())?.[1]);
  return { ...running, address };
}

export const runScript = (script: string, data: string, ...args: string[]) =>
  spawnSync(process.execPath, [`scripts/${script}.mjs`, ...args, '--demo'], {
    env: { ...process.env, JARRO_DATA: data },
    encoding: 'utf8',
  });

/**
 * Puts the demo's shop into an empty data folder, where a backup of it is at hand, for those who don't ask how it is made.
 * Without one the first start makes the demo.
 */
export function fillWithDemo(data: string): void {
  const { JARRO_TEST_DEMO_BACKUP: backup, JARRO_TEST_SEAL_KEY: sealKey = '' } = process.env;
  if (!backup) return;
  expect(runScript('restore', data, backup)).toMatchObject({ status: 0, stderr: '' });
  writeFileSync(join(data, 'seal-demo.key'), `${sealKey}\n`, { mode: 0o600 });
}

export async function stopAll(): Promise<void> {
  for (const child of started.filter(({ exitCode, signalCode }) => exitCode === null && signalCode === null)) {
    child.kill('SIGTERM');
    await ended(child);
  }
}

export async function within<T>(limitMs: number, look: () => T | undefined | Promise<T | undefined>): Promise<T> {
  const until = Date.now() + limitMs;
  for (;;) {
    const found = await look();
    if (found !== undefined) return found;
    if (Date.now() > until) throw new Error(`Not within ${limitMs} ms.`);
    await new Promise((resolve) => setTimeout(resolve, 50));
  }
}

export const ended = (child: ChildProcess) => within(180_000, () => child.exitCode ?? child.signalCode ?? undefined);
export const databasePid = (data: string) => Number(readFileSync(join(data, 'mariadb-demo', 'jarro.pid'), 'utf8'));
/** The codes of a process that ended between a look and the next. */
const GONE: readonly unknown[] = ['ENOENT', 'ESRCH'];
export function isAlive(pid: number): boolean {
  try {
    return !/\) Z /.test(readFileSync(`/proc/${pid}/stat`, 'utf8'));
  } catch (error) {
    // Not `instanceof Error`: Jest gives a test file classes of its own, and an error of the file system has Node's.
    if (GONE.includes((error as NodeJS.ErrnoException).code)) return false;
    throw error;
  }
}

/** The server's own process: the start script's child that runs the built server. */
export function serverPid({ child }: Pick<Running, 'child'>): number {
  const children = readFileSync(`/proc/${child.pid}/task/${child.pid}/children`, 'utf8').trim().split(/\s+/);
  const server = children.find((pid) =>
    readFileSync(`/proc/${pid}/cmdline`, 'utf8').includes('apps/server/dist/main.js'),
  );
  return Number(server);
}

export async function signIn(address: string): Promise<Record<string, string>> {
  const answer = await fetch(`${address}/api/session`, {
    method: 'POST',
    headers: { 'Content-Type': 'application/json' },
    body: JSON.stringify({ email: 'jem@fennick.demo', password: 'humps-not-hunches' }),
  });
  expect(answer.status).toBe(204);
  return { Cookie: answer.headers.getSetCookie()[0].split(';')[0], 'Content-Type': 'application/json' };
}

export async function answers(address: string): Promise<boolean> {
  try {
    return (await fetch(`${address}/api/health`)).ok;
  } catch {
    return false;
  }
}
