import { createHash } from 'node:crypto';
import type { EntityManager } from 'typeorm';
import { Case } from './entities.js';

const FIRST = '0'.repeat(64);

/** SHA-256 over a record's content and its predecessor, so that a later change to any record shows. */
export function evidenceHash(previousHash: string, content: unknown): string {
  return createHash('sha256').update(previousHash).update(JSON.stringify(content)).digest('hex');
}

/**
 * The newest hash of a case's evidence, with the case locked so that two writers can't take the same predecessor.
 * Call within a transaction.
 */
export async function lockChain(manager: EntityManager, caseId: string): Promise<string> {
  await manager.getRepository(Case).findOneOrFail({ where: { id: caseId }, lock: { mode: 'pessimistic_write' } });
  const rows: { hash: string }[] = await manager.query(
    `SELECT hash FROM (
       SELECT hash, takenAt AS at FROM readings WHERE caseId = ?
       UNION ALL SELECT hash, takenAt FROM captures WHERE caseId = ?
       UNION ALL SELECT hash, decidedAt FROM verdicts WHERE caseId = ?) AS chain
     ORDER BY at DESC, hash LIMIT 1`,
    [caseId, caseId, caseId],
  );
  return rows[0]?.hash ?? FIRST;
}
