import { spawn } from 'node:child_process';
import { connect, createServer } from 'node:net';
import { join } from 'node:path';
import { freePort } from './mariadb.mjs';
import { GIVES_BACK } from './memory.mjs';
import { ROOT } from './paths.mjs';
import { pause } from './shell.mjs';

/**
 * Starts server processes on one database behind one address; connections go to them by turns, as behind a proxy.
 * @param {number} count
 * @param {Record<string, string>} env their settings, the database's address among them
 * @returns {Promise<{ address: string, stop: () => void }>}
 */
export async function startServers(count, env) {
  const ports = [];
  const children = [];
  for (let i = 0; i < count; i++) {
    const port = await freePort(8621 + 10 * i);
    ports.push(port);
    children.push(
      spawn(process.execPath, [join(ROOT, 'apps/server/dist/main.js')], {
        stdio: 'inherit',
        env: { ...GIVES_BACK, ...process.env, ...env, JARRO_PORT: String(port), JARRO_LOG: 'error' },
      }),
    );
    await answers(`http://127.0.0.1:${port}`);
  }
  const front = await freePort(8620);
  const door = byTurns(ports).listen(front, '127.0.0.1');
  return {
    address: `http://127.0.0.1:${front}`,
    stop() {
      door.close();
      for (const child of children) child.kill('SIGTERM');
    },
  };
}

/** @param {readonly number[]} ports */
function byTurns(ports) {
  let next = 0;
  return createServer((client) => {
    const server = connect(ports[next++ % ports.length], '127.0.0.1');
    // One end that breaks off takes the other with it.
    client.on('error', () => server.destroy());
    server.on('error', () => client.destroy());
    client.on('close', () => server.destroy());
    server.on('close', () => client.destroy());
    client.pipe(server).pipe(client);
  });
}

/** @param {string} address */
async function answers(address) {
  for (let tries = 0; tries < 300; tries++) {
    const ok = await fetch(`${address}/api/health`).then(
      (response) => response.ok,
      () => false,
    );
    if (ok) return;
    await pause(200);
  }
  throw new Error(`No server answers at ${address}.`);
}
