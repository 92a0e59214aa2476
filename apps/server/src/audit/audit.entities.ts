import { Column, CreateDateColumn, Entity, PrimaryGeneratedColumn } from 'typeorm';
import { NOW } from '../database/now.js';

@Entity('audit_log')
export class AuditEntry {
  @PrimaryGeneratedColumn('increment', { type: 'bigint' }) id: string;
  @Column('char', { length: 36, nullable: true }) shopId: string | null;
  @Column('char', { length: 36, nullable: true }) userId: string | null;
  @Column({ length: 40 }) action: string;
  @Column({ length: 190 }) target: string;
  @CreateDateColumn(NOW) at: Date;
}
