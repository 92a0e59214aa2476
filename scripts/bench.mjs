import { scoreFolder, scoreSeeds } from './lib/accuracy.mjs';
import { scoreSignals } from './lib/signal-accuracy.mjs';
import { scoreWound } from './lib/wound-accuracy.mjs';
import { ensureBuilt, ensureCommand, ensurePackages } from './lib/prepare.mjs';
import { say } from './lib/shell.mjs';

// The performance table; `--strict` ends badly when a target is missed, `--core` leaves out what needs a server. With
// `accuracy [DIR] [--misses]` the accuracy of the ramp analysis instead, on a folder of captures with a truth.json, or on own
// drawn captures: `accuracy [SEED [COUNT]] [--json]`; `accuracy signals [SEED [COUNT]]` scores switched lines and intermittents,
// `accuracy wound [SEED [COUNT]]` motors that are solved as circuits. Ratios are taken within this one run, so that the machine
// matters little.

/** @type {Readonly<Record<string, typeof scoreSeeds>>} what is scored where it isn't drawn pump currents */
const SCORES = { signals: scoreSignals, wound: scoreWound };
const options = process.argv.slice(2);
const isAccuracy = options[0] === 'accuracy';
const isServed = !isAccuracy && !options.includes('--core');
ensurePackages();
if (isServed) {
  ensureCommand('mariadbd', 'mariadb-server');
  ensureCommand('chromium-headless-shell', 'chromium-headless-shell');
}
ensureBuilt(isServed ? ['core', 'answer types', 'server', 'interface'] : ['core']);
if (isAccuracy) await accuracy(options.slice(1));
else await performanceTable();

/** @param {readonly string[]} asked */
async function accuracy(asked) {
  const words = asked.filter((option) => !option.startsWith('--'));
  const special = SCORES[words[0]];
  const [given = '1', count] = special ? words.slice(1) : words;
  const core = await import('@jarro/core');
  const score = special ?? scoreSeeds;
  const board = /^\d+$/.test(given)
    ? score(core, Number(given), count && Number(count))
    : scoreFolder(core, given, 'abf');
  if (asked.includes('--json')) say(JSON.stringify(board.plain()));
  else board.show(asked.includes('--misses'));
}

async function performanceTable() {
  const { Table } = await import('./bench/table.mjs');
  const table = new Table();
  const { benchCore } = await import('./bench/core.mjs');
  benchCore(table);
  if (isServed) {
    const { benchServed } = await import('./bench/served.mjs');
    await benchServed(table);
  }
  if (table.missed > 0) say(`${table.missed} missed`);
  if (table.missed > 0 && options.includes('--strict')) process.exitCode = 1;
}
