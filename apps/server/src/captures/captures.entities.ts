import type { StoredAnalysis, StoredChannel } from '@jarro/api-types';
import { Column, CreateDateColumn, Entity, PrimaryColumn, PrimaryGeneratedColumn } from 'typeorm';
import { NOW } from '../database/now.js';

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

/** Up to 1 MiB of one level of one channel: 32-bit floats, little endian. Level 0 holds samples, higher ones min-max pairs. */
@Entity('capture_chunks')
export class CaptureChunk {
  @PrimaryColumn('char', { length: 36 }) captureId: string;
  @PrimaryColumn('tinyint') channel: number;
  @PrimaryColumn('tinyint') level: number;
  @PrimaryColumn('int') part: number;
  @Column('mediumblob') data: Buffer;
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

@Entity('analyses')
export class AnalysisRecord {
  @PrimaryGeneratedColumn('uuid') id: string;
  @Column('char', { length: 36 }) captureId: string;
  @Column({ length: 20 }) coreVersion: string;
  @Column('json') result: StoredAnalysis;
  @CreateDateColumn(NOW) madeAt: Date;
}
