import { Column, Entity, PrimaryColumn } from 'typeorm';

/** A picture as it was taken, in parts of up to 1 MiB; part -1 is its thumbnail. */
@Entity('photo_parts')
export class PhotoPart {
  @PrimaryColumn('char', { length: 36 }) photoId: string;
  @PrimaryColumn('int') part: number;
  @Column('mediumblob') data: Buffer;
}
