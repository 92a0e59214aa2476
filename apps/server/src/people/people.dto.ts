import type { HouseRules } from '@jarro/core';
import {
  IsBoolean,
  IsEmail,
  IsIn,
  IsInt,
  IsNumber,
  IsObject,
  IsString,
  Length,
  Matches,
  Max,
  MaxLength,
  Min,
} from 'class-validator';
import type { PressureUnitName, UserRole } from '@jarro/api-types';
import { Maybe } from '../http/maybe.js';

export const PRESSURE_UNITS: readonly PressureUnitName[] = ['psi', 'bar', 'kPa'];
export const USER_ROLES: readonly UserRole[] = ['technician', 'lead', 'adviser'];

const PASSWORD = { message: 'A password has at least ten characters; four unrelated words do well.' };
const EMAIL = { message: 'Give an e-mail address to sign in with.' };

export class AddPersonDto {
  @Length(1, 120, { message: 'Give a name.' })
  name: string;

  @IsEmail({ require_tld: false }, EMAIL)
  @MaxLength(190)
  email: string;

  @IsIn(USER_ROLES)
  role: UserRole;

  @Length(10, 200, PASSWORD)
  password: string;
}

export class ChangePersonDto {
  @Maybe()
  @IsIn(USER_ROLES)
  role?: UserRole;

  @Maybe()
  @IsBoolean()
  active?: boolean;

  /** A new password, for someone who lost theirs. */
  @Maybe()
  @Length(10, 200, PASSWORD)
  password?: string;
}

export class ChangeShopDto {
  /** The version that was edited. */
  @IsInt()
  version: number;

  @Length(1, 120, { message: 'Name the shop.' })
  name: string;

  @Length(1, 120, { message: 'Say where the shop is.' })
  town: string;

  /** All house rules; the core checks them one by one. */
  @IsObject()
  rules: HouseRules;

  @IsIn(PRESSURE_UNITS)
  pressureUnit: PressureUnitName;

  @IsNumber({}, { message: 'An hour’s labour is a number.' })
  @Min(0, { message: 'An hour’s labour is a number of 0 or more.' })
  @Max(1e6, { message: 'An hour’s labour is a number up to a million.' })
  labourRate: number;

  @IsString()
  @MaxLength(6, { message: 'A currency has up to six letters.' })
  currency: string;
}

export class SetUpDto {
  @Matches(/^[A-Z0-9]{4}-[A-Z0-9]{4}-[A-Z0-9]{4}$/, {
    message: 'The code looks like ABCD-EFGH-JKLM; it stands where Jarro was started.',
  })
  code: string;

  @Length(1, 120, { message: 'Name the shop.' })
  shop: string;

  @Length(1, 120, { message: 'Say where the shop is.' })
  town: string;

  @Length(1, 120, { message: 'Give your name.' })
  name: string;

  @IsEmail({ require_tld: false }, EMAIL)
  @MaxLength(190)
  email: string;

  @Length(10, 200, PASSWORD)
  password: string;
}
