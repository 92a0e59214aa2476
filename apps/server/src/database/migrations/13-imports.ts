import type { MigrationInterface, QueryRunner } from 'typeorm';

/** A job that takes a case in has none yet. */
export class Imports1766300000000 implements MigrationInterface {
  async up(runner: QueryRunner): Promise<void> {
    await runner.query('ALTER TABLE jobs MODIFY COLUMN caseId CHAR(36) NULL');
  }

  async down(runner: QueryRunner): Promise<void> {
    await runner.query('DELETE FROM jobs WHERE caseId IS NULL');
    await runner.query('ALTER TABLE jobs MODIFY COLUMN caseId CHAR(36) NOT NULL');
  }
}
