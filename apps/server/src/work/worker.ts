import { weighCase, type CaseEvidence, type Diagnosis, type HouseRules } from '@jarro/core';
import { measure as measureFile, type MeasureOutcome, type MeasureTask } from '../captures/measure.js';

/** What the threads of the pool do, by name. */
export function measure(task: MeasureTask): MeasureOutcome {
  return measureFile(task);
}

export interface WeighTask {
  readonly evidence: CaseEvidence;
  readonly rules: HouseRules;
}

export function weigh({ evidence, rules }: WeighTask): Diagnosis {
  return weighCase(evidence, rules);
}
