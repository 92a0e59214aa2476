import { join } from 'node:path';
import { pathToFileURL } from 'node:url';
import { claim } from './lib/claim.mjs';
import { removeMariaDb, startMariaDb } from './lib/mariadb.mjs';
import { GIVES_BACK } from './lib/memory.mjs';
import { ROOT, toolPath } from './lib/paths.mjs';
import { ensureBuilt, ensureCommand, ensurePackages } from './lib/prepare.mjs';
import { run } from './lib/shell.mjs';

// The hard trials, long: the same files that npm test runs for a moment. Names after the command choose some of them.

ensurePackages();
ensureCommand('mariadbd', 'mariadb-server');
ensureBuilt(['core', 'answer types', 'server']);
await claim('test', 'a run of tests or trials');
await removeMariaDb('test');
const database = await startMariaDb('test', 'jarro%');
const files = ['apps/server/test/trials', 'scripts/test/database-kills', 'core/test/diagnosis'];
const chosen = process.argv.slice(2);
/** Of one test: a thousand rounds take minutes on an idle machine. */
const LONGEST_MS = 3_600_000;
try {
  process.exitCode = await run(
    process.execPath,
    [toolPath('jest'), '--runInBand', `--testTimeout=${LONGEST_MS}`, ...(chosen.length > 0 ? chosen : files)],
    {
      env: {
        ...GIVES_BACK,
        ...process.env,
        JARRO_TRIALS: 'long',
        JARRO_TEST_DATABASE_URL: database.url.replace(/jarro$/, 'jarro_unit'),
        JARRO_WORKER: pathToFileURL(join(ROOT, 'apps/server/dist/thread.cjs')).href,
        JARRO_LOG: 'error',
      },
    },
  );
} finally {
  await database.stop();
}
