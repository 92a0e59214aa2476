import { SUMMARISE_ALL } from '../../cases/summaries.js';
import type { MigrationInterface, QueryRunner } from 'typeorm';

/**
 * What an hour's labour costs, for the cost of being wrong; of a case the names of those who worked on it elsewhere,
 * and which one it is a comeback of.
 */
export class Repairs1766000000000 implements MigrationInterface {
  async up(runner: QueryRunner): Promise<void> {
    await runner.query(
      "ALTER TABLE shops ADD labourRate DOUBLE NOT NULL DEFAULT 0, ADD currency VARCHAR(6) NOT NULL DEFAULT ''",
    );
    await runner.query('ALTER TABLE cases ADD people JSON NULL, ADD comebackOf CHAR(36) NULL, ADD INDEX (comebackOf)');
    await runner.query(
      'ALTER TABLE case_summaries ADD repaired TINYINT(1) NOT NULL DEFAULT 0, ADD comebackOf CHAR(36) NULL',
    );
    await runner.query(SUMMARISE_ALL);
  }

  async down(runner: QueryRunner): Promise<void> {
    await runner.query('ALTER TABLE case_summaries DROP repaired, DROP comebackOf');
    await runner.query('ALTER TABLE cases DROP people, DROP INDEX comebackOf, DROP comebackOf');
    await runner.query('ALTER TABLE shops DROP labourRate, DROP currency');
  }
}
