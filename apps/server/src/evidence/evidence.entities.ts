import type { EvidenceKind } from '@jarro/api-types';
import type { HowTaken, KeyState } from '@jarro/core';
import { Column, Entity, PrimaryColumn } from 'typeorm';

/**
 * One link of a case's chain of evidence. Never changed and never deleted: a wrong one is voided by a later link.
 * `value` is what was found; captures, photos and verdicts keep their bulk in tables of their own under the same id.
 */
@Entity('evidence')
export class EvidenceRecord {
  @PrimaryColumn('char', { length: 36 }) id: string;
  @Column('char', { length: 36 }) caseId: string;
  /** 1, 2, 3 ... within the case. */
  @Column('int') sequence: number;
  @Column({ type: 'varchar', length: 20 }) kind: EvidenceKind;
  /** Where or of what; of a void, the id of what it voids. */
  @Column({ length: 60 }) at: string;
  @Column('json') value: unknown;
  @Column('varchar', { length: 20, nullable: true }) keyState: KeyState | null;
  @Column('boolean', { nullable: true }) faultPresent: boolean | null;
  /** As far as a reading wasn't taken the usual way. */
  @Column('json', { nullable: true }) how: HowTaken | null;
  @Column('char', { length: 36 }) takenBy: string;
  @Column('datetime', { precision: 3 }) takenAt: Date;
  @Column('char', { length: 64 }) previousHash: string;
  @Column('char', { length: 64 }) hash: string;
}
