import type { MigrationInterface, QueryRunner } from 'typeorm';

/** How far an upload has come, for whoever waits for it; gone when it ends. */
export class CaptureJobs1764000000001 implements MigrationInterface {
  async up(runner: QueryRunner): Promise<void> {
    await runner.query(`CREATE TABLE capture_jobs (id VARCHAR(36) NOT NULL PRIMARY KEY, caseId CHAR(36) NOT NULL,
      stage VARCHAR(12) NOT NULL, share DOUBLE NOT NULL, changedAt DATETIME(3) NOT NULL, INDEX (changedAt),
      FOREIGN KEY (caseId) REFERENCES cases (id))`);
  }

  async down(runner: QueryRunner): Promise<void> {
    await runner.query('DROP TABLE capture_jobs');
  }
}
