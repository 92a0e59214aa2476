import type { MigrationInterface, QueryRunner } from 'typeorm';

const RULES = `JSON_OBJECT('supplyDropV', supplyDropV, 'groundDropV', groundDropV, 'contactDropV', 0.1,
  'order', 'best-value', 'waveform', 'with-supply', 'directFeed', 'with-diagram', 'pumpWeight', 0.95)`;

const CHANGES = [
  `CREATE TABLE system_lines (id CHAR(36) NOT NULL PRIMARY KEY, shopId CHAR(36) NOT NULL,
    retired TINYINT(1) NOT NULL DEFAULT 0, FOREIGN KEY (shopId) REFERENCES shops (id))`,
  `CREATE TABLE system_versions (lineId CHAR(36) NOT NULL, version INT NOT NULL, profile JSON NOT NULL,
    madeBy CHAR(36) NOT NULL, madeAt DATETIME(3) NOT NULL, PRIMARY KEY (lineId, version),
    FOREIGN KEY (lineId) REFERENCES system_lines (id))`,
  'ALTER TABLE evidence ADD how JSON NULL',
  'ALTER TABLE shops ADD rules JSON NULL',
  `UPDATE shops SET rules = ${RULES}`,
  'ALTER TABLE shops MODIFY rules JSON NOT NULL, DROP supplyDropV, DROP groundDropV',
];

/** The shop's own systems, all of its rules, and how a reading was taken. */
export class SystemsAndRules1764400000000 implements MigrationInterface {
  async up(runner: QueryRunner): Promise<void> {
    for (const change of CHANGES) await runner.query(change);
  }

  async down(runner: QueryRunner): Promise<void> {
    await runner.query(
      'ALTER TABLE shops ADD supplyDropV DOUBLE NOT NULL DEFAULT 0.5, ADD groundDropV DOUBLE NOT NULL DEFAULT 0.2',
    );
    await runner.query(
      `UPDATE shops SET supplyDropV = JSON_VALUE(rules, '$.supplyDropV'), groundDropV = JSON_VALUE(rules, '$.groundDropV')`,
    );
    for (const change of [
      'ALTER TABLE shops DROP rules',
      'ALTER TABLE evidence DROP how',
      'DROP TABLE system_versions',
      'DROP TABLE system_lines',
    ]) {
      await runner.query(change);
    }
  }
}
