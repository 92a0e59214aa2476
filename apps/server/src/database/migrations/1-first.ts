import type { MigrationInterface, QueryRunner } from 'typeorm';

const ID = 'CHAR(36) NOT NULL';
const AT = 'DATETIME(3)';
const HASHES = 'previousHash CHAR(64) NOT NULL, hash CHAR(64) NOT NULL';
const VOID = `voidedAt ${AT} NULL, voidReason VARCHAR(300) NULL, voidedBy CHAR(36) NULL`;

const TABLES = [
  `CREATE TABLE shops (id ${ID} PRIMARY KEY, name VARCHAR(120) NOT NULL, town VARCHAR(120) NOT NULL,
    supplyDropV DOUBLE NOT NULL, groundDropV DOUBLE NOT NULL)`,
  `CREATE TABLE users (id ${ID} PRIMARY KEY, shopId ${ID}, name VARCHAR(120) NOT NULL, email VARCHAR(190) NOT NULL UNIQUE,
    passwordHash VARCHAR(255) NOT NULL, role VARCHAR(20) NOT NULL, failedSignIns INT NOT NULL DEFAULT 0, lockedUntil ${AT} NULL,
    FOREIGN KEY (shopId) REFERENCES shops (id))`,
  `CREATE TABLE sessions (tokenHash CHAR(64) NOT NULL PRIMARY KEY, userId ${ID}, expiresAt ${AT} NOT NULL,
    FOREIGN KEY (userId) REFERENCES users (id) ON DELETE CASCADE, INDEX (expiresAt))`,
  `CREATE TABLE vehicles (id ${ID} PRIMARY KEY, shopId ${ID}, model VARCHAR(120) NOT NULL, year SMALLINT NULL,
    engine VARCHAR(60) NOT NULL, plate VARCHAR(20) NOT NULL, FOREIGN KEY (shopId) REFERENCES shops (id))`,
  `CREATE TABLE cases (id ${ID} PRIMARY KEY, number INT NOT NULL, shopId ${ID}, vehicleId ${ID}, complaint VARCHAR(500) NOT NULL,
    stage VARCHAR(20) NOT NULL, openedBy ${ID}, openedAt ${AT} NOT NULL DEFAULT CURRENT_TIMESTAMP(3), version INT NOT NULL,
    UNIQUE (shopId, number), FOREIGN KEY (shopId) REFERENCES shops (id), FOREIGN KEY (vehicleId) REFERENCES vehicles (id))`,
  `CREATE TABLE readings (id ${ID} PRIMARY KEY, caseId ${ID}, kind VARCHAR(20) NOT NULL, value DOUBLE NOT NULL,
    keyState VARCHAR(20) NOT NULL, faultPresent TINYINT(1) NOT NULL, takenBy ${ID}, takenAt ${AT} NOT NULL, ${VOID}, ${HASHES},
    INDEX (caseId, takenAt), FOREIGN KEY (caseId) REFERENCES cases (id))`,
  `CREATE TABLE captures (id ${ID} PRIMARY KEY, caseId ${ID}, fileName VARCHAR(200) NOT NULL, label VARCHAR(120) NOT NULL,
    sizeBytes INT NOT NULL, sha256 CHAR(64) NOT NULL, sampleRateHz DOUBLE NOT NULL, samples INT NOT NULL, startS DOUBLE NOT NULL,
    channels JSON NOT NULL, pyramidLevels INT NOT NULL, takenBy ${ID}, takenAt ${AT} NOT NULL DEFAULT CURRENT_TIMESTAMP(3),
    ${VOID}, ${HASHES}, INDEX (caseId, takenAt), FOREIGN KEY (caseId) REFERENCES cases (id))`,
  `CREATE TABLE capture_chunks (captureId ${ID}, channel TINYINT NOT NULL, level TINYINT NOT NULL, part INT NOT NULL,
    data MEDIUMBLOB NOT NULL, PRIMARY KEY (captureId, channel, level, part),
    FOREIGN KEY (captureId) REFERENCES captures (id))`,
  `CREATE TABLE analyses (id ${ID} PRIMARY KEY, captureId ${ID}, coreVersion VARCHAR(20) NOT NULL, result JSON NOT NULL,
    madeAt ${AT} NOT NULL DEFAULT CURRENT_TIMESTAMP(3), FOREIGN KEY (captureId) REFERENCES captures (id))`,
  `CREATE TABLE verdicts (id ${ID} PRIMARY KEY, caseId ${ID}, kind VARCHAR(30) NOT NULL, statement VARCHAR(1000) NOT NULL,
    gate JSON NOT NULL, ledger JSON NOT NULL, overrideReason VARCHAR(500) NULL, decidedBy ${ID}, decidedAt ${AT} NOT NULL, ${HASHES},
    INDEX (caseId, decidedAt), FOREIGN KEY (caseId) REFERENCES cases (id))`,
  `CREATE TABLE audit_log (id BIGINT NOT NULL AUTO_INCREMENT PRIMARY KEY, shopId CHAR(36) NULL, userId CHAR(36) NULL,
    action VARCHAR(40) NOT NULL, target VARCHAR(190) NOT NULL, at ${AT} NOT NULL DEFAULT CURRENT_TIMESTAMP(3), INDEX (shopId, at))`,
];

export class First1764000000000 implements MigrationInterface {
  async up(runner: QueryRunner): Promise<void> {
    for (const table of TABLES) await runner.query(table);
  }

  async down(runner: QueryRunner): Promise<void> {
    for (const table of [...TABLES].reverse()) {
      await runner.query(`DROP TABLE ${/CREATE TABLE (\w+)/.exec(table)?.[1] ?? ''}`);
    }
  }
}
