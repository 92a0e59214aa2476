import { existsSync } from 'node:fs';
import { claim } from './lib/claim.mjs';
import { startMariaDb } from './lib/mariadb.mjs';
import { ensureBuilt, ensureCommand, ensurePackages } from './lib/prepare.mjs';
import { fail, say } from './lib/shell.mjs';

// npm run restore -- FILE [--demo]: what a backup holds, into an empty database; what is there is never touched.

const demo = process.argv.includes('--demo');
const [file] = process.argv.slice(2).filter((arg) => arg !== '--demo');
if (!file || !existsSync(file)) fail('Name the backup to restore: npm run restore -- jarro-backup.sql.gz');
ensurePackages();
ensureCommand('mariadbd', 'mariadb-server');
ensureBuilt(['core', 'answer types', 'server']);
const { isEmpty, load } = await import('../apps/server/dist/dump.js');

const external = process.env.JARRO_DATABASE_URL;
const name = demo ? 'demo' : 'data';
if (!external) await claim(name, 'a restore');
const database = external ? { url: external, stop: async () => {} } : await startMariaDb(name);
try {
  if (!(await isEmpty(database.url))) {
    await database.stop();
    fail(
      'There is data here already, and it stays. Restore into another folder: JARRO_DATA=/path npm run restore -- FILE',
    );
  }
  await load(database.url, file);
} catch (error) {
  await database.stop();
  fail(`The backup could not be read (${error.message}). Remove the half-filled folder before you try again.`);
}
await database.stop();
say('Restored. Put the seal key of the old folder into this one, then start Jarro.');
