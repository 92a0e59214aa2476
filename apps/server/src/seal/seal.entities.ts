import { Column, Entity, PrimaryColumn } from 'typeorm';
import type { CaseFacts } from '../database/case-facts.js';

/** Where a case's chain ends and what stands beside it, signed. */
@Entity('case_seals')
export class CaseSeal {
  @PrimaryColumn('char', { length: 36 }) caseId: string;
  @Column('json') facts: CaseFacts;
  @Column('char', { length: 16 }) keyId: string;
  @Column('char', { length: 64 }) signature: string;
}
