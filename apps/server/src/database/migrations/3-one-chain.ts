import type { MigrationInterface, QueryRunner } from 'typeorm';
import { evidenceHash } from '../evidence-chain.js';

const TABLES = [
  `CREATE TABLE evidence (id CHAR(36) NOT NULL PRIMARY KEY, caseId CHAR(36) NOT NULL, sequence INT NOT NULL,
    kind VARCHAR(20) NOT NULL, at VARCHAR(60) NOT NULL, value JSON NOT NULL, keyState VARCHAR(20) NULL,
    faultPresent TINYINT(1) NULL, takenBy CHAR(36) NOT NULL, takenAt DATETIME(3) NOT NULL, previousHash CHAR(64) NOT NULL,
    hash CHAR(64) NOT NULL, UNIQUE (caseId, sequence), FOREIGN KEY (caseId) REFERENCES cases (id))`,
  `CREATE TABLE photo_parts (photoId CHAR(36) NOT NULL, part INT NOT NULL, data MEDIUMBLOB NOT NULL,
    PRIMARY KEY (photoId, part), FOREIGN KEY (photoId) REFERENCES evidence (id))`,
  `CREATE TABLE settings (name VARCHAR(40) NOT NULL PRIMARY KEY, value VARCHAR(190) NOT NULL)`,
  `ALTER TABLE users ADD active TINYINT(1) NOT NULL DEFAULT 1, ADD pressureUnit VARCHAR(4) NULL`,
  `ALTER TABLE shops ADD pressureUnit VARCHAR(4) NOT NULL DEFAULT 'kPa', ADD version INT NOT NULL DEFAULT 1`,
];

const AFTERWARDS = [
  `ALTER TABLE captures DROP INDEX caseId, DROP voidedAt, DROP voidReason, DROP voidedBy, DROP previousHash, DROP hash,
    DROP takenBy, DROP takenAt, ADD INDEX (caseId)`,
  'DROP TABLE verdicts',
  'DROP TABLE readings',
];

interface OldRow {
  readonly source: 'reading' | 'capture' | 'verdict';
  readonly id: string;
  readonly caseId: string;
  readonly takenBy: string;
  readonly takenAt: Date;
  readonly voidedAt?: Date | null;
  readonly voidedBy?: string;
  readonly voidReason?: string;
  readonly [column: string]: unknown;
}

/** All evidence of a case into one table and one chain, voids included; what was stored before is linked anew. */
export class OneChain1764300000000 implements MigrationInterface {
  async up(runner: QueryRunner): Promise<void> {
    for (const table of TABLES) await runner.query(table);
    const rows = [
      ...((await runner.query(`SELECT 'reading' AS source, readings.* FROM readings`)) as OldRow[]),
      ...((await runner.query(`SELECT 'capture' AS source, captures.* FROM captures`)) as OldRow[]),
      ...((await runner.query(
        `SELECT 'verdict' AS source, decidedBy AS takenBy, decidedAt AS takenAt, verdicts.* FROM verdicts`,
      )) as OldRow[]),
    ];
    const links = rows.flatMap((row) => (row.voidedAt ? [toLink(row), toVoid(row)] : [toLink(row)]));
    links.sort((a, b) => a.takenAt.getTime() - b.takenAt.getTime());
    const heads = new Map<string, { sequence: number; hash: string }>();
    for (const link of links) {
      const head = heads.get(link.caseId) ?? { sequence: 0, hash: '0'.repeat(64) };
      const content = { ...link, sequence: head.sequence + 1 };
      const hash = evidenceHash(head.hash, content);
      const { id, caseId, sequence, kind, at, value, keyState, faultPresent, takenBy, takenAt } = content;
      await runner.query(
        `INSERT INTO evidence (id, caseId, sequence, kind, at, value, keyState, faultPresent, takenBy, takenAt, previousHash, hash)
         VALUES (?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?)`,
        [
          id,
          caseId,
          sequence,
          kind,
          at,
          JSON.stringify(value),
          keyState,
          faultPresent,
          takenBy,
          takenAt,
          head.hash,
          hash,
        ],
      );
      heads.set(link.caseId, { sequence, hash });
    }
    for (const change of AFTERWARDS) await runner.query(change);
  }

  down(): Promise<void> {
    return Promise.reject(new Error('Restore a backup from before: chained evidence is not taken apart again.'));
  }
}

const LADDER = new Set(['battery', 'fuse_output', 'relay_output', 'switch_output', 'pump_feed', 'pump_ground']);

function toLink(row: OldRow) {
  const { id, caseId, takenBy, takenAt } = row;
  const common = { id, caseId, keyState: null, faultPresent: null, takenBy, takenAt };
  const json = (column: unknown): unknown => (typeof column === 'string' ? JSON.parse(column) : column);
  if (row.source === 'reading') {
    const at = String(row.kind);
    const voltage = LADDER.has(at);
    return {
      ...common,
      kind: voltage ? 'voltage' : 'current',
      at: voltage ? at : 'pump',
      value: row.value,
      keyState: row.keyState,
      faultPresent: Boolean(row.faultPresent),
    };
  }
  if (row.source === 'capture') {
    const { fileName, label, sizeBytes, sha256 } = row;
    return { ...common, kind: 'capture', at: 'pump', value: { fileName, label, sizeBytes, sha256 } };
  }
  const { statement, overrideReason } = row;
  const value = { kind: row.kind, statement, gate: json(row.gate), ledger: json(row.ledger), overrideReason };
  return { ...common, kind: 'verdict', at: 'pump', value };
}

function toVoid({ id, caseId, voidedBy, voidedAt, voidReason }: OldRow) {
  return {
    id: `${id.slice(0, 24)}${'0'.repeat(12)}`,
    caseId,
    kind: 'void',
    at: id,
    value: { reason: voidReason },
    keyState: null,
    faultPresent: null,
    takenBy: voidedBy ?? '',
    takenAt: voidedAt ?? new Date(),
  };
}
