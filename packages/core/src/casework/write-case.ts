import type { FoundCounts } from '../inference/shop-weights.js';
import type { HouseRules } from '../rules/house-rules.js';
import { caseProfile, caseReadings, type CaseEvidence } from './from-case.js';
import type { Reading } from '../evidence/reading.js';
import type { SystemProfile } from '../vehicle/profile.js';

/** A case as the file `jarro.case/1`, described in docs/formats. */
export interface WrittenCase {
  readonly format: 'jarro.case/1';
  readonly system: SystemProfile;
  readonly complaint: string;
  readonly batterySupport: string;
  readonly rules: HouseRules;
  readonly closedCases?: FoundCounts;
  readonly readings: readonly object[];
}

/** What a case amounts to, in a file that `diagnose` reads and answers alike. */
export function writeCase(complaint: string, evidence: CaseEvidence, rules: HouseRules): WrittenCase {
  return {
    format: 'jarro.case/1',
    system: caseProfile(evidence.intake, evidence.system),
    complaint,
    batterySupport: evidence.intake.batterySupport,
    rules,
    ...(evidence.found && { closedCases: evidence.found }),
    readings: caseReadings(evidence).map(writeReading),
  };
}

function writeReading({ keyState, faultPresent, ...rest }: Reading): object {
  return { ...rest, state: keyState, fault: faultPresent ? 'present' : 'absent' };
}
