import type { HouseRules, PressureUnitName } from '@jarro/core';

export type UserRole = 'technician' | 'lead' | 'adviser';
export type { PressureUnitName };

/** Whoever is signed in, with the shop and its limits. */
export interface Me {
  readonly uploadLimitBytes: number;
  readonly photoLimitBytes: number;
  readonly user: {
    readonly id: string;
    readonly name: string;
    readonly email: string;
    readonly role: UserRole;
    readonly pressureUnit: PressureUnitName | null;
    /** Whether a short code brings them to a shared tablet. */
    readonly hasCode: boolean;
  };
  readonly shop: ShopSettings;
}

export interface ShopSettings {
  readonly name: string;
  readonly town: string;
  readonly rules: HouseRules;
  readonly pressureUnit: PressureUnitName;
  /** An hour's labour, in the shop's currency. */
  readonly labourRate: number;
  readonly currency: string;
  readonly version: number;
}

export interface Person {
  readonly id: string;
  readonly name: string;
  readonly email: string;
  readonly role: UserRole;
  readonly active: boolean;
}

/** Somebody who may take over a device with a short code. */
export type Colleague = Pick<Person, 'id' | 'name' | 'role'>;

export interface AuditLine {
  readonly id: number;
  readonly action: string;
  readonly target: string;
  readonly at: string;
  readonly by: string | null;
}
