import type { Entry } from '@jarro/core';
import { Timer } from 'lucide-react';
import { useState } from 'react';
import { errorText, useAddEntryMutation } from '../../app/api';
import { Button } from '../../ui/button';
import { ErrorNotice } from '../../ui/notice';
import { Sheet } from '../../ui/sheet';
import { useSeconds } from './use-seconds';

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
        className="rounded-xl border border-line p-2 text-left enabled:hover:border-ink"
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
      {open && <TimerSheet caseId={caseId} onClose={() => setOpen(false)} />}
    </>
  );
}

/** Whoever forgot the second press starts over. */
const LONGEST_S = 60;

function TimerSheet({ caseId, onClose }: { caseId: string; onClose: () => void }) {
  const [start, setStart] = useState<number>();
  const [stopped, setStopped] = useState<number>();
  const ticking = start !== undefined && stopped === undefined;
  const seconds = useSeconds(start, ticking);
  const running = ticking && seconds < LONGEST_S;
  const [addEntry, { error, isLoading }] = useAddEntryMutation();
  const press = () => {
    if (!running) {
      setStopped(undefined);
      setStart(performance.now());
    } else setStopped((performance.now() - (start ?? 0)) / 1000);
  };
  const keep = async () => {
    const value = Math.round((stopped ?? 0) * 10) / 10;
    const result = await addEntry({
      caseId,
      kind: 'timing',
      at: 'rise_time',
      value,
      keyState: 'prime',
      faultPresent: true,
    });
    if (!('error' in result)) onClose();
  };
  return (
    <Sheet
      title="Rise to prime pressure"
      hint="Key off ten seconds before. Press at key-on, press again when the needle stands."
      open
      onClose={onClose}
    >
      <div className="space-y-4 text-center">
        <div className="text-8xl font-bold">
          {(stopped ?? seconds).toFixed(1)} <span className="text-3xl font-normal text-soft">s</span>
        </div>
        <button
          type="button"
          autoFocus
          onClick={press}
          className={`min-h-32 w-full rounded-2xl text-3xl font-bold ${running ? 'bg-rust text-on-rust' : 'bg-enamel text-on-enamel'}`}
        >
          {running ? 'Pressure is up' : start === undefined ? 'Key on' : 'Once more'}
        </button>
        <ErrorNotice text={errorText(error)} />
        {stopped !== undefined && (
          <Button look="rust" className="w-full text-lg" onClick={() => void keep()} disabled={isLoading}>
            Keep this time
          </Button>
        )}
      </div>
    </Sheet>
  );
}
