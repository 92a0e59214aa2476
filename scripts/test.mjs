import { randomBytes } from 'node:crypto';
import { readFileSync, rmSync } from 'node:fs';
import { join } from 'node:path';
import { pathToFileURL } from 'node:url';
import { claim } from './lib/claim.mjs';
import { removeMariaDb, startMariaDb } from './lib/mariadb.mjs';
import { GIVES_BACK } from './lib/memory.mjs';
import { ROOT, STATE, toolPath } from './lib/paths.mjs';
import { ensureBuilt, ensureCommand, ensurePackages } from './lib/prepare.mjs';
import { startServers } from './lib/servers.mjs';
import { run, say } from './lib/shell.mjs';

// Everything that must hold, on a fresh machine too. The last line counts it all: each static check is one.

ensurePackages();
ensureCommand('mariadbd', 'mariadb-server');
ensureCommand('chromium-headless-shell', 'chromium-headless-shell');
ensureBuilt();

const totals = { passed: 0, failed: 0 };
const count = (passed, failed) => {
  totals.passed += passed;
  totals.failed += failed;
};

async function check(what, command, args) {
  await checkScript(what, toolPath(command), args);
}

async function checkScript(what, script, args) {
  const status = await run(process.execPath, [script, ...args], { isPatient: true });
  say(`${status === 0 ? 'ok' : 'FAILED'}: ${what}`);
  count(status === 0 ? 1 : 0, status === 0 ? 0 : 1);
}

const PROJECTS = [
  'packages/core/tsconfig.json',
  'apps/cli/tsconfig.json',
  'apps/server/tsconfig.json',
  'apps/web/tsconfig.build.json',
  'apps/web/tsconfig.json',
  'e2e/tsconfig.json',
  'scripts/tsconfig.json',
];

/** What needs neither database nor browser fills the gaps that waiting for those leaves. */
async function staticChecks() {
  await check('lint', 'eslint', ['.', '--max-warnings', '0']);
  await check('lint by types', 'oxlint', ['--type-aware']);
  await check('formatting', 'prettier', ['--check', '--log-level', 'warn', '.']);
  await checkScript('page of numbers', join(ROOT, 'scripts/numbers.mjs'), ['--check']);
  await checkScript('formats', join(ROOT, 'scripts/formats.mjs'), ['--check']);
  for (const project of PROJECTS) await check(`types of ${project}`, 'tsc', ['-p', project]);
}

/** Suites whose work is done by programs that they start: one at a time, since two databases would take one port. */
const OF_PROGRAMS = 'scripts';
const IN_PROCESS = ['core', 'cli', 'server', 'web', 'screens'];
/** The demo's shop as a backup, which some of those begin with: making it takes many times as long as restoring it. */
const DEMO_BACKUP = join(STATE, 'test-demo.sql.gz');

// Each run starts from an empty database.
await claim('test', 'a test run');
await removeMariaDb('test');
const database = await startMariaDb('test', 'jarro%', true);
const urlOf = (name) => database.url.replace(/jarro$/, name);
/** Database of the demo's shop, made once and copied for each test that works in it. */
const DEMO = 'jarro';
const sealKey = randomBytes(32).toString('hex');
try {
  await Promise.all([staticChecks(), testsOfBehaviour()]);
} finally {
  await database.stop();
}
say(`${totals.passed} passed, ${totals.failed} failed`);
process.exitCode = totals.failed === 0 && totals.passed > 0 ? 0 : 1;

async function testsOfBehaviour() {
  await makeDemo();
  await Promise.all([
    jest('jest', ['--maxWorkers=2', '--selectProjects', ...IN_PROCESS]),
    jest('jest-programs', ['--runInBand', '--selectProjects', OF_PROGRAMS]),
  ]);
  await playwright();
}

/** With every case weighed for the board: each server on a copy would begin with that. */
async function makeDemo() {
  // Not before the packages are there and the server is built.
  const { allWeighed } = await import('./lib/weighed.mjs');
  const { dump } = await import('../apps/server/dist/dump.js');
  const url = urlOf(DEMO);
  const servers = await startServers(1, { JARRO_DATABASE_URL: url, JARRO_DEMO: '1', JARRO_SEAL_KEY: sealKey });
  await allWeighed(url);
  servers.stop();
  rmSync(DEMO_BACKUP, { force: true });
  await dump(url, DEMO_BACKUP);
}

/** @param {string} name of the report @param {string[]} which suites, and how */
async function jest(name, which) {
  const report = join(STATE, `${name}.json`);
  rmSync(report, { force: true });
  const args = [toolPath('jest'), '--json', `--outputFile=${report}`, '--silent', ...which];
  const env = {
    ...GIVES_BACK,
    ...process.env,
    JARRO_TEST_DATABASE_URL: urlOf('jarro_unit'),
    JARRO_TEST_DEMO: DEMO,
    JARRO_TEST_DEMO_BACKUP: DEMO_BACKUP,
    JARRO_TEST_SEAL_KEY: sealKey,
    // Worker threads run the built code: Jest's transforms don't reach them.
    JARRO_WORKER: pathToFileURL(join(ROOT, 'apps/server/dist/thread.cjs')).href,
    JARRO_LOG: 'silent',
  };
  const status = await run(process.execPath, args, { env, stdio: ['ignore', 'ignore', 'inherit'] });
  countReport(status, () => {
    const { numPassedTests, numFailedTests, numRuntimeErrorTestSuites } = JSON.parse(readFileSync(report, 'utf8'));
    return [numPassedTests, numFailedTests + numRuntimeErrorTestSuites];
  });
}

/**
 * The interface, each file of tests on a shop of its own with two servers by turns: what one of them kept to itself
 * would be missing at the other.
 */
async function playwright() {
  const report = join(STATE, 'playwright.json');
  rmSync(report, { force: true });
  const env = {
    ...process.env,
    JARRO_SEAL_KEY: sealKey,
    JARRO_TEST_DATABASE_URL: urlOf(DEMO),
    JARRO_TEST_DEMO: DEMO,
    PLAYWRIGHT_JSON_OUTPUT_NAME: report,
  };
  const status = await run(
    process.execPath,
    [toolPath('playwright'), 'test', '--config=e2e/playwright.config.ts', '--reporter=line,json'],
    { env },
  );
  countReport(status, () => {
    const { expected, unexpected, flaky } = JSON.parse(readFileSync(report, 'utf8')).stats;
    return [expected, unexpected + flaky];
  });
}

/** A runner that fails without naming a failed test counts as one failure. */
function countReport(status, read) {
  try {
    const [passed, failed] = read();
    count(passed, status !== 0 ? Math.max(1, failed) : failed);
  } catch (error) {
    say(`No test report: ${error.message}`);
    count(0, 1);
  }
}
