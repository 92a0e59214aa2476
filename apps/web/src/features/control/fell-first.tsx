import { findMeasure, KEY_STATE_NAMES, type KeyState } from '@jarro/core';
import { Eye } from 'lucide-react';
import { useState } from 'react';
import { errorText, useAddEntryMutation } from '../../app/api';
import { useKept } from '../../app/kept';
import type { CaseDetail } from '@jarro/api-types';
import { Button } from '../../ui/button';
import { Choice } from '../../ui/choice';
import { ErrorNotice } from '../../ui/notice';
import { entriesOf } from '../case/evidence';
import { useFaultShows } from '../case/fault-slice';
import { WatchSheet, type RunningWatch } from './watch-sheet';

/** What was watched, and what may be said of it. */
const WATCHED = [
  {
    at: 'stall',
    title: 'Volts and pressure',
    answers: {
      voltage: 'Volts first, then pressure',
      pressure: 'Pressure first, volts steady',
      together: 'Both at once',
      engine: 'Engine died, both still there',
    },
  },
  {
    at: 'current',
    title: 'Current and volts',
    answers: {
      gone: 'Current gone, volts there',
      less: 'Current less, volts there',
      more: 'Current more, volts there',
      'with-volts': 'Current gone with the volts',
      'broke-off': 'Current gone, volts not watched',
      unchanged: 'Current unchanged',
    },
  },
] as const;

/** What went first in a stall, seen by somebody who watched two instruments together. */
export function FellFirst({ item, editable }: { item: CaseDetail; editable: boolean }) {
  const [keyState, setKeyState] = useState<KeyState>('idle');
  const [faultPresent] = useFaultShows(item.id);
  const [running] = useKept<RunningWatch>(`watch/${item.id}`);
  const [watching, setWatching] = useState(false);
  const [addEntry, { error, isLoading }] = useAddEntryMutation();
  const seen = entriesOf(item).filter(({ kind }) => kind === 'fell-first');
  const states = findMeasure('fell-first', WATCHED[0].at)?.states ?? [];
  const keep = (at: string, value: string) =>
    void addEntry({ caseId: item.id, kind: 'fell-first', at, value, keyState, faultPresent });
  return (
    <section aria-label="What fell first" className="space-y-2">
      <div className="flex items-center justify-between">
        <h3 className="text-lg">What fell first</h3>
        {editable && (
          <Button look={running ? 'rust' : 'plain'} onClick={() => setWatching(true)}>
            <Eye aria-hidden className="size-5" /> {running ? 'Go on watching' : 'Watch for it'}
          </Button>
        )}
      </div>
      {editable && (
        <Choice
          label="It happened"
          options={states.map((value) => ({ value, label: KEY_STATE_NAMES[value] }))}
          value={keyState}
          onChange={setKeyState}
        />
      )}
      {WATCHED.map(({ at, title, answers }) => {
        const newest = seen.filter((entry) => entry.at === at).at(-1)?.value;
        return (
          <div key={at} className="space-y-1.5">
            <h4 className="font-semibold">{title}</h4>
            <p className="label">{findMeasure('fell-first', at)?.howTo}</p>
            <div role="group" aria-label={title} className="grid grid-cols-1 gap-2 sm:grid-cols-2">
              {Object.entries(answers).map(([value, words]) => (
                <Button
                  key={value}
                  look={newest === value ? 'ink' : 'plain'}
                  aria-pressed={newest === value}
                  disabled={!editable || isLoading}
                  className="min-h-16 text-lg"
                  onClick={() => keep(at, value)}
                >
                  {words}
                </Button>
              ))}
            </div>
          </div>
        );
      })}
      <ErrorNotice text={errorText(error)} />
      {watching && <WatchSheet caseId={item.id} keyState={keyState} onClose={() => setWatching(false)} />}
    </section>
  );
}
