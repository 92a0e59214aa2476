import { Column, Entity, PrimaryColumn } from 'typeorm';

/** A signed-in browser. The cookie holds a random token; only its hash is stored. */
@Entity('sessions')
export class Session {
  @PrimaryColumn('char', { length: 64 }) tokenHash: string;
  @Column('char', { length: 36 }) userId: string;
  @Column('datetime', { precision: 3 }) expiresAt: Date;
}

/** How often something was tried that can be guessed, until when. */
@Entity('attempts')
export class Attempt {
  @PrimaryColumn('char', { length: 64 }) name: string;
  @Column('int') count: number;
  @Column('datetime', { precision: 3 }) until: Date;
}
