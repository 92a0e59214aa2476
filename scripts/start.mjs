import { spawn } from 'node:child_process';
import { join } from 'node:path';
import { claim } from './lib/claim.mjs';
import { freePort, isFree, startMariaDb } from './lib/mariadb.mjs';
import { GIVES_BACK } from './lib/memory.mjs';
import { DATA, ROOT } from './lib/paths.mjs';
import { ensureBuilt, ensureCommand, ensurePackages } from './lib/prepare.mjs';
import { fail, pause, say } from './lib/shell.mjs';

// Starts everything and serves until Ctrl-C. With --demo: the demo workshop in a database of its own.

const demo = process.argv.includes('--demo');
const external = process.env.JARRO_DATABASE_URL;
/** The demo's captures are measured before it is served: a minute and more on a slow or busy machine. */
const SERVE_LIMIT_MS = 300_000;
const MOST_RESTARTS = 5;
const RESTART_WINDOW_MS = 600_000;
const RESTART_PAUSE_MS = 500;

ensurePackages();
if (!external) ensureCommand('mariadbd', 'mariadb-server');
ensureBuilt(['core', 'answer types', 'server', 'interface']);

// Beside the database's folder and not in it: who can write to the one need not know the other.
const sealKeyFile = process.env.JARRO_SEAL_KEY_FILE ?? join(DATA, `seal-${demo ? 'demo' : 'data'}.key`);
const port = await choosePort();
const address = `http://${process.env.JARRO_HOST ?? '127.0.0.1'}:${port}`;
const database = external ? { url: external, stop: async () => {} } : await ownDatabase();
let stopping = false;
let served = false;
const deaths = [];
let server = launch();
for (const signal of ['SIGINT', 'SIGTERM', 'SIGHUP']) {
  process.on(signal, () => {
    if (stopping) return;
    stopping = true;
    say('\nStopping ...');
    server.kill('SIGTERM');
  });
}

await serving();
say(`Jarro is at ${address}`);
if (demo) say('Demo sign-in: orsa@fennick.demo (lead) or jem@fennick.demo (technician), password humps-not-hunches');
say('Ctrl-C stops it.');
served = true;

async function ownDatabase() {
  const name = demo ? 'demo' : 'data';
  await claim(name, address);
  return startMariaDb(name);
}

function launch() {
  const child = spawn(process.execPath, ['--enable-source-maps', join(ROOT, 'apps/server/dist/main.js')], {
    // The channel lets the server notice when this script is killed, so that it doesn't stay behind.
    stdio: ['inherit', 'inherit', 'inherit', 'ipc'],
    detached: true,
    env: {
      JARRO_LOG: 'warn',
      ...GIVES_BACK,
      ...process.env,
      JARRO_DATABASE_URL: database.url,
      JARRO_PORT: String(port),
      ...(process.env.JARRO_SEAL_KEY === undefined && { JARRO_SEAL_KEY_FILE: sealKeyFile }),
      ...(demo && { JARRO_DEMO: '1' }),
    },
  });
  child.on('exit', (code, signal) => void ended(code, signal));
  return child;
}

/** A server that dies while it served is started again, unless it keeps dying. */
async function ended(code, signal) {
  const now = Date.now();
  if (!stopping && served) {
    deaths.push(now);
    if (deaths.filter((at) => now - at < RESTART_WINDOW_MS).length <= MOST_RESTARTS) {
      say(`The server ended unexpectedly (${signal ?? `status ${code}`}). Starting it again ...`);
      await pause(RESTART_PAUSE_MS);
      server = launch();
      if (stopping) server.kill('SIGTERM');
      return;
    }
  }
  await database.stop();
  if (!stopping)
    fail(served ? `The server ended ${deaths.length} times; not started again.` : 'The server stopped by itself.');
  process.exit(code ?? 0);
}

/** A port that was asked for must be free; the usual one gives way to the next. */
async function choosePort() {
  const wanted = process.env.JARRO_PORT;
  if (wanted === undefined) return freePort(8420);
  if (!/^\d+$/.test(wanted) || Number(wanted) < 1 || Number(wanted) > 65_535)
    fail(`JARRO_PORT=${wanted} is no port number.`);
  if (!(await isFree(Number(wanted))))
    fail(`Port ${wanted} is taken. Stop what uses it, or set JARRO_PORT to another.`);
  return Number(wanted);
}

async function serving() {
  const until = Date.now() + SERVE_LIMIT_MS;
  for (;;) {
    try {
      if ((await fetch(`${address}/api/health`)).ok) return;
    } catch (error) {
      if (!(error instanceof TypeError)) throw error;
    }
    if (Date.now() > until) fail(`The server did not answer within ${SERVE_LIMIT_MS / 60_000} minutes.`);
    await pause(100);
  }
}
