import { weighCase, type CaseEvidence, type Diagnosis, type HouseRules } from '@jarro/core';
import { move, transferableSymbol, valueSymbol } from 'piscina';
import { measure as measureFile, type MeasureOutcome, type MeasureTask } from '../captures/measure.js';

/** What the threads of the pool do, by name. */
export function measure(task: MeasureTask): MeasureOutcome {
  const outcome = measureFile(task);
  return 'ok' in outcome ? handedOver(outcome) : outcome;
}

/** The samples change threads instead of being copied. */
function handedOver(outcome: Extract<MeasureOutcome, { ok: unknown }>): MeasureOutcome {
  const buffers = [...new Set(outcome.ok.levels.flat().map(({ buffer }) => buffer as ArrayBuffer))];
  // What comes out on the other side is the outcome itself.
  return move({ [transferableSymbol]: buffers, [valueSymbol]: outcome }) as object as MeasureOutcome;
}

export interface WeighTask {
  readonly evidence: CaseEvidence;
  readonly rules: HouseRules;
}

export function weigh({ evidence, rules }: WeighTask): Diagnosis {
  return weighCase(evidence, rules);
}
