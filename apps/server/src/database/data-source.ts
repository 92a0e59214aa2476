import { DataSource, type DataSourceOptions } from 'typeorm';
import { ENTITIES } from './entities.js';
import { First1764000000000 } from './migrations/1-first.js';
import { CaptureJobs1764000000001 } from './migrations/2-capture-jobs.js';
import { OneChain1764300000000 } from './migrations/3-one-chain.js';
import { Held1764700000000 } from './migrations/5-held.js';
import { SystemsAndRules1764400000000 } from './migrations/4-systems-and-rules.js';

export function dataSourceOptions(url: string): DataSourceOptions {
  return {
    type: 'mariadb',
    url,
    entities: ENTITIES,
    migrations: [
      First1764000000000,
      CaptureJobs1764000000001,
      OneChain1764300000000,
      SystemsAndRules1764400000000,
      Held1764700000000,
    ],
    migrationsTransactionMode: 'each',
    synchronize: false,
    timezone: 'Z',
    charset: 'utf8mb4',
    poolSize: 16,
    // JSON is read once, here: read by the driver as well, the note "12.6" would come back as a number.
    extra: { jsonStrings: true },
  };
}

/** Brings the schema up to date. A named lock keeps several starting servers from migrating at once. */
export async function migrate(source: DataSource): Promise<void> {
  const lock = source.createQueryRunner();
  try {
    await lock.query(`SELECT GET_LOCK('jarro-migrate', 60)`);
    await source.runMigrations();
  } finally {
    await lock.query(`SELECT RELEASE_LOCK('jarro-migrate')`);
    await lock.release();
  }
}
