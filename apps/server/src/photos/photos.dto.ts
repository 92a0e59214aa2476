import { STAGES, type Stage } from '@jarro/core';
import { IsIn, IsString, IsUUID, Length, MaxLength } from 'class-validator';
import { MayHaveWaited } from '../evidence/may-have-waited.js';
import { Maybe } from '../http/maybe.js';

/** Travels in the query, since the body is the picture itself. */
export class AddPhotoDto extends MayHaveWaited {
  @Length(1, 200)
  fileName: string;

  @IsString()
  @MaxLength(200)
  caption: string;

  @IsIn(STAGES)
  stage: Stage;

  /** A station of the case's path that it shows. */
  @Maybe()
  @Length(1, 60)
  station?: string;

  /** An entry that it proves. */
  @Maybe()
  @IsUUID()
  entry?: string;
}
