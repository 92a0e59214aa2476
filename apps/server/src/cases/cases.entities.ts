import type { CaseStage } from '@jarro/api-types';
import { Column, CreateDateColumn, Entity, PrimaryGeneratedColumn, VersionColumn } from 'typeorm';
import { NOW } from '../database/now.js';

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
  /** The case that this vehicle was in with the same complaint before; null for a first visit. */
  @Column('char', { length: 36, nullable: true }) comebackOf: string | null;
  /** Names by id of those who worked on it elsewhere; null for a case that was opened here. */
  @Column('json', { nullable: true }) people: Readonly<Record<string, string>> | null;
  @VersionColumn() version: number;
}
