import type { CaseFacts } from './case-facts.js';
import type {
  CaseStage,
  EvidenceKind,
  PressureUnitName,
  StoredAnalysis,
  StoredChannel,
  UserRole,
} from '@jarro/api-types';
import type { HouseRules, HowTaken, KeyState, SystemProfile } from '@jarro/core';
import { Column, CreateDateColumn, Entity, PrimaryColumn, PrimaryGeneratedColumn, VersionColumn } from 'typeorm';

const NOW = { precision: 3, default: () => 'CURRENT_TIMESTAMP(3)' } as const;

@Entity('shops')
export class Shop {
  @PrimaryGeneratedColumn('uuid') id: string;
  @Column({ length: 120 }) name: string;
  @Column({ length: 120 }) town: string;
  @Column('json') rules: HouseRules;
  @Column({ type: 'varchar', length: 4, default: 'kPa' }) pressureUnit: PressureUnitName;
  @VersionColumn() version: number;
}

@Entity('users')
export class User {
  @PrimaryGeneratedColumn('uuid') id: string;
  @Column('char', { length: 36 }) shopId: string;
  @Column({ length: 120 }) name: string;
  @Column({ length: 190, unique: true }) email: string;
  @Column({ length: 255 }) passwordHash: string;
  @Column({ type: 'varchar', length: 20 }) role: UserRole;
  /** People who left keep their name on their evidence and can't sign in. */
  @Column('boolean', { default: true }) active: boolean;
  /** Own choice over the shop's. */
  @Column('varchar', { length: 4, nullable: true }) pressureUnit: PressureUnitName | null;
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

/** Where a case's chain ends and what stands beside it, signed. */
@Entity('case_seals')
export class CaseSeal {
  @PrimaryColumn('char', { length: 36 }) caseId: string;
  @Column('json') facts: CaseFacts;
  @Column('char', { length: 16 }) keyId: string;
  @Column('char', { length: 64 }) signature: string;
}

@Entity('captures')
export class CaptureRecord {
  /** The id of its evidence. */
  @PrimaryColumn('char', { length: 36 }) id: string;
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
  /** Since when its samples are being written; null once its link stands. Until then it isn't there for anyone. */
  @Column('datetime', { precision: 3, nullable: true }) pendingSince: Date | null;
}

/** A file as it was sent, by its content. Pending until a link names it. */
@Entity('originals')
export class Original {
  @PrimaryColumn('char', { length: 64 }) sha256: string;
  @Column('bigint') sizeBytes: string;
  @Column('datetime', { precision: 3, nullable: true }) pendingSince: Date | null;
}

@Entity('original_parts')
export class OriginalPart {
  @PrimaryColumn('char', { length: 64 }) sha256: string;
  @PrimaryColumn('int') part: number;
  @Column('mediumblob') data: Buffer;
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

/** A picture as it was taken, in parts of up to 1 MiB; part -1 is its thumbnail. */
@Entity('photo_parts')
export class PhotoPart {
  @PrimaryColumn('char', { length: 36 }) photoId: string;
  @PrimaryColumn('int') part: number;
  @Column('mediumblob') data: Buffer;
}

/** A system of the shop's own, through all of its versions. */
@Entity('system_lines')
export class SystemLine {
  @PrimaryGeneratedColumn('uuid') id: string;
  @Column('char', { length: 36 }) shopId: string;
  /** Offered to no new case. */
  @Column('boolean', { default: false }) retired: boolean;
}

@Entity('system_versions')
export class SystemVersion {
  @PrimaryColumn('char', { length: 36 }) lineId: string;
  /** 1, 2, 3 ... within the line; never changed once kept. */
  @PrimaryColumn('int') version: number;
  @Column('json') profile: SystemProfile;
  @Column('char', { length: 36 }) madeBy: string;
  @Column('datetime', { precision: 3 }) madeAt: Date;
}

/** How often something was tried that can be guessed, until when. */
@Entity('attempts')
export class Attempt {
  @PrimaryColumn('char', { length: 64 }) name: string;
  @Column('int') count: number;
  @Column('datetime', { precision: 3 }) until: Date;
}

/** The few facts about this installation itself. */
@Entity('settings')
export class Setting {
  @PrimaryColumn({ length: 40 }) name: string;
  @Column({ length: 190 }) value: string;
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
  EvidenceRecord,
  CaseSeal,
  CaptureRecord,
  CaptureChunk,
  Original,
  OriginalPart,
  CaptureJob,
  AnalysisRecord,
  PhotoPart,
  SystemLine,
  SystemVersion,
  AuditEntry,
  Attempt,
  Setting,
];
