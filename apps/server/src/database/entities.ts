import type { Analysis, DropLedger, LadderStation, PumpGate, Role } from '@jarro/core';
import { Column, CreateDateColumn, Entity, PrimaryColumn, PrimaryGeneratedColumn, VersionColumn } from 'typeorm';

export type UserRole = 'technician' | 'lead' | 'adviser';
export type CaseStage = 'open' | 'decided' | 'closed';
export type ReadingKind = LadderStation | 'current';
export type KeyState = 'off' | 'prime' | 'cranking' | 'idle';
export type VerdictKind = 'replace-pump' | 'repair-supply' | 'repair-ground' | 'no-fault-found';

const NOW = { precision: 3, default: () => 'CURRENT_TIMESTAMP(3)' } as const;

@Entity('shops')
export class Shop {
  @PrimaryGeneratedColumn('uuid') id: string;
  @Column({ length: 120 }) name: string;
  @Column({ length: 120 }) town: string;
  @Column('double') supplyDropV: number;
  @Column('double') groundDropV: number;
}

@Entity('users')
export class User {
  @PrimaryGeneratedColumn('uuid') id: string;
  @Column('char', { length: 36 }) shopId: string;
  @Column({ length: 120 }) name: string;
  @Column({ length: 190, unique: true }) email: string;
  @Column({ length: 255 }) passwordHash: string;
  @Column({ type: 'varchar', length: 20 }) role: UserRole;
  @Column('int', { default: 0 }) failedSignIns: number;
  @Column('datetime', { precision: 3, nullable: true }) lockedUntil: Date | null;
}

/** A signed-in browser. The cookie holds a random token; only its hash is stored. */
@Entity('sessions')
export class Session {
  @PrimaryColumn('char', { length: 64 }) tokenHash: string;
  @Column('char', { length: 36 }) userId: string;
  @Column('datetime', { precision: 3 }) expiresAt: Date;
}

@Entity('vehicles')
export class Vehicle {
  @PrimaryGeneratedColumn('uuid') id: string;
  @Column('char', { length: 36 }) shopId: string;
  @Column({ length: 120 }) model: string;
  @Column('smallint', { nullable: true }) year: number | null;
  @Column({ length: 60 }) engine: string;
  @Column({ length: 20 }) plate: string;
}

@Entity('cases')
export class Case {
  @PrimaryGeneratedColumn('uuid') id: string;
  @Column('int') number: number;
  @Column('char', { length: 36 }) shopId: string;
  @Column('char', { length: 36 }) vehicleId: string;
  @Column({ length: 500 }) complaint: string;
  @Column({ type: 'varchar', length: 20 }) stage: CaseStage;
  @Column('char', { length: 36 }) openedBy: string;
  @CreateDateColumn(NOW) openedAt: Date;
  @VersionColumn() version: number;
}

/** Evidence: never edited. A wrong one is voided with a reason and stays on record. */
@Entity('readings')
export class Reading {
  @PrimaryGeneratedColumn('uuid') id: string;
  @Column('char', { length: 36 }) caseId: string;
  @Column({ type: 'varchar', length: 20 }) kind: ReadingKind;
  /** Volts from battery -, or amperes. */
  @Column('double') value: number;
  @Column({ type: 'varchar', length: 20 }) keyState: KeyState;
  @Column('boolean') faultPresent: boolean;
  @Column('char', { length: 36 }) takenBy: string;
  @Column('datetime', { precision: 3 }) takenAt: Date;
  @Column('datetime', { precision: 3, nullable: true }) voidedAt: Date | null;
  @Column('varchar', { length: 300, nullable: true }) voidReason: string | null;
  @Column('char', { length: 36, nullable: true }) voidedBy: string | null;
  @Column('char', { length: 64 }) previousHash: string;
  @Column('char', { length: 64 }) hash: string;
}

export interface StoredChannel {
  readonly name: string;
  readonly role: Role;
  readonly unit: string;
}

