import { Check, Square, TriangleAlert } from 'lucide-react';
import type { Need } from '@jarro/core';
import { errorText, useCloseCaseMutation } from '../../app/api';
import type { CaseDetail } from '@jarro/api-types';
import { Button } from '../../ui/button';
import { ErrorNotice } from '../../ui/notice';
import { useTheBench } from '../case/bench';
import { StageFrame } from '../case/stage-head';
import { useMay } from '../session/use-may';
import { PutOnShelf } from '../shelf/put-on-shelf';
import { Reopen } from './reopen';
import { handOverOf } from './use-recheck';

const MARKS = {
  met: { mark: Check, word: 'done', tone: 'text-mineral' },
  open: { mark: Square, word: 'open', tone: 'text-ochre' },
  fails: { mark: TriangleAlert, word: 'fails', tone: 'text-rust' },
} as const satisfies Record<Need['state'], object>;

/** What must stand before a vehicle is handed back. */
export function HandOverStage({ item }: { item: CaseDetail }) {
  const may = useMay();
  const [closeCase, closing] = useCloseCaseMutation();
  const { rechecked } = useTheBench();
  const { needs, ready } = handOverOf(item, rechecked);
  // What isn't compared yet can't be ready.
  const compared = rechecked !== undefined && 'result' in rechecked;
  return (
    <StageFrame item={item} stage="closed">
      {item.stage === 'closed' && (
        <p className="text-lg font-semibold text-mineral">Closed: this vehicle was handed back.</p>
      )}
      <ul className="space-y-1.5">
        {needs.map(({ text, state }) => {
          const { mark: Mark, word, tone } = MARKS[state];
          return (
            <li key={text} className="flex items-start gap-2">
              <Mark aria-label={word} className={`mt-0.5 size-5 shrink-0 ${tone}`} />
              <span className={state === 'met' ? 'text-soft' : 'text-lg'}>{text}</span>
            </li>
          );
        })}
      </ul>
      <ErrorNotice text={errorText(closing.error)} />
      {may('decide') && item.stage !== 'closed' && (
        <Button
          look="rust"
          className="text-lg"
          onClick={() => void closeCase({ caseId: item.id })}
          disabled={closing.isLoading || !ready || !compared}
        >
          Close the case
        </Button>
      )}
      <PutOnShelf item={item} />
      {may('decide') && item.stage !== 'open' && <Reopen caseId={item.id} />}
    </StageFrame>
  );
}
