import type { MigrationInterface, QueryRunner } from 'typeorm';

/** Known-goods: captures of pumps that were proven good. */
export class Shelf1766100000000 implements MigrationInterface {
  async up(runner: QueryRunner): Promise<void> {
    await runner.query(`CREATE TABLE shelf_entries (id CHAR(36) NOT NULL PRIMARY KEY, shopId CHAR(36) NOT NULL,
      caseId CHAR(36) NOT NULL, captureId CHAR(36) NOT NULL UNIQUE, label VARCHAR(120) NOT NULL,
      systemLine CHAR(36) NULL, systemName VARCHAR(120) NOT NULL, systemKind VARCHAR(30) NOT NULL,
      numbers JSON NOT NULL, turnA JSON NULL, addedBy CHAR(36) NOT NULL,
      addedAt DATETIME(3) NOT NULL DEFAULT CURRENT_TIMESTAMP(3), retired TINYINT(1) NOT NULL DEFAULT 0,
      INDEX (shopId, addedAt), FOREIGN KEY (shopId) REFERENCES shops (id), FOREIGN KEY (caseId) REFERENCES cases (id))`);
  }

  async down(runner: QueryRunner): Promise<void> {
    await runner.query('DROP TABLE shelf_entries');
  }
}
