import type { CaseStage, EvidenceKind, StoredAnalysis, StoredChannel } from '@jarro/api-types';
import type { HowTaken, KeyState } from '@jarro/core';
import { KEY_STATES } from '@jarro/core';
import { plainToInstance, Type } from 'class-transformer';
import {
  ArrayMaxSize,
  IsArray,
  IsBoolean,
  IsDefined,
  IsHash,
  IsIn,
  IsInt,
  IsISO8601,
  IsNumber,
  IsObject,
  IsString,
  IsUUID,
  Length,
  Matches,
  Max,
  MaxLength,
  Min,
  ValidateIf,
  ValidateNested,
  validateSync,
  type ValidationError,
} from 'class-validator';
import { BUNDLE_FORMAT, BundleError, type Bundle, type BundledCapture, type BundledLink } from './bundle.js';

const MOST_LINKS = 20_000;
const OrNull = () => ValidateIf((_object, value) => value !== null);

class ShopDto {
  @IsString() @MaxLength(120) name: string;
  @IsString() @MaxLength(120) town: string;
}

class CaseDto {
  @IsUUID() id: string;
  @IsInt() number: number;
  @Length(1, 500) complaint: string;
  @IsIn(['open', 'decided', 'closed']) stage: CaseStage;
  @IsISO8601() openedAt: string;
  @IsUUID() openedBy: string;
}

class BundledVehicleDto {
  @Length(1, 120) model: string;
  @OrNull() @IsInt() @Min(1900) @Max(2200) year: number | null;
  @IsString() @MaxLength(60) engine: string;
  @IsString() @MaxLength(20) plate: string;
}

class LinkDto implements BundledLink {
  @IsUUID() id: string;
  @IsUUID() caseId: string;
  @IsInt() @Min(1) sequence: number;
  @Matches(/^[a-z][a-z-]{1,19}$/) kind: EvidenceKind;
  @Length(1, 60) at: string;
  @IsDefined() value: unknown;
  @OrNull() @IsIn(KEY_STATES) keyState: KeyState | null;
  @OrNull() @IsBoolean() faultPresent: boolean | null;
  @OrNull() @IsObject() how: HowTaken | null;
  @IsUUID() takenBy: string;
  @IsISO8601() takenAt: string;
  @IsHash('sha256') previousHash: string;
  @IsHash('sha256') hash: string;
}

class CaptureDto implements BundledCapture {
  @IsUUID() id: string;
  @Length(1, 200) fileName: string;
  @Length(1, 120) label: string;
  @IsInt() @Min(0) sizeBytes: number;
  @IsHash('sha256') sha256: string;
  @IsNumber() sampleRateHz: number;
  @IsInt() @Min(0) samples: number;
  @IsNumber() startS: number;
  @IsArray() @ArrayMaxSize(64) @IsObject({ each: true }) channels: StoredChannel[];
  @IsInt() @Min(0) @Max(40) pyramidLevels: number;
}

class AnalysisDto {
  @IsUUID() captureId: string;
  @Length(1, 20) coreVersion: string;
  @IsObject() result: StoredAnalysis;
  @IsISO8601() madeAt: string;
}

class BundleDto implements Bundle {
  @IsIn([BUNDLE_FORMAT]) format: typeof BUNDLE_FORMAT;
  @Length(1, 20) jarro: string;
  @IsISO8601() exportedAt: string;
  @IsBoolean() originals: boolean;
  @IsObject() @ValidateNested() @Type(() => ShopDto) shop: ShopDto;
  @IsObject() @ValidateNested() @Type(() => CaseDto) case: CaseDto;
  @IsObject() @ValidateNested() @Type(() => BundledVehicleDto) vehicle: BundledVehicleDto;
  @IsObject() people: Record<string, string>;
  @IsArray() @ArrayMaxSize(MOST_LINKS) @ValidateNested({ each: true }) @Type(() => LinkDto) links: LinkDto[];
  @IsArray() @ArrayMaxSize(MOST_LINKS) @ValidateNested({ each: true }) @Type(() => CaptureDto) captures: CaptureDto[];
  @IsArray() @ArrayMaxSize(MOST_LINKS) @ValidateNested({ each: true }) @Type(() => AnalysisDto) analyses: AnalysisDto[];
}

/**
 * Reads what stands in `bundle.json`.
 * @throws BundleError naming the first thing that is wrong
 */
export function readManifest(text: string): Bundle {
  let content: unknown;
  try {
    content = JSON.parse(text);
  } catch (error) {
    throw new BundleError(`bundle.json is no JSON (${error instanceof Error ? error.message : ''}).`);
  }
  const format = (content as { readonly format?: unknown } | null)?.format;
  if (format !== BUNDLE_FORMAT) {
    throw new BundleError(`it is “${String(format).slice(0, 40)}”, and this version of Jarro reads ${BUNDLE_FORMAT}.`);
  }
  const bundle = plainToInstance(BundleDto, content);
  const [wrong] = validateSync(bundle, { whitelist: true, forbidNonWhitelisted: true, forbidUnknownValues: true });
  if (wrong) throw new BundleError(`bundle.json: ${sayWrong(wrong)}.`);
  const names = Object.values(bundle.people);
  if (!names.every((name) => typeof name === 'string' && name.length <= 120))
    throw new BundleError('its people have no names.');
  // What the checks turned into instances goes into the database as it came.
  return content as Bundle;
}

function sayWrong({ property, constraints, children }: ValidationError): string {
  const [child] = children ?? [];
  if (child) return `${property}.${sayWrong(child)}`;
  return Object.values(constraints ?? {})[0] ?? property;
}
