import { createConnection } from 'mysql2/promise';
import { pause } from './shell.mjs';

/** Far more than weighing the demo's cases takes. */
const WEIGH_LIMIT_MS = 180_000;
const DUE = 'SELECT COUNT(*) AS count FROM case_summaries WHERE isOpen AND weighedVersion < version';

/**
 * Until every open case of a new shop is weighed for the board, so that what is measured or copied then is at rest. A server
 * that died over it isn't waited for.
 * @param {string} url of the shop's database
 */
export async function allWeighed(url) {
  const connection = await createConnection(url);
  const until = Date.now() + WEIGH_LIMIT_MS;
  while (Date.now() < until && (await connection.query(DUE))[0][0].count > 0) await pause(500);
  await connection.end();
}
