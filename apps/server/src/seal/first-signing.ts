import { Inject, Injectable } from '@nestjs/common';
import { InjectDataSource } from '@nestjs/typeorm';
import { DataSource } from 'typeorm';
import { CONFIG, type Config } from '../config.js';
import { Case } from '../cases/cases.entities.js';
import { Setting } from '../database/settings.entities.js';
import { retryDeadlocks } from '../database/retry.js';
import { headOf, signCase } from './case-seal.js';

const DONE = 'cases-signed';

/**
 * Signs the cases of a database from before cases were signed, once, as they are found. Afterwards a case without its
 * signature is one whose signature was taken away.
 */
@Injectable()
export class FirstSigning {
  constructor(
    @InjectDataSource() private readonly source: DataSource,
    @Inject(CONFIG) private readonly config: Config,
  ) {}

  async run(): Promise<void> {
    const settings = this.source.getRepository(Setting);
    if (await settings.existsBy({ name: DONE })) return;
    for (const { id } of await this.source.getRepository(Case).find({ select: { id: true } })) {
      await retryDeadlocks(() =>
        this.source.transaction(async (manager) => {
          await manager.getRepository(Case).findOneOrFail({ where: { id }, lock: { mode: 'pessimistic_write' } });
          await signCase(manager, this.config.sealKey, id, await headOf(manager, id));
        }),
      );
    }
    await this.source.query('INSERT IGNORE INTO settings (name, value) VALUES (?, ?)', [DONE, this.config.sealKey.id]);
  }
}
