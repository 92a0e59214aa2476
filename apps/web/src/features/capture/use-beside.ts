import type { CaptureItem, CaseDetail } from '@jarro/api-types';
import { useMemo } from 'react';
import { useCaseDetailQuery, useShelfQuery } from '../../app/api';
import type { TraceSignal } from '../../charts/signals';
import { standingCaptures } from '../case/evidence';
import { ofTheKind } from '../shelf/of-the-kind';
import type { BesideOption } from './lanes-sheet';
import { currentBeside } from './use-lanes';

/** Records whose pump current can be laid over a capture's: the case's others, and the known-goods of its kind. */
export function useBeside(
  item: CaseDetail,
  capture: CaptureItem,
  chosen: string | undefined,
): { readonly options: readonly BesideOption[]; readonly signal: TraceSignal | undefined } {
  const { data: shelf } = useShelfQuery();
  const own = standingCaptures(item).filter(({ id }) => id !== capture.id);
  const goods = ofTheKind(shelf ?? [], item).filter(
    ({ captureId }) => captureId !== capture.id && !own.some(({ id }) => id === captureId),
  );
  const good = goods.find(({ captureId }) => captureId === chosen);
  const { data: otherCase } = useCaseDetailQuery(good?.caseId ?? '', { skip: good === undefined });
  const options = [
    ...own.map(({ id, label }) => ({ id, name: label })),
    ...goods.map(({ captureId, label, caseNumber }) => ({
      id: captureId,
      name: `known-good: ${label}, case ${caseNumber}`,
    })),
  ];
  const name = options.find(({ id }) => id === chosen)?.name;
  const other = [...item.captures, ...(otherCase?.captures ?? [])].find(({ id }) => id === chosen);
  const signal = useMemo(
    () => (other && name !== undefined ? currentBeside(other, capture, name) : undefined),
    [other, capture, name],
  );
  return { options, signal };
}
