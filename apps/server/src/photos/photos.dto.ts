import { STAGES, type Stage } from '@jarro/core';
import { IsIn, IsString, Length, MaxLength } from 'class-validator';

/** Travels in the query, since the body is the picture itself. */
export class AddPhotoDto {
  @Length(1, 200)
  fileName: string;

  @IsString()
  @MaxLength(200)
  caption: string;

  @IsIn(STAGES)
  stage: Stage;
}
