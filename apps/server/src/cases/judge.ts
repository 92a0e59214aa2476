import type { Judgement } from '@jarro/api-types';
import {
  caseBench,
  pointersFrom,
  pressureSheet,
  type CaseEvidence,
  type CaseGround,
  type HouseRules,
  type KnownGood,
} from '@jarro/core';
import type { AnalysisRecord } from '../captures/captures.entities.js';
import type { EvidenceRecord } from '../evidence/evidence.entities.js';

/** What the core makes a case's evidence of: its links, and the newest analysis of each capture. */
export function groundOf(
  complaint: string,
  links: readonly EvidenceRecord[],
  analyses: ReadonlyMap<string, AnalysisRecord>,
  goods: readonly KnownGood[],
): CaseGround {
  return { complaint, links, goods, measuredOf: (id) => analyses.get(id)?.result };
}

/** What the evidence amounts to at once; its weights take longer. */
export function judge(evidence: CaseEvidence, rules: HouseRules): Judgement {
  const { entries, intake } = evidence;
  const sheet = pressureSheet(evidence, rules);
  const { ladders } = caseBench(evidence, rules);
  return { ledger: ladders[ladders.length - 1].ledger, sheet, pointers: pointersFrom(entries, intake, sheet) };
}
