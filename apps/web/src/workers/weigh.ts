import { weighCase, type CaseEvidence, type Diagnosis, type HouseRules } from '@jarro/core';

export function weigh(evidence: CaseEvidence, rules: HouseRules): Diagnosis {
  return weighCase(evidence, rules);
}
