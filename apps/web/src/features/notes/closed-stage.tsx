import { Check, Square } from 'lucide-react';
import { errorText, useCloseCaseMutation, useReopenMutation } from '../../app/api';
import type { CaseDetail } from '@jarro/api-types';
import { Button } from '../../ui/button';
import { ErrorNotice } from '../../ui/notice';
import { standing } from '../case/evidence';
import { StageFrame } from '../case/stage-head';
import { useMay } from '../session/use-may';

/** What must stand before a vehicle is handed back. */
export function ClosedStage({ item }: { item: CaseDetail }) {
  const may = useMay();
  const [closeCase, closing] = useCloseCaseMutation();
  const [reopen, reopening] = useReopenMutation();
  const closed = item.stage === 'closed';
  const needs = [
    { met: item.stage !== 'open', text: 'A verdict stands.' },
    {
      met: standing(item).some(({ kind, at }) => kind === 'note' && at === 'recheck'),
      text: 'The recheck is written down.',
    },
  ];
  return (
    <StageFrame item={item} stage="closed">
      <ul className="space-y-2 text-lg">
        {needs.map(({ met, text }) => (
          <li key={text} className="flex items-center gap-2">
            {met ? (
              <Check aria-label="done" className="size-5 text-mineral" />
            ) : (
              <Square aria-label="missing" className="size-5 text-ochre" />
            )}
            {text}
          </li>
        ))}
      </ul>
      <ErrorNotice text={errorText(closing.error ?? reopening.error)} />
      {may('decide') &&
        (closed ? (
          <Button onClick={() => void reopen({ caseId: item.id })} disabled={reopening.isLoading}>
            Reopen the case
          </Button>
        ) : (
          <Button
            look="rust"
            className="text-lg"
            onClick={() => void closeCase({ caseId: item.id })}
            disabled={closing.isLoading || needs.some(({ met }) => !met)}
          >
            Close the case
          </Button>
        ))}
    </StageFrame>
  );
}
