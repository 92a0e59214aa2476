import { existsSync } from 'node:fs';
import { join } from 'node:path';
import { DATA, ROOT } from './lib/paths.mjs';
import { ensureBuilt, ensureCommand, ensurePackages } from './lib/prepare.mjs';
import { withPresentDatabase } from './lib/present-database.mjs';
import { fail, run } from './lib/shell.mjs';

// npm run verify -- [CASE ...] [--demo]: reads everything that cases rest on again and compares it with their seals; all
// cases where none is named by its number. While Jarro runs or while it doesn't. Ends with 1 where something was changed.

const name = process.argv.includes('--demo') ? 'demo' : 'data';
const numbers = process.argv.slice(2).filter((arg) => arg !== '--demo');
const wrong = numbers.find((number) => !/^[1-9]\d*$/.test(number));
if (wrong !== undefined) fail(`"${wrong}" is no case’s number. Name cases as the board does: npm run verify -- 3 12`);
const keyFile = process.env.JARRO_SEAL_KEY_FILE ?? join(DATA, `seal-${name}.key`);
if (process.env.JARRO_SEAL_KEY === undefined && !existsSync(keyFile)) {
  fail(`The seal key ${keyFile} is missing: without it nothing can be checked. Put it back, then try again.`);
}
ensurePackages();
ensureCommand('mariadbd', 'mariadb-server');
ensureBuilt(['core', 'answer types', 'server']);
process.exitCode = await withPresentDatabase(name, 'a check of its seals', (url) =>
  run(process.execPath, [join(ROOT, 'apps/server/dist/verify.js'), ...numbers], {
    env: {
      ...process.env,
      JARRO_DATABASE_URL: url,
      ...(process.env.JARRO_SEAL_KEY === undefined && { JARRO_SEAL_KEY_FILE: keyFile }),
    },
  }),
);
