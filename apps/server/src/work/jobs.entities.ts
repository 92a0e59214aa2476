import type { JobProgress, JobStage } from '@jarro/api-types';
import { Column, Entity, PrimaryColumn } from 'typeorm';

export type JobKind = 'capture' | 'measure-again' | 'import' | 'report' | 'backup';
export type JobState = JobProgress['state'];

/** Why a job failed, as it is answered: the status and what to do. */
export interface JobFailure {
  readonly status: number;
  readonly detail: string;
}

/** Work that takes longer than a request may, done by whichever process on the database is free. */
@Entity('jobs')
export class Job {
  @PrimaryColumn('varchar', { length: 36 }) id: string;
  @Column({ type: 'varchar', length: 20 }) kind: JobKind;
  /** Null where it is to make one. */
  @Column('char', { length: 36, nullable: true }) caseId: string | null;
  /** For whom it is done. */
  @Column('char', { length: 36 }) userId: string;
  @Column({ type: 'varchar', length: 12 }) state: JobState;
  @Column({ type: 'varchar', length: 12 }) stage: JobStage;
  /** Part of the stage that is done, 0 to 1. */
  @Column('double') share: number;
  /** What to do, by kind; null until all of it came in. */
  @Column('json', { nullable: true }) task: unknown;
  /** What it came to: the result of one that is done, why one failed. */
  @Column('json', { nullable: true }) outcome: unknown;
  @Column('boolean', { default: false }) cancelled: boolean;
  /** How often it was begun: a process that dies leaves its job to another. */
  @Column('int', { default: 0 }) attempts: number;
  /** Who has it, until when; another may take it then. */
  @Column('char', { length: 36, nullable: true }) owner: string | null;
  @Column('datetime', { precision: 3, nullable: true }) until: Date | null;
  @Column('datetime', { precision: 3 }) changedAt: Date;
}

/** The case that a job is of. @throws Error for one that is of none, which its kind rules out */
export function caseOf({ id, caseId }: Job): string {
  if (caseId === null) throw new Error(`Job ${id} is of no case.`);
  return caseId;
}
