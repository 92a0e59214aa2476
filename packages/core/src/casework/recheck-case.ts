import { evidenceOf, phasesOf, type CaseGround, type CaseStageName } from './chain.js';
import type { CaseEvidence } from './from-case.js';
import { kindOf } from './repair-state.js';
import type { Verdict } from '../terms/verdicts.js';

/** What is compared in a recheck: the vehicle before the repair and after it. */
export interface RecheckQuestion {
  readonly before: CaseEvidence;
  readonly after: CaseEvidence;
  readonly verdict: Verdict;
}

/** @returns undefined as long as no repair is finished */
export function recheckQuestion(ground: CaseGround, stage: CaseStageName): RecheckQuestion | undefined {
  const { before, after, verdict, done, failed } = phasesOf(ground.links, stage);
  if (!verdict || !done) return undefined;
  return {
    before: evidenceOf(ground, { read: before, ...(failed && { failed }) }),
    after: evidenceOf(ground, { read: after }),
    verdict: kindOf(verdict),
  };
}
