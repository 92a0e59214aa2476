import type { SystemProfile } from '@jarro/core';
import { Column, Entity, PrimaryColumn, PrimaryGeneratedColumn } from 'typeorm';

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
