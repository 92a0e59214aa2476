import {
  BATTERY_SUPPORT,
  CIRCUMSTANCES,
  ENTRY_KINDS,
  HELPS,
  FREQUENCIES,
  KEY_STATES,
  RECORD_MARKS,
  REFERENCES,
  STAGES,
  SYMPTOMS,
  SYSTEM_KINDS,
  TAMPERING,
  TRUSTS,
  YES_NO_UNKNOWN,
  type BatterySupport,
  type Circumstance,
  type EntryKind,
  type Helped,
  type Frequency,
  type Intake,
  type KeyState,
  type RecordMarkKind,
  type Reference,
  type Stage,
  type Symptom,
  type SystemFeatures,
  type SystemKind,
  type Tampering,
  type Trust,
  type YesNoUnknown,
} from '@jarro/core';
import { Type } from 'class-transformer';
import {
  ArrayMaxSize,
  IsArray,
  IsBoolean,
  IsDefined,
  IsIn,
  IsInt,
  IsNumber,
  IsObject,
  IsString,
  IsUUID,
  Length,
  Max,
  MaxLength,
  Min,
  ValidateNested,
} from 'class-validator';
import { VehicleDto } from '../cases/cases.dto.js';
import { Maybe } from '../http/maybe.js';
import { MayHaveWaited } from './may-have-waited.js';

export class AddEntryDto extends MayHaveWaited {
  @IsIn(ENTRY_KINDS)
  kind: EntryKind;

  @Length(1, 60)
  at: string;

  /** A number in SI, an answer, or a record; the core's registry of evidence checks it by kind. */
  @IsDefined({ message: 'Enter a value.' })
  value: unknown;

  @IsIn(KEY_STATES, { message: 'State the key position: a reading means nothing without it.' })
  keyState: KeyState;

  @IsBoolean()
  faultPresent: boolean;

  @Maybe()
  @IsIn(REFERENCES)
  reference?: Reference;

  @Maybe()
  @IsBoolean()
  unloaded?: boolean;

  @Maybe()
  @IsIn(TRUSTS)
  trust?: Trust;

  @Maybe()
  @IsIn(HELPS)
  helped?: Helped;

  @Maybe()
  @IsBoolean()
  boosted?: boolean;

  @Maybe()
  @IsBoolean()
  pierced?: boolean;

  @Maybe()
  @Min(0)
  @Max(100, { message: 'A command lies between 0 and 100 %.' })
  commandPercent?: number;
}

export class AddNoteDto extends MayHaveWaited {
  @IsIn(STAGES)
  stage: Stage;

  @Length(1, 2000, { message: 'Write the note first.' })
  text: string;
}

/** A moment of a capture, on the record's own clock. */
export class AddMarkDto {
  @IsUUID()
  captureId: string;

  @IsIn(RECORD_MARKS)
  mark: RecordMarkKind;

  @IsNumber({}, { message: 'Say at how many seconds of the record.' })
  atS: number;

  @Maybe()
  @Length(1, 120, { message: 'Say in up to 120 characters what it was.' })
  what?: string;
}

export class AcknowledgeDto {
  @Length(1, 60)
  caution: string;
}

export class VoidDto {
  @Length(3, 300, { message: 'Say why this entry is wrong.' })
  reason: string;
}

const keysOf = <T extends string>(labels: Readonly<Record<T, string>>) => Object.keys(labels) as T[];

class FeaturesDto implements SystemFeatures {
  @IsIn(YES_NO_UNKNOWN)
  railSensor: YesNoUnknown;

  @IsIn(YES_NO_UNKNOWN)
  returnLine: YesNoUnknown;

  @IsIn(YES_NO_UNKNOWN)
  module: YesNoUnknown;
}

/** The whole intake; windows, table and codes are checked by the core. */
class IntakeDto implements Intake {
  @Maybe()
  @IsObject()
  @ValidateNested()
  @Type(() => VehicleDto)
  vehicle?: VehicleDto;

  @IsIn(SYSTEM_KINDS)
  system: SystemKind;

  @IsObject()
  @ValidateNested()
  @Type(() => FeaturesDto)
  features: FeaturesDto;

  @IsIn(keysOf(SYMPTOMS), { each: true })
  symptoms: Symptom[];

  @IsIn(keysOf(CIRCUMSTANCES), { each: true })
  circumstances: Circumstance[];

  @Maybe()
  @IsIn(keysOf(FREQUENCIES))
  frequency?: Frequency;

  @IsString()
  @MaxLength(120)
  since: string;

  @Maybe()
  @IsInt({ message: 'After how many minutes: a whole number.' })
  @Min(0)
  @Max(600)
  afterMinutes?: number;

  @IsString()
  @MaxLength(1000)
  priorRepairs: string;

  @IsString()
  @MaxLength(200)
  condemnedBy: string;

  @IsIn(keysOf(TAMPERING), { each: true })
  tampering: Tampering[];

  @IsIn(keysOf(BATTERY_SUPPORT))
  batterySupport: BatterySupport;

  @IsArray()
  @ArrayMaxSize(40)
  @MaxLength(12, { each: true })
  codes: string[];

  @IsObject()
  makersWindows: Intake['makersWindows'];

  @IsArray()
  @ArrayMaxSize(40)
  sensorTable: [number, number][];

  @IsString()
  @MaxLength(2000)
  notes: string;
}

export class SaveIntakeDto {
  /** Place in the chain of the intake that was edited; 0 for none yet. */
  @IsInt()
  @Min(0)
  basis: number;

  @IsObject()
  @ValidateNested()
  @Type(() => IntakeDto)
  intake: IntakeDto;
}
