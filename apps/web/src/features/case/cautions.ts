import { stageGuide, type Caution, type Stage } from '@jarro/core';
import type { CaseDetail } from '@jarro/api-types';

/** Cautions of a stage that nobody has acknowledged in this case. */
export function openCautions({ evidence }: CaseDetail, stage: Stage): readonly Caution[] {
  const known = new Set(evidence.filter(({ kind }) => kind === 'caution').map(({ at }) => at));
  return stageGuide(stage).cautions.filter(({ id, acknowledge }) => acknowledge && !known.has(id));
}
