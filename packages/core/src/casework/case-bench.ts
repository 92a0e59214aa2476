import { canBeAmperes } from '../limits/limits.js';
import type { HouseRules } from '../rules/house-rules.js';
import type { SystemProfile } from '../vehicle/profile.js';
import { caseLadder, ladderStates, type CaseLadder } from './case-ladder.js';
import { diagnose, type Diagnosis } from './diagnose.js';
import { caseProfile, caseReadings, type CaseEvidence } from './from-case.js';
import type { KeyState } from '../terms/key-states.js';

/** The path of a case with what was measured on it. */
export interface CaseBench {
  readonly profile: SystemProfile;
  /** By key state, the one read last at the end; never empty. */
  readonly ladders: readonly CaseLadder[];
}

/** The staircases of a case, worked out in a moment. */
export function caseBench(evidence: CaseEvidence, rules: HouseRules): CaseBench {
  const profile = caseProfile(evidence.intake, evidence.system);
  const readings = caseReadings(evidence);
  const states = ladderStates(readings);
  const usual: KeyState = profile.crankOnly ? 'cranking' : 'prime';
  const shown = states.length > 0 ? states : [usual];
  const doubts = wrongScales(evidence);
  const ladders = shown.map((state) => {
    const { ledger, ...ladder } = caseLadder(profile, readings, state, rules);
    return { ...ladder, ledger: { ...ledger, doubts: [...doubts, ...ledger.doubts] } };
  });
  return { profile, ladders };
}

/** Captures that no pump circuit can have drawn: their clamp's factor was wrong, and nothing of them is weighed. */
function wrongScales({ captures }: CaseEvidence): string[] {
  return captures.flatMap(({ ramp: { steady } }) =>
    steady && !canBeAmperes(steady.meanA)
      ? [
          `A capture's mean of ${steady.meanA.toPrecision(3)} A can't be: its clamp's scale was wrong. Void it, then upload the file again with the right one.`,
        ]
      : [],
  );
}

/** The weights of a case and everything that follows from them. Takes tens of milliseconds: off the page's thread. */
export function weighCase(evidence: CaseEvidence, rules: HouseRules): Diagnosis {
  const profile = caseProfile(evidence.intake, evidence.system);
  const { found } = evidence;
  return diagnose(profile, caseReadings(evidence), {
    ...(found && { closedCases: found }),
    rules,
    batterySupported: evidence.intake.batterySupport !== 'none',
    complaint: evidence.complaint ?? '',
  });
}
