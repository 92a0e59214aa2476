import { runningMariaDb, startMariaDb } from './lib/mariadb.mjs';
import { dump } from './lib/dump.mjs';
import { claim } from './lib/claim.mjs';
import { ensureCommand } from './lib/prepare.mjs';
import { fail, say } from './lib/shell.mjs';

// npm run backup -- FILE [--demo]: everything that is kept, in one file; while Jarro runs or while it doesn't.

const demo = process.argv.includes('--demo');
const [file] = process.argv.slice(2).filter((arg) => arg !== '--demo');
if (!file) fail('Name the file to write: npm run backup -- jarro-backup.sql.gz');
ensureCommand('mariadb-dump', 'mariadb-server');

const external = process.env.JARRO_DATABASE_URL;
const name = demo ? 'demo' : 'data';
const running = external ?? runningMariaDb(name);
if (running) {
  await dump(running, file);
} else {
  await claim(name, 'a backup');
  const database = await startMariaDb(name);
  await dump(database.url, file);
  await database.stop();
}
say(
  `${file} holds all cases, files and people. Keep the seal key with it, but apart: without it the seals can't be checked.`,
);
