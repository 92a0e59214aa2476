import type { SystemProfile } from '@jarro/core';

/** One version of a system of the shop's own. */
export interface SystemVersionItem {
  readonly version: number;
  readonly profile: SystemProfile;
  readonly madeBy: string | null;
  readonly madeAt: string;
}

/** A system with its newest version. */
export interface SystemItem extends SystemVersionItem {
  readonly id: string;
  readonly retired: boolean;
}

export interface SystemHistory {
  readonly id: string;
  readonly retired: boolean;
  /** Newest first. */
  readonly versions: readonly SystemVersionItem[];
}
