import type { MigrationInterface, QueryRunner } from 'typeorm';

/** The leading suspect of each open case, for the board; weighed anew where the case went on since. */
export class Suspects1766200000000 implements MigrationInterface {
  async up(runner: QueryRunner): Promise<void> {
    await runner.query(
      'ALTER TABLE case_summaries ADD COLUMN suspect VARCHAR(30) NULL, ADD COLUMN weighedVersion INT NOT NULL DEFAULT -1',
    );
  }

  async down(runner: QueryRunner): Promise<void> {
    await runner.query('ALTER TABLE case_summaries DROP COLUMN suspect, DROP COLUMN weighedVersion');
  }
}
