import { randomUUID } from 'node:crypto';
import type { DataSource } from 'typeorm';
import { log } from '../http/log.js';
import { retryDeadlocks } from './retry.js';

const LEASE_S = 30;
const RENEW_MS = 10_000;
const ASK_AGAIN_MS = 200;

/**
 * Does something that only one process on a database may do at a time; the others wait. A row with an end is the lease:
 * it is seen by every node of a cluster, which named locks are not, and one that died with it gives it back when it ends.
 */
export async function withLease<T>(source: DataSource, name: string, work: () => Promise<T>): Promise<T> {
  await source.query(
    'CREATE TABLE IF NOT EXISTS leases (name VARCHAR(40) NOT NULL PRIMARY KEY, owner CHAR(36) NOT NULL, until DATETIME(3) NOT NULL)',
  );
  const owner = randomUUID();
  while (!(await take(source, name, owner))) await new Promise((resolve) => setTimeout(resolve, ASK_AGAIN_MS));
  return holding(source, name, owner, work);
}

/** The same where it may as well be left to whoever is at it: then nothing is done. The table is there. */
export async function ifFree(source: DataSource, name: string, work: () => Promise<void>): Promise<void> {
  const owner = randomUUID();
  if (await take(source, name, owner)) await holding(source, name, owner, work);
}

async function holding<T>(source: DataSource, name: string, owner: string, work: () => Promise<T>): Promise<T> {
  // A renewal that fails once is tried again before the lease is over.
  const warn = (error: unknown) => log.warn({ err: error, lease: name }, 'lease not renewed this time');
  const renewal = setInterval(() => void take(source, name, owner).catch(warn), RENEW_MS);
  try {
    return await work();
  } finally {
    clearInterval(renewal);
    await source.query('DELETE FROM leases WHERE name = ? AND owner = ?', [name, owner]);
  }
}

/** Takes a lease that is free, over or one's own already. */
async function take(source: DataSource, name: string, owner: string): Promise<boolean> {
  await retryDeadlocks(() =>
    source.query(
      `INSERT INTO leases (name, owner, until) VALUES (?, ?, UTC_TIMESTAMP(3) + INTERVAL ? SECOND)
       ON DUPLICATE KEY UPDATE
         owner = IF(until < UTC_TIMESTAMP(3), VALUES(owner), owner),
         until = IF(owner = VALUES(owner), VALUES(until), until)`,
      [name, owner, LEASE_S],
    ),
  );
  const [row] = await source.query<{ owner: string }[]>('SELECT owner FROM leases WHERE name = ?', [name]);
  return row?.owner === owner;
}
