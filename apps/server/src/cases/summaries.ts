import { ENTRY_KINDS } from '@jarro/core';
import type { EntityManager } from 'typeorm';

const KINDS = ENTRY_KINDS.map((kind) => `'${kind}'`).join(', ');
const COLUMNS = [
  'shopId',
  'number',
  'stage',
  'isOpen',
  'openedAt',
  'openedBy',
  'complaint',
  'model',
  'year',
  'engine',
  'plate',
  'captures',
  'readings',
  'verdict',
  'repaired',
  'comebackOf',
  'changedAt',
  'version',
] as const;

const INTO = `INSERT INTO case_summaries (caseId, ${COLUMNS.join(', ')})`;
const ANEW = `ON DUPLICATE KEY UPDATE ${COLUMNS.map((column) => `${column} = VALUES(${column})`).join(', ')}`;
const STANDS = `NOT EXISTS (SELECT 1 FROM evidence v WHERE v.caseId = e.caseId AND v.kind = 'void' AND v.at = e.id)`;

/** What the summaries of cases are made of. @param which condition on `cases.id` */
const summaryOf = (which: string) => `
  SELECT cases.id, cases.shopId, cases.number, cases.stage, cases.stage = 'open', cases.openedAt, cases.openedBy,
    cases.complaint, vehicles.model, vehicles.year, vehicles.engine, vehicles.plate,
    (SELECT COUNT(*) FROM evidence e WHERE e.caseId = cases.id AND e.kind = 'capture' AND ${STANDS}) AS captures,
    (SELECT COUNT(*) FROM evidence e WHERE e.caseId = cases.id AND e.kind IN (${KINDS}) AND e.keyState IS NOT NULL
      AND ${STANDS}) AS readings,
    (SELECT JSON_VALUE(e.value, '$.kind') FROM evidence e WHERE e.caseId = cases.id AND e.kind = 'verdict'
      ORDER BY e.sequence DESC LIMIT 1) AS verdict,
    cases.stage <> 'open' AND EXISTS (SELECT 1 FROM evidence e WHERE e.caseId = cases.id AND e.kind = 'repair'
      AND e.at = 'done' AND e.sequence > (SELECT MAX(v.sequence) FROM evidence v WHERE v.caseId = cases.id
      AND v.kind = 'verdict')) AS repaired,
    cases.comebackOf,
    UTC_TIMESTAMP(3) AS changedAt, cases.version
  FROM cases JOIN vehicles ON vehicles.id = cases.vehicleId WHERE ${which}`;

/** Writes the summaries of all cases, in one statement. */
export const SUMMARISE_ALL = `${INTO} ${summaryOf('1 = 1')} ${ANEW}`;

/**
 * Brings one case's summary up to date, in the transaction that changes the case. Read and written apart: read by an INSERT
 * the evidence would be locked against other cases' entries.
 */
export async function summarise(manager: EntityManager, caseId: string): Promise<void> {
  const [row] = await manager.query<Record<string, unknown>[]>(summaryOf('cases.id = ?'), [caseId]);
  await manager.query(`${INTO} VALUES (?) ${ANEW}`, [Object.values(row)]);
}
