import type { MigrationInterface, QueryRunner } from 'typeorm';

/** Channels that are worked out of a capture's own. */
export class Math1766500000000 implements MigrationInterface {
  async up(runner: QueryRunner): Promise<void> {
    await runner.query(`CREATE TABLE math_channels (captureId CHAR(36) NOT NULL, channel TINYINT NOT NULL,
      kind VARCHAR(20) NOT NULL, ofChannel TINYINT NOT NULL, withChannel TINYINT NULL, cutoffHz DOUBLE NULL,
      pendingSince DATETIME(3) NULL, PRIMARY KEY (captureId, channel), FOREIGN KEY (captureId) REFERENCES captures (id))`);
    await runner.query(`CREATE TABLE math_chunks (captureId CHAR(36) NOT NULL, channel TINYINT NOT NULL,
      level TINYINT NOT NULL, part INT NOT NULL, data MEDIUMBLOB NOT NULL, PRIMARY KEY (captureId, channel, level, part),
      FOREIGN KEY (captureId, channel) REFERENCES math_channels (captureId, channel) ON DELETE CASCADE)`);
  }

  async down(runner: QueryRunner): Promise<void> {
    await runner.query('DROP TABLE math_chunks');
    await runner.query('DROP TABLE math_channels');
  }
}
