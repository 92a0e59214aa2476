import { spawn, type ChildProcess } from 'node:child_process';
import { createReadStream, createWriteStream, existsSync } from 'node:fs';
import { rename, rm } from 'node:fs/promises';
import { createInterface } from 'node:readline';
import type { Readable } from 'node:stream';
import { pipeline } from 'node:stream/promises';
import { createGunzip, createGzip } from 'node:zlib';

// A whole database in one compressed file and back, by MariaDB's own tools. The scripts at the shell use it too.

/** Where a database is, as MariaDB's tools take it. */
function connection(url: string) {
  const { hostname, port, username, password, pathname } = new URL(url);
  const args = [
    '--no-defaults',
    `--host=${hostname}`,
    `--port=${port || 3306}`,
    `--user=${decodeURIComponent(username)}`,
  ];
  return { args, env: { ...process.env, MYSQL_PWD: decodeURIComponent(password) }, name: pathname.slice(1) };
}

/** A remark on what a tool is at, where it was asked for those; anything else it says is what went wrong. */
const REMARK = /^-- /;
const AT_TABLE = /^-- Retrieving table structure for table (\S+?)\.\.\.$/;

/**
 * Until a tool ended.
 * @param onRemark is told what it is at
 * @throws Error with what the tool said, when it didn't end well
 */
function ended(child: ChildProcess & { stderr: Readable }, onRemark: (line: string) => void = () => {}): Promise<void> {
  const said: string[] = [];
  createInterface(child.stderr).on('line', (line) => (REMARK.test(line) ? onRemark(line) : said.push(line)));
  return new Promise((resolve, reject) => {
    child.on('error', reject);
    child.on('close', (code) => {
      if (code === 0) resolve();
      else reject(new Error(`${child.spawnfile}: ${said.join(' ').trim() || `status ${code}`}`));
    });
  });
}

/** What to do with a dump on its way. */
interface DumpOptions {
  /** Stops it; nothing is left of it then. */
  readonly gone?: AbortSignal;
  /** Told of each table before its rows are written. */
  readonly onTable?: (name: string) => void;
}

/**
 * Writes all of a database, as it stands at one moment, to a compressed file that its owner alone may read; servers may work
 * on meanwhile. Nothing stands under the file's name before it is whole.
 * @throws Error when the file is there already, when a tool or the disk fails, or when it is stopped
 */
export async function dump(url: string, file: string, { gone, onTable }: DumpOptions = {}): Promise<void> {
  if (existsSync(file)) throw new Error(`${file} is there already. Name another file: a backup never replaces one.`);
  const { args, env, name } = connection(url);
  const options = [
    '--single-transaction',
    '--quick',
    '--hex-blob',
    '--skip-lock-tables',
    '--skip-add-locks',
    '--no-tablespaces',
    '--verbose',
    '--default-character-set=utf8mb4',
  ];
  const half = `${file}.part`;
  const child = spawn('mariadb-dump', [...args, ...options, name], { env, stdio: ['ignore', 'pipe', 'pipe'] });
  const atTable = (line: string) => {
    const table = AT_TABLE.exec(line)?.[1];
    if (table !== undefined) onTable?.(table);
  };
  try {
    await Promise.all([
      ended(child, atTable),
      pipeline(child.stdout, createGzip(), createWriteStream(half, { mode: 0o600 }), { signal: gone }),
    ]);
  } catch (error) {
    child.kill();
    await rm(half, { force: true });
    throw error;
  }
  await rename(half, file);
}

/** Whether a database holds anything. */
export async function isEmpty(url: string): Promise<boolean> {
  const { args, env, name } = connection(url);
  const question = `SELECT COUNT(*) FROM information_schema.tables WHERE table_schema = '${name}'`;
  const child = spawn('mariadb', [...args, '--skip-column-names', `--execute=${question}`], {
    env,
    stdio: ['ignore', 'pipe', 'pipe'],
  });
  let said = '';
  child.stdout.on('data', (chunk: Buffer) => (said += chunk.toString()));
  await ended(child);
  return said.trim() === '0';
}

/** Fills an empty database with what `dump` wrote. @throws Error when the file can't be read or a tool fails */
export async function load(url: string, file: string): Promise<void> {
  const { args, env, name } = connection(url);
  const child = spawn('mariadb', [...args, '--max-allowed-packet=64M', name], {
    env,
    stdio: ['pipe', 'ignore', 'pipe'],
  });
  await Promise.all([ended(child), pipeline(createReadStream(file), createGunzip(), child.stdin)]);
}
