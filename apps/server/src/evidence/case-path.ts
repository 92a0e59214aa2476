import { profileOf, type SystemProfile } from '@jarro/core';
import { In, type EntityManager } from 'typeorm';
import { EvidenceRecord } from './evidence.entities.js';

/** The path that a case works on, by the links that say so. */
export async function casePath(manager: EntityManager, caseId: string): Promise<SystemProfile> {
  const links = await manager
    .getRepository(EvidenceRecord)
    .find({ where: { caseId, kind: In(['system', 'intake', 'void']) }, order: { sequence: 'ASC' } });
  return profileOf(links);
}
