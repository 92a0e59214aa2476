import { readFileSync, rmSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { DATA } from './paths.mjs';
import { fail, pause } from './shell.mjs';

/**
 * Takes a database folder for this process, so that a second start can't stop the first one's database under it.
 * The claim goes with the process; one left by a killed process counts for nothing.
 * @param name which instance: 'data', 'demo', 'test'
 * @param where what to tell whoever starts a second one
 */
export async function claim(name, where) {
  const file = join(DATA, `running-${name}.json`);
  const own = JSON.stringify({ pid: process.pid, born: bornAt(process.pid), where });
  for (let tries = 0; tries < 50; tries++) {
    if (created(file, own)) {
      // Another start may have taken this file for a dead one's and replaced it: whoever stands in it now has it.
      await pause(50);
      if (readIfThere(file) !== own) continue;
      process.on('exit', () => {
        if (readIfThere(file) === own) rmSync(file, { force: true });
      });
      return;
    }
    const other = parsed(readIfThere(file));
    if (other && bornAt(other.pid) === other.born) {
      fail(`Jarro already runs here: ${other.where} (process ${other.pid}). Use that one, or stop it first.`);
    }
    // Unreadable: its writer may be at it just now.
    if (other || tries % 10 === 9) rmSync(file, { force: true });
    await pause(20);
  }
  fail(`The file ${file} can't be claimed. Remove it if no Jarro runs, and start again.`);
}

function created(file, content) {
  try {
    writeFileSync(file, content, { flag: 'wx', mode: 0o600 });
    return true;
  } catch (error) {
    if (error.code !== 'EEXIST') throw error;
    return false;
  }
}

function readIfThere(file) {
  try {
    return readFileSync(file, 'utf8');
  } catch (error) {
    if (error.code !== 'ENOENT') throw error;
    return undefined;
  }
}

function parsed(text) {
  try {
    const { pid, born, where } = JSON.parse(text ?? '');
    return Number.isInteger(pid) && typeof born === 'string' ? { pid, born, where } : undefined;
  } catch {
    return undefined;
  }
}

/** When a process began, in clock ticks since boot (proc(5), field 22): tells it from a later one of the same number. */
function bornAt(pid) {
  const stat = readIfThere(`/proc/${pid}/stat`);
  return stat?.slice(stat.lastIndexOf(')') + 2).split(' ')[19];
}
