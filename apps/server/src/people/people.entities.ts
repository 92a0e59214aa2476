import type { PressureUnitName, UserRole } from '@jarro/api-types';
import type { HouseRules } from '@jarro/core';
import { Column, Entity, PrimaryGeneratedColumn, VersionColumn } from 'typeorm';

@Entity('shops')
export class Shop {
  @PrimaryGeneratedColumn('uuid') id: string;
  @Column({ length: 120 }) name: string;
  @Column({ length: 120 }) town: string;
  @Column('json') rules: HouseRules;
  @Column({ type: 'varchar', length: 4, default: 'kPa' }) pressureUnit: PressureUnitName;
  /** An hour's labour, in the shop's currency. */
  @Column('double', { default: 0 }) labourRate: number;
  @Column({ length: 6, default: '' }) currency: string;
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
  /** Of the short code that changes the person at a shared tablet; null for whoever has none. */
  @Column('varchar', { length: 255, nullable: true }) pinHash: string | null;
  /** Wrong codes in a row: too many, and it needs the password. */
  @Column('int', { default: 0 }) pinMisses: number;
  /** People who left keep their name on their evidence and can't sign in. */
  @Column('boolean', { default: true }) active: boolean;
  /** Own choice over the shop's. */
  @Column('varchar', { length: 4, nullable: true }) pressureUnit: PressureUnitName | null;
}
