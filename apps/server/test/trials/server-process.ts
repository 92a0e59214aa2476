import { spawn } from 'node:child_process';
import { readFileSync } from 'node:fs';
import { createServer, type AddressInfo } from 'node:net';
import { join } from 'node:path';
import { createInterface } from 'node:readline';
import { DEMO_PASSWORD } from '../../src/demo/scenario.js';
import { TEST_SEAL_KEY } from '../support.js';

/** The built server in a process of its own, to be killed and measured. */
export interface ServerProcess {
  readonly address: string;
  readonly pid: number;
  /** Ends it without a chance to tidy up. */
  kill(): Promise<void>;
  /** Ends it as Ctrl-C does. */
  stop(): Promise<void>;
  /** Status where it ended by itself. */
  ended(): number | null;
  /** The most memory it ever held, bytes (VmHWM, proc(5)). */
  peakBytes(): number;
  /** How long its event loop was held, each time that it said so since the last call, ms. */
  holdsMs(): number[];
}

const START_LIMIT_MS = 180_000;

export async function startProcess(databaseUrl: string, env: Record<string, string> = {}): Promise<ServerProcess> {
  const port = await freePort();
  const child = spawn(process.execPath, [join(__dirname, '../../dist/main.js')], {
    env: {
      ...process.env,
      NODE_ENV: 'production',
      JARRO_DATABASE_URL: databaseUrl,
      JARRO_PORT: String(port),
      JARRO_LOG: 'warn',
      JARRO_SEAL_KEY: TEST_SEAL_KEY,
      ...env,
    },
    stdio: ['ignore', 'pipe', 'inherit'],
  });
  let holds: number[] = [];
  createInterface(child.stdout).on('line', (line) => {
    const held = /"heldMs":(\d+)/.exec(line);
    if (held) holds.push(Number(held[1]));
  });
  const gone = new Promise<void>((resolve) => child.once('exit', () => resolve()));
  const address = `http://127.0.0.1:${port}`;
  const until = Date.now() + START_LIMIT_MS;
  for (;;) {
    if (child.exitCode !== null) throw new Error(`The server ended with ${child.exitCode} before it served.`);
    if (await answers(address)) break;
    if (Date.now() > until) throw new Error('The server did not answer.');
    await new Promise((resolve) => setTimeout(resolve, 50));
  }
  return {
    address,
    pid: child.pid!,
    async kill() {
      child.kill('SIGKILL');
      await gone;
    },
    async stop() {
      child.kill('SIGTERM');
      await gone;
    },
    ended: () => child.exitCode,
    peakBytes() {
      const status = readFileSync(`/proc/${child.pid}/status`, 'utf8');
      return Number(/VmHWM:\s+(\d+) kB/.exec(status)?.[1]) * 1024;
    },
    holdsMs() {
      const said = holds;
      holds = [];
      return said;
    },
  };
}

async function freePort(): Promise<number> {
  const probe = createServer().listen(0, '127.0.0.1');
  await new Promise((resolve) => probe.once('listening', resolve));
  const { port } = probe.address() as AddressInfo;
  await new Promise((resolve) => probe.close(resolve));
  return port;
}

export async function answers(address: string): Promise<boolean> {
  try {
    return (await fetch(`${address}/api/health`)).ok;
  } catch {
    return false;
  }
}

export interface Client {
  send(method: string, path: string, body?: object): Promise<{ status: number; body: unknown }>;
  upload(path: string, bytes: Uint8Array): Promise<{ status: number; body: unknown }>;
}

/** Signs in over the network, and says status 0 where nothing answered. */
export async function signedIn(address: () => string, email = 'jem@fennick.demo'): Promise<Client> {
  let cookie = '';
  const call = async (method: string, path: string, type: string, content?: RequestInit['body']) => {
    try {
      const answer = await fetch(`${address()}/api${path}`, {
        method,
        headers: { 'Content-Type': type, ...(cookie && { Cookie: cookie }) },
        ...(content !== undefined && { body: content }),
      });
      const [fresh] = answer.headers.getSetCookie();
      if (fresh) cookie = fresh.split(';')[0];
      const text = await answer.text();
      return { status: answer.status, body: text ? (JSON.parse(text) as unknown) : undefined };
    } catch {
      return { status: 0, body: undefined };
    }
  };
  const client: Client = {
    send: (method, path, body) => call(method, path, 'application/json', body && JSON.stringify(body)),
    upload: (path, bytes) => call('POST', path, 'application/octet-stream', Uint8Array.from(bytes)),
  };
  const { status } = await client.send('POST', '/session', { email, password: DEMO_PASSWORD });
  if (status !== 204) throw new Error(`Sign-in was answered with ${status}.`);
  return client;
}

export const CAPTURE_QUERY = new URLSearchParams({
  label: 'Prime',
  keyState: 'prime',
  faultPresent: 'true',
}).toString();
