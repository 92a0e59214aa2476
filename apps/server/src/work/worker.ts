import { recheck, weighCase, type CaseEvidence, type Diagnosis, type HouseRules } from '@jarro/core';

/** What the threads of the pool do, by name. */
export { measure } from '../captures/measure.js';
export { renderReport } from '../reports/render-report.js';
export { recheck };

export interface WeighTask {
  readonly evidence: CaseEvidence;
  readonly rules: HouseRules;
}

export function weigh({ evidence, rules }: WeighTask): Diagnosis {
  return weighCase(evidence, rules);
}
