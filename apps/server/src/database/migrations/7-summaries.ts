import type { MigrationInterface, QueryRunner } from 'typeorm';

/**
 * One row a case with what the board shows of it, so that it is found, filtered and paged without its evidence. The rows are
 * written by the last migration that changes what stands in them.
 */
export class Summaries1765000000000 implements MigrationInterface {
  async up(runner: QueryRunner): Promise<void> {
    await runner.query(`CREATE TABLE case_summaries (caseId CHAR(36) NOT NULL PRIMARY KEY, shopId CHAR(36) NOT NULL,
      number INT NOT NULL, stage VARCHAR(20) NOT NULL, isOpen TINYINT(1) NOT NULL, openedAt DATETIME(3) NOT NULL,
      openedBy CHAR(36) NOT NULL, complaint VARCHAR(500) NOT NULL, model VARCHAR(120) NOT NULL, year SMALLINT NULL,
      engine VARCHAR(60) NOT NULL, plate VARCHAR(20) NOT NULL, captures INT NOT NULL, readings INT NOT NULL,
      verdict VARCHAR(30) NULL, changedAt DATETIME(3) NOT NULL, version INT NOT NULL,
      INDEX paged (shopId, isOpen, number), FOREIGN KEY (caseId) REFERENCES cases (id))`);
  }

  async down(runner: QueryRunner): Promise<void> {
    await runner.query('DROP TABLE case_summaries');
  }
}
