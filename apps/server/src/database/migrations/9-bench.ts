import type { MigrationInterface, QueryRunner } from 'typeorm';

/** A short code that changes the person at a shared tablet, and the shop's clamps and transducers. */
export class Bench1765200000000 implements MigrationInterface {
  async up(runner: QueryRunner): Promise<void> {
    await runner.query('ALTER TABLE users ADD pinHash VARCHAR(255) NULL, ADD pinMisses INT NOT NULL DEFAULT 0');
    await runner.query(`CREATE TABLE tools (id CHAR(36) NOT NULL PRIMARY KEY, shopId CHAR(36) NOT NULL,
      kind VARCHAR(12) NOT NULL, name VARCHAR(60) NOT NULL, voltsPerUnit DOUBLE NOT NULL, zeroV DOUBLE NOT NULL,
      usedAt DATETIME(3) NOT NULL DEFAULT CURRENT_TIMESTAMP(3), UNIQUE named (shopId, kind, name),
      FOREIGN KEY (shopId) REFERENCES shops (id))`);
  }

  async down(runner: QueryRunner): Promise<void> {
    await runner.query('DROP TABLE tools');
    await runner.query('ALTER TABLE users DROP pinHash, DROP pinMisses');
  }
}
