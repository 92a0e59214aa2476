import { DataSource, type DataSourceOptions } from 'typeorm';
import { ENTITIES } from './entities.js';
import { withLease } from './lease.js';
import { First1764000000000 } from './migrations/1-first.js';
import { CaptureJobs1764000000001 } from './migrations/2-capture-jobs.js';
import { OneChain1764300000000 } from './migrations/3-one-chain.js';
import { Held1764700000000 } from './migrations/5-held.js';
import { SystemsAndRules1764400000000 } from './migrations/4-systems-and-rules.js';
import { Sealed1764900000000 } from './migrations/6-sealed.js';
import { Summaries1765000000000 } from './migrations/7-summaries.js';
import { Jobs1765100000000 } from './migrations/8-jobs.js';
import { Bench1765200000000 } from './migrations/9-bench.js';
import { Repairs1766000000000 } from './migrations/10-repairs.js';
import { Shelf1766100000000 } from './migrations/11-shelf.js';
import { Suspects1766200000000 } from './migrations/12-suspects.js';
import { Imports1766300000000 } from './migrations/13-imports.js';
import { BoardOrder1766400000000 } from './migrations/14-board-order.js';
import { Math1766500000000 } from './migrations/15-math.js';

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
      Sealed1764900000000,
      Summaries1765000000000,
      Jobs1765100000000,
      Bench1765200000000,
      Repairs1766000000000,
      Shelf1766100000000,
      Suspects1766200000000,
      Imports1766300000000,
      BoardOrder1766400000000,
      Math1766500000000,
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

/** Brings the schema up to date; of several servers that start at once one does it. */
export async function migrate(source: DataSource): Promise<void> {
  await withLease(source, 'migrate', () => source.runMigrations());
}
