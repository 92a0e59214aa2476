import { claim } from './claim.mjs';
import { runningMariaDb, startMariaDb } from './mariadb.mjs';

/**
 * The database that is there, for as long as `use` takes: an external one, the one that runs just now, or one that is
 * started and stopped again.
 * @param {'data' | 'demo'} name which one
 * @param {string} what it is used for, told to whoever wants to start Jarro meanwhile
 * @template T
 * @param {(url: string) => Promise<T>} use
 * @returns {Promise<T>}
 */
export async function withPresentDatabase(name, what, use) {
  const present = process.env.JARRO_DATABASE_URL ?? runningMariaDb(name);
  if (present) return use(present);
  await claim(name, what);
  const database = await startMariaDb(name);
  try {
    return await use(database.url);
  } finally {
    await database.stop();
  }
}
