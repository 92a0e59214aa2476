import type { Entry } from '@jarro/core';
import { Timer } from 'lucide-react';
import { useState } from 'react';
import { errorText, useAddEntryMutation } from '../../app/api';
import { useFaultShows } from '../case/fault-slice';
import { Stopwatch } from './stopwatch';

/** Key-on to pressure: one large button, pressed twice; space or Enter do as well. */
export function PrimeTimer({
  caseId,
  entry,
  editable,
}: {
  caseId: string;
  entry: Entry | undefined;
  editable: boolean;
}) {
  const [open, setOpen] = useState(false);
  return (
    <>
      <button
        type="button"
        disabled={!editable}
        onClick={() => setOpen(true)}
        className="flex flex-col rounded-xl border border-line p-2 text-left enabled:hover:border-ink"
      >
        <span className="label line-clamp-2 block min-h-9 leading-tight">Rise to prime pressure</span>
        {typeof entry?.value === 'number' ? (
          <span className="text-4xl leading-tight font-bold whitespace-nowrap">
            {entry.value.toFixed(1)} <span className="text-base font-normal text-soft">s</span>
          </span>
        ) : (
          <span className="flex min-h-9 items-center gap-1 text-soft">
            <Timer aria-hidden className="size-4" /> time it
          </span>
        )}
      </button>
      {open && <RiseStopwatch caseId={caseId} onClose={() => setOpen(false)} />}
    </>
  );
}

function RiseStopwatch({ caseId, onClose }: { caseId: string; onClose: () => void }) {
  const [faultPresent] = useFaultShows(caseId);
  const [addEntry, { error, isLoading }] = useAddEntryMutation();
  const keep = async (value: number) => {
    const entry = { kind: 'timing', at: 'rise_time', value, keyState: 'prime', faultPresent } as const;
    const result = await addEntry({ caseId, ...entry });
    if (!('error' in result)) onClose();
  };
  return (
    <Stopwatch
      title="Rise to prime pressure"
      hint="Key off ten seconds before. Press at key-on, press again when the needle stands."
      begin="Key on"
      end="Pressure is up"
      error={errorText(error)}
      busy={isLoading}
      onKeep={(seconds) => void keep(seconds)}
      onClose={onClose}
    />
  );
}
