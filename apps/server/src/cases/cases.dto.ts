import { LADDER_STATIONS } from '@jarro/core';
import { IsBoolean, IsIn, IsInt, IsNumber, IsOptional, IsString, Length, Max, MaxLength, Min } from 'class-validator';
import type { KeyState, ReadingKind, VerdictKind } from '../database/entities.js';

export const READING_KINDS: readonly ReadingKind[] = [...LADDER_STATIONS, 'current'];
export const KEY_STATES: readonly KeyState[] = ['off', 'prime', 'cranking', 'idle'];
export const VERDICT_KINDS: readonly VerdictKind[] = [
  'replace-pump',
  'repair-supply',
  'repair-ground',
  'no-fault-found',
];

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

export class AddReadingDto {
  @IsIn(READING_KINDS)
  kind: ReadingKind;

  @IsNumber({}, { message: 'The reading must be a number.' })
  @Min(-30, { message: 'No reading here goes below -30; check the decimal point.' })
  @Max(60, { message: 'No reading here goes above 60; check the decimal point.' })
  value: number;

  @IsIn(KEY_STATES, { message: 'State the key position: a reading means nothing without it.' })
  keyState: KeyState;

  @IsBoolean()
  faultPresent: boolean;
}

export class VoidDto {
  @Length(3, 300, { message: 'Say why this entry is wrong.' })
  reason: string;
}

export class DecideDto {
  @IsIn(VERDICT_KINDS)
  kind: VerdictKind;

  @Length(3, 1000, { message: 'Say in a sentence what is condemned and on what evidence.' })
  statement: string;

  @IsOptional()
  @Length(10, 500, { message: 'An override needs a reason of at least ten characters.' })
  overrideReason?: string;
}
