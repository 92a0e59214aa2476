import { type HoldRecord, pressureText, wordsAt } from '@jarro/core';
import { Timer } from 'lucide-react';
import { useState } from 'react';
import { errorText, useAddEntryMutation } from '../../app/api';
import { useKept } from '../../app/kept';
import type { CaseDetail } from '@jarro/api-types';
import { usePressureUnit } from '../../app/units';
import { Button } from '../../ui/button';
import { ErrorNotice } from '../../ui/notice';
import { standing } from '../case/evidence';
import { useFaultShows } from '../case/fault-slice';
import { wordOf } from '../path/station-kinds';
import { HoldCurve } from './hold-curve';
import { HoldSheet, type RunningHold } from './hold-sheet';
import { clockText, timeText } from './hold-words';
import { useSeconds } from './use-seconds';

/** Leak-down after shut-down: the clock runs here, the needle is read there. */
export function HoldTest({ item, editable }: { item: CaseDetail; editable: boolean }) {
  const [open, setOpen] = useState(false);
  const unit = usePressureUnit();
  const [running] = useKept<RunningHold>(`hold/${item.id}`);
  const seconds = useSeconds(running?.begunAt, running !== undefined);
  const [faultPresent] = useFaultShows(item.id);
  const [addEntry, { error, isLoading }] = useAddEntryMutation();
  const seen = standing(item).filter(({ kind }) => kind === 'hold');
  const records = seen.filter(({ value }) => typeof value === 'object');
  const said = seen.filter(({ value }) => typeof value === 'string').at(-1);
  const say = (value: string) =>
    void addEntry({ caseId: item.id, kind: 'hold', at: 'rail', value, keyState: 'after-off', faultPresent });
  const { hold } = item.sheet;
  return (
    <section aria-label="Hold">
      <div className="flex items-center justify-between">
        <h3 className="text-lg">Hold after shut-down</h3>
        {editable &&
          (running?.begunAt === undefined ? (
            <Button onClick={() => setOpen(true)}>Time a hold test</Button>
          ) : (
            <Button look="rust" onClick={() => setOpen(true)}>
              <Timer aria-hidden className="size-5" /> Go on with the hold test, {clockText(seconds)}
            </Button>
          ))}
      </div>
      {hold?.judgement.standing === 'too-short' && <p className="mt-1 text-ochre">{hold.judgement.text}</p>}
      {hold && hold.judgement.standing !== 'too-short' && (
        <p className="mt-1">
          <span className="text-3xl font-bold">{pressureText(hold.fit.ratePaPerMin, unit)}</span> {unit} a minute
          {hold.fit.halfTimeS !== undefined && (
            <>
              {' · half in '}
              <span className="text-xl font-bold">{timeText(hold.fit.halfTimeS)}</span>
              {hold.fit.extrapolated && ' (beyond the record)'}
            </>
          )}
        </p>
      )}
      {records.length > 0 && <HoldCurve records={records.map(({ value }) => value as HoldRecord)} unit={unit} />}
      {records.length === 0 && (
        <p className="label">
          Pressure after key-off, once a minute or so, with each line blocked in turn if it falls.
        </p>
      )}
      {editable && (
        <div role="group" aria-label="Seen without timing it" className="mt-1 flex flex-wrap items-center gap-2">
          <span className="label">Seen without timing it:</span>
          {wordsAt('hold', 'rail').map((word) => (
            <Button
              key={word}
              look={said?.value === word ? 'ink' : 'plain'}
              aria-pressed={said?.value === word}
              disabled={isLoading}
              className="capitalize"
              onClick={() => say(word)}
            >
              {wordOf(word)}
            </Button>
          ))}
        </div>
      )}
      {!editable && said && <p>Seen without timing it: {wordOf(String(said.value))}.</p>}
      <ErrorNotice text={errorText(error)} />
      {open && <HoldSheet caseId={item.id} onClose={() => setOpen(false)} />}
    </section>
  );
}
