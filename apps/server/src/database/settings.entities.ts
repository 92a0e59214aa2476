import { Column, Entity, PrimaryColumn } from 'typeorm';

/** The few facts about this installation itself. */
@Entity('settings')
export class Setting {
  @PrimaryColumn({ length: 40 }) name: string;
  @Column({ length: 190 }) value: string;
}
