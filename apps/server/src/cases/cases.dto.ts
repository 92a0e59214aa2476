import { PATHS, VERDICTS, type PathKind, type Verdict } from '@jarro/core';
import { IsIn, IsInt, IsOptional, IsString, IsUUID, Length, Max, MaxLength, Min } from 'class-validator';

export class OpenCaseDto {
  @Length(1, 120, { message: 'Name the vehicle.' })
  model: string;

  @IsOptional()
  @IsInt()
  @Min(1950)
  @Max(2100)
  year?: number;

  @IsString()
  @MaxLength(60)
  engine: string;

  @IsString()
  @MaxLength(20)
  plate: string;

  @Length(3, 500, { message: 'Say what the customer complains of, in a few words.' })
  complaint: string;
}

export class DecideDto {
  @IsIn(Object.keys(VERDICTS))
  kind: Verdict;

  @Length(3, 1000, { message: 'Say in a sentence what is condemned and on what evidence.' })
  statement: string;

  @IsOptional()
  @Length(10, 500, { message: 'An override needs a reason of at least ten characters.' })
  overrideReason?: string;
}

/** Either a version of the shop's own, or a shipped path. */
export class GiveSystemDto {
  @IsOptional()
  @IsIn(PATHS)
  template?: PathKind;

  @IsOptional()
  @IsUUID()
  line?: string;

  @IsOptional()
  @IsInt()
  @Min(1)
  version?: number;
}
