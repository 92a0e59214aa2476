import type { MigrationInterface, QueryRunner } from 'typeorm';

const CHANGES = [
  // A capture whose samples are still being written; it counts once its link stands in the chain.
  'ALTER TABLE captures ADD pendingSince DATETIME(3) NULL, ADD INDEX (pendingSince)',
  // Guesses of passwords and codes, by what is guessed and from where; never by an account alone.
  `CREATE TABLE attempts (name CHAR(64) NOT NULL PRIMARY KEY, count INT NOT NULL, until DATETIME(3) NOT NULL,
    INDEX (until))`,
  // What the board counts by, so that no value has to be read for it.
  'ALTER TABLE evidence ADD INDEX counted (caseId, kind, at, keyState)',
  'ALTER TABLE cases ADD INDEX staged (shopId, stage, number)',
  'ALTER TABLE users DROP failedSignIns, DROP lockedUntil',
];

/** Samples before their link, and limits that hold across processes. */
export class Held1764700000000 implements MigrationInterface {
  async up(runner: QueryRunner): Promise<void> {
    for (const change of CHANGES) await runner.query(change);
  }

  async down(runner: QueryRunner): Promise<void> {
    for (const change of [
      'DELETE chunk FROM capture_chunks chunk JOIN captures ON captures.id = captureId WHERE pendingSince IS NOT NULL',
      'DELETE FROM captures WHERE pendingSince IS NOT NULL',
      'ALTER TABLE captures DROP pendingSince',
      'DROP TABLE attempts',
      'ALTER TABLE evidence DROP INDEX counted',
      'ALTER TABLE cases DROP INDEX staged',
      'ALTER TABLE users ADD failedSignIns INT NOT NULL DEFAULT 0, ADD lockedUntil DATETIME(3) NULL',
    ]) {
      await runner.query(change);
    }
  }
}
