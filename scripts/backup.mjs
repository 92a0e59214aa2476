import { ensureBuilt, ensureCommand, ensurePackages } from './lib/prepare.mjs';
import { withPresentDatabase } from './lib/present-database.mjs';
import { fail, say } from './lib/shell.mjs';

// npm run backup -- FILE [--demo]: everything that is kept, in one file; while Jarro runs or while it doesn't.

const demo = process.argv.includes('--demo');
const [file] = process.argv.slice(2).filter((arg) => arg !== '--demo');
if (!file) fail('Name the file to write: npm run backup -- jarro-backup.sql.gz');
ensurePackages();
ensureCommand('mariadb-dump', 'mariadb-server');
ensureBuilt(['core', 'answer types', 'server']);

const { dump } = await import('../apps/server/dist/dump.js');
try {
  await withPresentDatabase(demo ? 'demo' : 'data', 'a backup', (url) => dump(url, file));
} catch (error) {
  fail(`Nothing was backed up. ${error.message}`);
}
say(
  `${file} holds all cases, files and people. Keep the seal key with it, but apart: without it the seals can't be checked.`,
);
