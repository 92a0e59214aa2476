import type { Judgement } from '@jarro/api-types';
import {
  caseBench,
  pointersFrom,
  pressureSheet,
  type CaseEvidence,
  type CaseSystem,
  type HouseRules,
} from '@jarro/core';
import type { AnalysisRecord } from '../captures/captures.entities.js';
import type { EvidenceRecord } from '../evidence/evidence.entities.js';
import { entriesOf, newestIntake, standing } from '../evidence/standing.js';

/** What of a case's chain counts, as the core reasons on it. */
export function evidenceOf(
  complaint: string,
  links: readonly EvidenceRecord[],
  analyses: ReadonlyMap<string, AnalysisRecord>,
): CaseEvidence {
  const system = standing(links)
    .filter(({ kind }) => kind === 'system')
    .at(-1)?.value as CaseSystem | undefined;
  const captures = standing(links).flatMap(({ id, kind, keyState, faultPresent }) => {
    const ramp = kind === 'capture' ? analyses.get(id)?.result.ramp : undefined;
    // The first version's captures don't say: they were of the prime.
    return ramp ? [{ id, ramp, keyState: keyState ?? ('prime' as const), faultPresent: faultPresent ?? true }] : [];
  });
  const { intake } = newestIntake(links);
  return { complaint, intake, ...(system && { system }), entries: entriesOf(links), captures };
}

/** What a case's standing evidence amounts to at once; its weights take longer. */
export function judge(evidence: CaseEvidence, rules: HouseRules): Judgement {
  const { entries, intake } = evidence;
  const sheet = pressureSheet(evidence, rules);
  const { ladders } = caseBench(evidence, rules);
  return { ledger: ladders[ladders.length - 1].ledger, sheet, pointers: pointersFrom(entries, intake, sheet) };
}
