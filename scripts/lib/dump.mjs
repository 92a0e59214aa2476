import { spawn } from 'node:child_process';
import { createReadStream, createWriteStream, existsSync, renameSync, rmSync } from 'node:fs';
import { pipeline } from 'node:stream/promises';
import { createGunzip, createGzip } from 'node:zlib';
import { fail } from './shell.mjs';

/** Where a database is, as MariaDB's own tools take it. */
function connection(url) {
  const { hostname, port, username, password, pathname } = new URL(url);
  const args = [
    '--no-defaults',
    `--host=${hostname}`,
    `--port=${port || 3306}`,
    `--user=${decodeURIComponent(username)}`,
  ];
  return { args, env: { ...process.env, MYSQL_PWD: decodeURIComponent(password) }, name: pathname.slice(1) };
}

/** Ends well or with what the tool said. */
function outcome(child, what) {
  let said = '';
  child.stderr.on('data', (chunk) => (said += chunk.toString()));
  return new Promise((resolve, reject) => {
    child.on('error', reject);
    child.on('exit', (code) =>
      code === 0 ? resolve() : reject(new Error(`${what}: ${said.trim() || `status ${code}`}`)),
    );
  });
}

/**
 * Writes all of a database, as it stands at one moment, to a compressed file; the server may work on meanwhile.
 * Nothing stands under the file's name before it is whole.
 */
export async function dump(url, file) {
  if (existsSync(file)) fail(`${file} is there already. Name another file: a backup never replaces one.`);
  const { args, env, name } = connection(url);
  const options = [
    '--single-transaction',
    '--quick',
    '--hex-blob',
    '--skip-lock-tables',
    '--skip-add-locks',
    '--no-tablespaces',
    '--default-character-set=utf8mb4',
  ];
  const half = `${file}.part`;
  const child = spawn('mariadb-dump', [...args, ...options, name], { env, stdio: ['ignore', 'pipe', 'pipe'] });
  try {
    await Promise.all([
      outcome(child, 'mariadb-dump'),
      pipeline(child.stdout, createGzip(), createWriteStream(half, { mode: 0o600 })),
    ]);
  } catch (error) {
    child.kill();
    rmSync(half, { force: true });
    fail(`Nothing was backed up. ${error.message}`);
  }
  renameSync(half, file);
}

/** Whether a database holds anything. */
export async function isEmpty(url) {
  const { args, env, name } = connection(url);
  const question = `SELECT COUNT(*) FROM information_schema.tables WHERE table_schema = '${name}'`;
  const child = spawn('mariadb', [...args, '--skip-column-names', `--execute=${question}`], {
    env,
    stdio: ['ignore', 'pipe', 'pipe'],
  });
  let said = '';
  child.stdout.on('data', (chunk) => (said += chunk.toString()));
  await outcome(child, 'mariadb');
  return said.trim() === '0';
}

/** Fills an empty database with what `dump` wrote. */
export async function load(url, file) {
  const { args, env, name } = connection(url);
  const child = spawn('mariadb', [...args, '--max-allowed-packet=64M', name], {
    env,
    stdio: ['pipe', 'ignore', 'pipe'],
  });
  await Promise.all([outcome(child, 'mariadb'), pipeline(createReadStream(file), createGunzip(), child.stdin)]);
}
