import type { ScaledTool } from '@jarro/core';
import { Column, Entity, PrimaryGeneratedColumn } from 'typeorm';
import { NOW } from '../database/now.js';

/** A clamp or transducer of the shop's own. */
@Entity('tools')
export class Tool implements ScaledTool {
  @PrimaryGeneratedColumn('uuid') id: string;
  @Column('char', { length: 36 }) shopId: string;
  @Column({ type: 'varchar', length: 12 }) kind: ScaledTool['kind'];
  @Column({ length: 60 }) name: string;
  @Column('double') voltsPerUnit: number;
  @Column('double') zeroV: number;
  @Column('datetime', NOW) usedAt: Date;
}
