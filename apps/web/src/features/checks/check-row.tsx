import type { Check, Entry } from '@jarro/core';
import { CircleHelp } from 'lucide-react';
import { useState } from 'react';
import { errorText, useAddEntryMutation } from '../../app/api';
import { ErrorNotice } from '../../ui/notice';
import { useFaultShows } from '../case/fault-slice';

/** One question of seconds: its answers as keys, and what the answer means below them. */
export function CheckRow({
  caseId,
  check,
  entry,
  editable,
}: {
  caseId: string;
  check: Check;
  entry: Entry | undefined;
  editable: boolean;
}) {
  const [addEntry, { error, isLoading }] = useAddEntryMutation();
  const [faultPresent] = useFaultShows(caseId);
  const [help, setHelp] = useState(false);
  const answer = check.answers.find(({ value }) => value === entry?.value);
  const choose = (value: string) => {
    if (value === entry?.value) return;
    void addEntry({ caseId, kind: 'check', at: check.at, value, keyState: check.keyState, faultPresent });
  };
  return (
    <section aria-label={check.title} className="border-b border-line py-2.5">
      <div className="flex flex-wrap items-center gap-x-3 gap-y-2">
        <button
          type="button"
          aria-expanded={help}
          aria-label={`How to: ${check.title}`}
          onClick={() => setHelp(!help)}
          className="grid size-11 shrink-0 place-items-center rounded-xl text-steel hover:bg-paper"
        >
          <CircleHelp aria-hidden className="size-5" />
        </button>
        <h3 className="min-w-52 flex-1 font-sans text-[1.07rem] leading-tight font-semibold">{check.ask}</h3>
        <div role="group" aria-label={check.ask} className="flex flex-wrap gap-1.5">
          {check.answers.map(({ value, label }) => (
            <button
              key={value}
              type="button"
              aria-pressed={value === entry?.value}
              disabled={!editable || isLoading}
              onClick={() => choose(value)}
              className={`min-h-12 rounded-xl border px-4 font-semibold ${value === entry?.value ? 'border-enamel bg-enamel text-on-enamel' : 'border-line enabled:hover:border-ink'}`}
            >
              {label}
            </button>
          ))}
        </div>
      </div>
      {help && <p className="mt-1 pl-14 text-[0.93rem] text-soft">{check.howTo}</p>}
      {answer?.meaning && (
        <p
          className={`mt-1 pl-14 text-[0.93rem] ${answer.meaning.towards?.length ? 'font-semibold text-rust' : answer.meaning.away?.length ? 'text-mineral' : 'text-soft'}`}
        >
          {answer.meaning.text}
        </p>
      )}
      <ErrorNotice text={errorText(error)} />
    </section>
  );
}