@Entity('captures')
export class CaptureRecord {
  @PrimaryGeneratedColumn('uuid') id: string;
  @Column('char', { length: 36 }) caseId: string;
  @Column({ length: 200 }) fileName: string;
  @Column({ length: 120 }) label: string;
  @Column('int') sizeBytes: number;
  @Column('char', { length: 64 }) sha256: string;
  @Column('double') sampleRateHz: number;
  @Column('int') samples: number;
  @Column('double') startS: number;
  @Column('json') channels: StoredChannel[];
  @Column('int') pyramidLevels: number;
  @Column('char', { length: 36 }) takenBy: string;
  @CreateDateColumn(NOW) takenAt: Date;
  @Column('datetime', { precision: 3, nullable: true }) voidedAt: Date | null;
  @Column('varchar', { length: 300, nullable: true }) voidReason: string | null;
  @Column('char', { length: 36, nullable: true }) voidedBy: string | null;
  @Column('char', { length: 64 }) previousHash: string;
  @Column('char', { length: 64 }) hash: string;
}

/** Up to 1 MiB of one level of one channel: 32-bit floats, little endian. Level 0 holds samples, higher ones min-max pairs. */
@Entity('capture_chunks')
export class CaptureChunk {
  @PrimaryColumn('char', { length: 36 }) captureId: string;
  @PrimaryColumn('tinyint') channel: number;
  @PrimaryColumn('tinyint') level: number;
  @PrimaryColumn('int') part: number;
  @Column('mediumblob') data: Buffer;
}

export type CaptureStage = 'receiving' | 'measuring' | 'storing';

@Entity('capture_jobs')
export class CaptureJob {
  @PrimaryColumn('varchar', { length: 36 }) id: string;
  @Column('char', { length: 36 }) caseId: string;
  @Column({ type: 'varchar', length: 12 }) stage: CaptureStage;
  /** Part of the stage that is done, 0 to 1. */
  @Column('double') share: number;
  @Column('datetime', { precision: 3 }) changedAt: Date;
}

@Entity('analyses')
export class AnalysisRecord {
  @PrimaryGeneratedColumn('uuid') id: string;
  @Column('char', { length: 36 }) captureId: string;
  @Column({ length: 20 }) coreVersion: string;
  @Column('json') result: StoredAnalysis;
  @CreateDateColumn(NOW) madeAt: Date;
}

export type StoredAnalysis = Omit<Analysis, 'turnA'> & { readonly turnA?: readonly number[] };

@Entity('verdicts')
export class Verdict {
  @PrimaryGeneratedColumn('uuid') id: string;
  @Column('char', { length: 36 }) caseId: string;
  @Column({ type: 'varchar', length: 30 }) kind: VerdictKind;
  @Column({ length: 1000 }) statement: string;
  /** The gate and the drops as they stood. */
  @Column('json') gate: PumpGate;
  @Column('json') ledger: DropLedger;
  @Column('varchar', { length: 500, nullable: true }) overrideReason: string | null;
  @Column('char', { length: 36 }) decidedBy: string;
  @Column('datetime', { precision: 3 }) decidedAt: Date;
  @Column('char', { length: 64 }) previousHash: string;
  @Column('char', { length: 64 }) hash: string;
}

@Entity('audit_log')
export class AuditEntry {
  @PrimaryGeneratedColumn('increment', { type: 'bigint' }) id: string;
  @Column('char', { length: 36, nullable: true }) shopId: string | null;
  @Column('char', { length: 36, nullable: true }) userId: string | null;
  @Column({ length: 40 }) action: string;
  @Column({ length: 190 }) target: string;
  @CreateDateColumn(NOW) at: Date;
}

export const ENTITIES = [
  Shop,
  User,
  Session,
  Vehicle,
  Case,
  Reading,
  CaptureRecord,
  CaptureChunk,
  CaptureJob,
  AnalysisRecord,
  Verdict,
  AuditEntry,
];
