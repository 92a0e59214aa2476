import type { MathKind } from '@jarro/core';
import { Column, Entity, PrimaryColumn } from 'typeorm';

/** A channel worked out of a capture's own: a way of looking at it, no evidence, and worked out anew at any time. */
@Entity('math_channels')
export class MathRecord {
  @PrimaryColumn('char', { length: 36 }) captureId: string;
  /** Its place among those of the capture. */
  @PrimaryColumn('tinyint') channel: number;
  @Column({ type: 'varchar', length: 20 }) kind: MathKind;
  @Column('tinyint') ofChannel: number;
  @Column('tinyint', { nullable: true }) withChannel: number | null;
  @Column('double', { nullable: true }) cutoffHz: number | null;
  /** Since when its samples are being written; null once they are. */
  @Column('datetime', { precision: 3, nullable: true }) pendingSince: Date | null;
}

/** As `capture_chunks` are. */
@Entity('math_chunks')
export class MathChunk {
  @PrimaryColumn('char', { length: 36 }) captureId: string;
  @PrimaryColumn('tinyint') channel: number;
  @PrimaryColumn('tinyint') level: number;
  @PrimaryColumn('int') part: number;
  @Column('mediumblob') data: Buffer;
}
