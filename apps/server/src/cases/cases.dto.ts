import type { CaseStage } from '@jarro/api-types';
import { FAMILIES, PATHS, VERDICTS, type Family, type PathKind, type Vehicle, type Verdict } from '@jarro/core';
import { Transform, Type } from 'class-transformer';
import { IsBoolean, IsIn, IsInt, IsString, IsUUID, Length, Max, MaxLength, Min } from 'class-validator';
import { Maybe } from '../http/maybe.js';

export class VehicleDto implements Vehicle {
  @Length(1, 120, { message: 'Name the vehicle.' })
  model: string;

  @IsString()
  @MaxLength(60)
  engine: string;

  @IsString()
  @MaxLength(20)
  plate: string;

  @Maybe()
  @IsInt({ message: 'The year is a whole number.' })
  @Min(1950, { message: 'The year lies between 1950 and 2100.' })
  @Max(2100, { message: 'The year lies between 1950 and 2100.' })
  year?: number;
}

const CASE_STAGES: readonly CaseStage[] = ['open', 'decided', 'closed'];

export class BoardDto {
  @Maybe()
  @Type(() => Number)
  @IsInt()
  @Min(1)
  @Max(1e6)
  page?: number;

  /** Words that must all be found in number, vehicle, plate or complaint. */
  @Maybe()
  @IsString()
  @MaxLength(100, { message: 'Search for fewer words.' })
  search?: string;

  @Maybe()
  @IsIn(CASE_STAGES)
  stage?: CaseStage;

  /** Only what I opened. */
  @Maybe()
  @Transform(({ value }) => (value === 'true' ? true : value === 'false' ? false : (value as unknown)))
  @IsBoolean()
  mine?: boolean;

  /** Only what this person opened. */
  @Maybe()
  @IsUUID()
  by?: string;

  /** Only what was decided so. */
  @Maybe()
  @IsIn(Object.keys(VERDICTS))
  verdict?: Verdict;

  /** Only open cases whose evidence speaks for this family most. */
  @Maybe()
  @IsIn(FAMILIES)
  suspect?: Family;

  /** Only what was opened longer ago than so many days. */
  @Maybe()
  @Type(() => Number)
  @IsInt()
  @Min(1)
  @Max(10_000)
  olderDays?: number;
}

export class OpenCaseDto extends VehicleDto {
  @Length(3, 500, { message: 'Say what the customer complains of, in a few words.' })
  complaint: string;

  /** The earlier case that this vehicle comes back with. */
  @Maybe()
  @IsUUID()
  comebackOf?: string;
}

export class DecideDto {
  @IsIn(Object.keys(VERDICTS))
  kind: Verdict;

  @Length(3, 1000, { message: 'Say in a sentence what is condemned and on what evidence.' })
  statement: string;

  @Maybe()
  @Length(10, 500, { message: 'An override needs a reason of at least ten characters.' })
  overrideReason?: string;
}

/** Either a version of the shop's own, or a shipped path. */
export class GiveSystemDto {
  @Maybe()
  @IsIn(PATHS)
  template?: PathKind;

  @Maybe()
  @IsUUID()
  line?: string;

  @Maybe()
  @IsInt()
  @Min(1)
  version?: number;
}
