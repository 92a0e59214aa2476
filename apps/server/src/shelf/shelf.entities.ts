import type { KnownGood, SystemKind } from '@jarro/core';
import { Column, CreateDateColumn, Entity, PrimaryGeneratedColumn } from 'typeorm';
import { NOW } from '../database/now.js';

/** A capture of a pump that was proven good, kept to hold others against. */
@Entity('shelf_entries')
export class ShelfEntry {
  @PrimaryGeneratedColumn('uuid') id: string;
  @Column('char', { length: 36 }) shopId: string;
  /** Where it comes from. */
  @Column('char', { length: 36 }) caseId: string;
  @Column('char', { length: 36, unique: true }) captureId: string;
  @Column({ length: 120 }) label: string;
  /** The system of the shop's own that it is of; null where the case had none. */
  @Column('char', { length: 36, nullable: true }) systemLine: string | null;
  @Column({ length: 120 }) systemName: string;
  @Column({ type: 'varchar', length: 30 }) systemKind: SystemKind;
  @Column('json') numbers: KnownGood;
  /** A, by equal steps of one turn; null where the turn wasn't told. */
  @Column('json', { nullable: true }) turnA: readonly number[] | null;
  @Column('char', { length: 36 }) addedBy: string;
  @CreateDateColumn(NOW) addedAt: Date;
  /** Taken off the shelf: it stays on record and is held against nothing. */
  @Column('boolean', { default: false }) retired: boolean;
}
