import type { MigrationInterface, QueryRunner } from 'typeorm';

const CHANGES = [
  // Files as they were sent, by their content: the same file twice is kept once. It counts once a link names it.
  `CREATE TABLE originals (sha256 CHAR(64) NOT NULL PRIMARY KEY, sizeBytes BIGINT NOT NULL,
    pendingSince DATETIME(3) NULL, INDEX (pendingSince))`,
  `CREATE TABLE original_parts (sha256 CHAR(64) NOT NULL, part INT NOT NULL, data MEDIUMBLOB NOT NULL,
    PRIMARY KEY (sha256, part))`,
  // Where each case's chain ends and what stands beside it, signed with a key that is not in this database.
  `CREATE TABLE case_seals (caseId CHAR(36) NOT NULL PRIMARY KEY, facts JSON NOT NULL, keyId CHAR(16) NOT NULL,
    signature CHAR(64) NOT NULL, FOREIGN KEY (caseId) REFERENCES cases (id))`,
];

/** Original files, and the signed end of every case. */
export class Sealed1764900000000 implements MigrationInterface {
  async up(runner: QueryRunner): Promise<void> {
    for (const change of CHANGES) await runner.query(change);
  }

  async down(runner: QueryRunner): Promise<void> {
    for (const table of ['case_seals', 'original_parts', 'originals']) await runner.query(`DROP TABLE ${table}`);
    await runner.query(`DELETE FROM settings WHERE name = 'cases-signed'`);
  }
}
