import { ArrayMaxSize, IsArray, IsBoolean, IsString, IsUUID, Length } from 'class-validator';

/** What a customer asked to be taken out. */
export class RemovalDto {
  @IsBoolean()
  plate: boolean;

  /** Photos whose pictures go. */
  @IsArray()
  @ArrayMaxSize(500)
  @IsUUID(undefined, { each: true })
  photos: string[];

  /** Names and other words that go from everything that was written. */
  @IsArray()
  @ArrayMaxSize(20)
  @IsString({ each: true })
  @Length(2, 60, { each: true, message: 'Each name to take out has 2 to 60 characters.' })
  words: string[];

  @Length(3, 300, { message: 'Say who asked for it, without their name, and when.' })
  reason: string;
}
