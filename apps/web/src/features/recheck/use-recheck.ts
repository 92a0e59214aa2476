import { handOver, recheckQuestion, type HandOver, type Recheck } from '@jarro/core';
import { useMemo } from 'react';
import type { CaseDetail } from '@jarro/api-types';
import { useWorked, type Weigher, type Worked } from '../../workers/weigher';
import { groundOf } from '../case/evidence';

/** The tests that showed the fault beside those after the repair; undefined until the repair is finished. */
export function useRecheck(item: CaseDetail): Worked<Recheck> {
  const work = useMemo(() => {
    const question = recheckQuestion(groundOf(item), item.stage);
    return question && ((weigher: Weigher) => weigher.recheck(question));
  }, [item]);
  return useWorked(work);
}

/** What must stand before the vehicle is handed back. */
export function handOverOf(item: CaseDetail, worked: Worked<Recheck>): HandOver {
  return handOver(item.evidence, item.stage, worked && 'result' in worked ? worked.result : undefined);
}
