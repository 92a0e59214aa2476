import { KEY_STATE_NAMES, type CaptureEntry } from '@jarro/core';
import { Check } from 'lucide-react';
import type { ReactNode } from 'react';
import { errorText, useAddEntryMutation } from '../../app/api';
import type { CaseDetail } from '@jarro/api-types';
import { Button } from '../../ui/button';
import { ErrorNotice } from '../../ui/notice';
import { momentOf, type LinkedCapture } from './evidence';
import { untaken } from './same-reading';

/** What a capture measured, to be taken among the readings with one press. */
export function TakeOver({
  item,
  capture,
  entries,
  said,
  editable,
  children,
}: {
  readonly item: CaseDetail;
  readonly capture: LinkedCapture;
  readonly entries: readonly CaptureEntry[];
  /** The measured in words. */
  readonly said: string;
  readonly editable: boolean;
  /** What has to be chosen before, by what isn't taken yet. */
  readonly children?: (missing: readonly CaptureEntry[]) => ReactNode;
}) {
  const [addEntry, { error, isLoading }] = useAddEntryMutation();
  const { keyState, faultPresent } = momentOf(capture);
  const missing = untaken(item, entries);
  const take = async () => {
    for (const entry of missing) {
      const result = await addEntry({ caseId: item.id, faultPresent, ...entry });
      if ('error' in result) return;
    }
  };
  return (
    <section aria-label="From a capture" className="space-y-2 rounded-2xl border border-line p-3">
      <div className="flex flex-wrap items-center gap-3">
        <p className="min-w-60 flex-1">
          <span className="font-semibold">{capture.label}</span>, {KEY_STATE_NAMES[keyState].toLowerCase()}, measured{' '}
          {said}.
        </p>
        {editable && missing.length > 0 && (
          <Button look="ink" onClick={() => void take()} disabled={isLoading}>
            Take into the sheet
          </Button>
        )}
        {entries.length > 0 && missing.length === 0 && (
          <span className="flex items-center gap-1 text-mineral">
            <Check aria-hidden className="size-4" /> in the sheet
          </span>
        )}
      </div>
      {editable && children?.(missing)}
      <ErrorNotice text={errorText(error)} />
    </section>
  );
}
