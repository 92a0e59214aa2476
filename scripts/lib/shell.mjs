import { spawn, spawnSync } from 'node:child_process';
import { constants, setPriority } from 'node:os';
import { ROOT } from './paths.mjs';

/** Ends the script with one clear line. */
export function fail(message) {
  process.stderr.write(`${message}\n`);
  process.exit(1);
}

export function say(message) {
  process.stdout.write(`${message}\n`);
}

/** Runs a command quietly; shows what it printed only when it fails. */
export function runQuietly(what, command, args, options = {}) {
  const result = spawnSync(command, args, { cwd: ROOT, encoding: 'utf8', maxBuffer: 1 << 28, ...options });
  if (result.status === 0) return;
  process.stderr.write(`${result.stdout ?? ''}${result.stderr ?? ''}`);
  fail(`${what} failed${result.error ? `: ${result.error.message}` : ''}.`);
}

/**
 * Runs a command with its output shown.
 * @param {{ isPatient?: boolean } & import('node:child_process').SpawnOptions} options patient: it takes what others leave of
 *   the machine
 * @returns {Promise<number>} its exit status
 */
export function run(command, args, { isPatient = false, ...options } = {}) {
  return new Promise((resolve, reject) => {
    const child = spawn(command, args, { cwd: ROOT, stdio: 'inherit', ...options });
    if (isPatient && child.pid) setPriority(child.pid, constants.priority.PRIORITY_BELOW_NORMAL);
    child.on('error', reject);
    child.on('exit', (code, signal) => resolve(signal ? 1 : code));
  });
}

export function hasCommand(command) {
  return spawnSync('sh', ['-c', `command -v ${command}`]).status === 0;
}

export const pause = (ms) => new Promise((resolve) => setTimeout(resolve, ms));
