import { createHash, randomUUID } from 'node:crypto';
import type { RemovalValue } from '@jarro/core';
import type { EntityManager } from 'typeorm';
import { EvidenceRecord } from '../evidence/evidence.entities.js';

export const FIRST_HASH = '0'.repeat(64);

/** What is sealed of a link, in this order. */
export type EvidenceContent = Omit<EvidenceRecord, 'previousHash' | 'hash'>;

/** SHA-256 over a link's content and its predecessor's hash, so that a later change to any link shows. */
export function evidenceHash(previousHash: string, content: object): string {
  const { id, caseId, sequence, kind, at, value, keyState, faultPresent, how, takenBy, takenAt } =
    content as EvidenceContent;
  const common = { id, caseId, sequence, kind, at, value, keyState, faultPresent, takenBy, takenAt };
  // Links from before readings said how they were taken keep their seals.
  const sealed = how ? { ...common, how } : common;
  return createHash('sha256').update(previousHash).update(JSON.stringify(sealed)).digest('hex');
}

export type NewEvidence = Pick<EvidenceContent, 'kind' | 'at' | 'value' | 'takenBy'> &
  Partial<Pick<EvidenceContent, 'id' | 'keyState' | 'faultPresent' | 'how' | 'takenAt'>>;

/** Where a chain ends. */
export type Head = Pick<EvidenceRecord, 'sequence' | 'hash'>;

/** Appends one link to the end of a case's chain; only whoever holds the case's lock may. */
export async function appendLink(
  manager: EntityManager,
  caseId: string,
  head: Head | undefined,
  added: NewEvidence,
): Promise<EvidenceRecord> {
  const content: EvidenceContent = {
    id: added.id ?? randomUUID(),
    caseId,
    sequence: (head?.sequence ?? 0) + 1,
    kind: added.kind,
    at: added.at,
    value: added.value,
    keyState: added.keyState ?? null,
    faultPresent: added.faultPresent ?? null,
    how: added.how ?? null,
    takenBy: added.takenBy,
    takenAt: added.takenAt ?? new Date(),
  };
  const previousHash = head?.hash ?? FIRST_HASH;
  const record = { ...content, previousHash, hash: evidenceHash(previousHash, content) };
  // TypeORM's insert type can't carry `unknown` JSON.
  await manager.getRepository(EvidenceRecord).insert(record as never);
  return record;
}

/** SHA-256 over what a link holds alone, for one whose words were taken out: its place in the chain keeps the old hash. */
export function remainderHash(content: object): string {
  return evidenceHash('', content);
}

/** What was taken out of a case on request. */
export interface Removed {
  /** Links by id, with the hash of what is left of them. */
  readonly entries: ReadonlyMap<string, string>;
  /** Photos whose pictures are gone. */
  readonly photos: ReadonlySet<string>;
}

/** @param links oldest first: what was taken out later holds */
export function removedFrom(links: readonly EvidenceRecord[]): Removed {
  const removals = links.filter(({ kind }) => kind === 'removal').map(({ value }) => value as RemovalValue);
  return {
    entries: new Map(removals.flatMap(({ entries }) => Object.entries(entries))),
    photos: new Set(removals.flatMap(({ photos }) => photos)),
  };
}

/**
 * Recomputes a case's whole chain, oldest first. A link whose words were taken out is held against the hash that its removal
 * sealed; a removal itself follows from what it holds, so nobody without the signing key can put one there.
 * @returns the places of the links that don't follow from what they hold and the one before
 */
export function brokenLinks(links: readonly EvidenceRecord[]): number[] {
  const { entries } = removedFrom(links);
  let previous = FIRST_HASH;
  return links.flatMap((link, i) => {
    const left = link.kind === 'removal' ? undefined : entries.get(link.id);
    const unchanged = left === undefined ? link.hash === evidenceHash(previous, link) : left === remainderHash(link);
    const holds = link.sequence === i + 1 && link.previousHash === previous && unchanged;
    previous = link.hash;
    return holds ? [] : [link.sequence];
  });
}
