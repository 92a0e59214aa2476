import { spawn } from 'node:child_process';
import { connect, createServer } from 'node:net';
import { join } from 'node:path';
import { freePort } from './mariadb.mjs';
import { GIVES_BACK } from './memory.mjs';
import { ROOT } from './paths.mjs';
import { pause } from './shell.mjs';

/** Far more than any start takes: a server that dies is noticed at once, and one that hangs is to end the run. */
const START_LIMIT_MS = 300_000;

/**
 * Starts server processes on one database behind one address; connections go to them by turns, as behind a proxy.
 * Only one alone may meet a database that lacks tables or the demo: each would make them.
 * @param {number} count
 * @param {Record<string, string>} env their settings, the database's address among them
 * @param {number} from the lowest port to take
 * @returns {Promise<{ address: string, stop: () => void }>}
 */
export async function startServers(count, env, from = 8620) {
  const started = [];
  for (let i = 0; i < count; i++) {
    const port = await freePort(from + 10 * (i + 1));
    started.push(startServer(port, env));
  }
  await Promise.all(started.map(answers));
  const front = await freePort(from);
  const door = byTurns(started.map(({ port }) => port)).listen(front, '127.0.0.1');
  return {
    address: `http://127.0.0.1:${front}`,
    stop() {
      door.close();
      for (const { child } of started) child.kill('SIGTERM');
    },
  };
}

/**
 * @param {number} port
 * @param {Record<string, string>} env
 */
function startServer(port, env) {
  const child = spawn(process.execPath, [join(ROOT, 'apps/server/dist/main.js')], {
    stdio: 'inherit',
    env: { ...GIVES_BACK, ...process.env, ...env, JARRO_PORT: String(port), JARRO_LOG: 'error' },
  });
  return { port, child };
}

/**
 * What comes in is passed on at once: gathered to full packets, an answer whose head and body are written apart takes 40 ms
 * more, until the other side says that it has the first (RFC 1122, 4.2.3.2 and 4.2.3.4).
 * @param {readonly number[]} ports
 */
function byTurns(ports) {
  const noDelay = true;
  let next = 0;
  return createServer({ noDelay }, (client) => {
    const server = connect({ port: ports[next++ % ports.length], host: '127.0.0.1', noDelay });
    // One end that breaks off takes the other with it.
    client.on('error', () => server.destroy());
    server.on('error', () => client.destroy());
    client.on('close', () => server.destroy());
    server.on('close', () => client.destroy());
    client.pipe(server).pipe(client);
  });
}

/**
 * Until it answers. One that makes the demo measures every capture of it first: a minute and more on a busy machine.
 * @param {ReturnType<typeof startServer>} server
 */
async function answers({ port, child }) {
  const until = Date.now() + START_LIMIT_MS;
  while (Date.now() < until && child.exitCode === null && child.signalCode === null) {
    const ok = await fetch(`http://127.0.0.1:${port}/api/health`).then(
      (response) => response.ok,
      () => false,
    );
    if (ok) return;
    await pause(200);
  }
  child.kill('SIGTERM');
  throw new Error(`No server answers on port ${port} (exit code ${child.exitCode}, signal ${child.signalCode}).`);
}
