import { caseBench, type CaseBench, type CaseEvidence, type HouseRules, type Recheck } from '@jarro/core';
import { useLearnedQuery } from '../../app/api';
import { createContext, useContext, useMemo } from 'react';
import type { CaseDetail } from '@jarro/api-types';
import type { Worked } from '../../workers/weigher';
import { useRecheck } from '../recheck/use-recheck';
import { useDiagnosis, type Weighed } from '../scale/use-diagnosis';
import { evidenceOf } from './evidence';

/** A case with everything that is worked out from it: its path with the staircases at once, its weights a moment later. */
export interface Bench extends CaseBench {
  readonly item: CaseDetail;
  readonly rules: HouseRules;
  readonly evidence: CaseEvidence;
  readonly weighed: Weighed;
  /** The failing tests before and after the repair; undefined until it is finished. */
  readonly rechecked: Worked<Recheck>;
}

export const BenchContext = createContext<Bench | undefined>(undefined);

export function useBench(item: CaseDetail, rules: HouseRules): Bench {
  const { data: learned } = useLearnedQuery(undefined, { skip: rules.ownCases !== 'counted' });
  const found = learned?.found;
  const evidence = useMemo(() => ({ ...evidenceOf(item), ...(found && { found }) }), [item, found]);
  const bench = useMemo(() => caseBench(evidence, rules), [evidence, rules]);
  const weighed = useDiagnosis(evidence, rules);
  const rechecked = useRecheck(item);
  return { item, rules, evidence, weighed, rechecked, ...bench };
}

/** The case on the bench. */
export function useTheBench(): Bench {
  const bench = useContext(BenchContext);
  if (!bench) throw new Error('There is no case on the bench here.');
  return bench;
}
