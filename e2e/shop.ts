import { basename } from 'node:path';
import { test as base } from '@playwright/test';
import { createConnection } from 'mysql2/promise';
import { copyDatabase } from '../scripts/lib/copy-database.mjs';
import { startServers } from '../scripts/lib/servers.mjs';

// A shop for each file of tests: its own database, filled as the demo fills one, and its own servers. What one file
// changes, rules, numbers of cases, people, no other file sees; so files run side by side and in any order.

/** Ports of one worker: two servers and the address before them, apart from every other worker's. */
const PORTS_OF_A_WORKER = 60;

/**
 * `shop` is a name that no other file uses; a worker that has another one begins with a new database.
 * With JARRO_TEST_ADDRESS set, all files use the server that answers there instead.
 */
export const test = base.extend<object, { shop: string; address: string }>({
  shop: ['shop', { scope: 'worker', option: true }],
  address: [
    async ({ shop }, use, { parallelIndex, workerIndex }) => {
      const given = process.env.JARRO_TEST_ADDRESS;
      if (given) return use(given);
      const database = new URL(process.env.JARRO_TEST_DATABASE_URL ?? '');
      // A worker that takes over after a failed test doesn't find what the failed one left.
      const name = `jarro_e2e_${shop.replaceAll('-', '_')}_${workerIndex}`;
      const connection = await createConnection(database.href);
      await connection.query(`CREATE DATABASE ${name} CHARACTER SET utf8mb4`);
      database.pathname = `/${name}`;
      await copyDatabase(database.href, process.env.JARRO_TEST_DEMO ?? '');
      const servers = await startServers(
        2,
        { JARRO_DATABASE_URL: database.href },
        8620 + PORTS_OF_A_WORKER * parallelIndex,
      );
      await use(servers.address);
      servers.stop();
      await connection.query(`DROP DATABASE ${name}`);
      await connection.end();
    },
    { scope: 'worker', timeout: 120_000 },
  ],
  baseURL: ({ address }, use) => use(address),
});

/** The shop's name of a file of tests. */
export const shopOf = (file: string) => ({ shop: basename(file, '.spec.ts') });
