import {
  caseProfile,
  caseReadings,
  diagnose,
  type CaseCapture,
  type Diagnosis,
  type Entry,
  type Intake,
} from '@jarro/core';
import type { HouseLimits } from '@jarro/core';

/** Everything of a case that the weights rest on. */
export interface ToWeigh {
  readonly intake: Intake;
  readonly entries: readonly Entry[];
  readonly captures: readonly CaseCapture[];
  readonly limits: HouseLimits;
}

export function weigh({ intake, entries, captures, limits }: ToWeigh): Diagnosis {
  const profile = caseProfile(intake);
  return diagnose(profile, caseReadings(entries, captures, profile), {
    limits,
    batterySupported: intake.batterySupport !== 'none',
  });
}
