import type { MigrationInterface, QueryRunner } from 'typeorm';

/** Jobs that any process may do, with a lease, in place of the progress of uploads that one process did itself. */
export class Jobs1765100000000 implements MigrationInterface {
  async up(runner: QueryRunner): Promise<void> {
    await runner.query(`CREATE TABLE jobs (id VARCHAR(36) NOT NULL PRIMARY KEY, kind VARCHAR(20) NOT NULL,
      caseId CHAR(36) NOT NULL, userId CHAR(36) NOT NULL, state VARCHAR(12) NOT NULL, stage VARCHAR(12) NOT NULL,
      share DOUBLE NOT NULL, task JSON NULL, outcome JSON NULL, cancelled TINYINT(1) NOT NULL DEFAULT 0,
      attempts INT NOT NULL DEFAULT 0, owner CHAR(36) NULL, until DATETIME(3) NULL, changedAt DATETIME(3) NOT NULL,
      INDEX claimed (state, changedAt), FOREIGN KEY (caseId) REFERENCES cases (id))`);
    await runner.query('DROP TABLE capture_jobs');
  }

  async down(runner: QueryRunner): Promise<void> {
    await runner.query('DROP TABLE jobs');
    await runner.query(`CREATE TABLE capture_jobs (id VARCHAR(36) NOT NULL PRIMARY KEY, caseId CHAR(36) NOT NULL,
      stage VARCHAR(12) NOT NULL, share DOUBLE NOT NULL, changedAt DATETIME(3) NOT NULL, INDEX (changedAt))`);
  }
}
