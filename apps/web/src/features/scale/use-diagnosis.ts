import type { CaseEvidence, Diagnosis, HouseRules } from '@jarro/core';
import { useCallback } from 'react';
import { useWorked, type Weigher } from '../../workers/weigher';

export type Weighed = { readonly diagnosis: Diagnosis } | { readonly failed: true } | undefined;

/** The weights of a case, worked out off the page's thread anew with every change; the last ones stay meanwhile. */
export function useDiagnosis(evidence: CaseEvidence, rules: HouseRules): Weighed {
  const work = useCallback((weigher: Weigher) => weigher.weigh(evidence, rules), [evidence, rules]);
  const worked = useWorked(work);
  return worked && 'result' in worked ? { diagnosis: worked.result } : worked;
}
