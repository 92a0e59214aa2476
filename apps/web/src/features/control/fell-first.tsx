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

const MEASURE = findMeasure('fell-first', 'stall');
const ORDERS = {
  voltage: 'Volts first, then pressure',
  pressure: 'Pressure first, volts steady',
  together: 'Both at once',
  engine: 'Engine died, both still there',
} as const;

/** The order of a stall, seen by somebody who watched a meter and a gauge together. */
export function FellFirst({ item, editable }: { item: CaseDetail; editable: boolean }) {
  const [keyState, setKeyState] = useState<KeyState>('idle');
  const [faultPresent] = useFaultShows(item.id);
  const [running] = useKept<RunningWatch>(`watch/${item.id}`);
  const [watching, setWatching] = useState(false);
  const [addEntry, { error, isLoading }] = useAddEntryMutation();
  const seen = entriesOf(item)
    .filter(({ kind }) => kind === 'fell-first')
    .at(-1);
  if (!MEASURE) return null;
  const keep = (value: keyof typeof ORDERS) =>
    void addEntry({ caseId: item.id, kind: 'fell-first', at: MEASURE.at, value, keyState, faultPresent });
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
      <p className="label">{MEASURE.howTo}</p>
      {editable && (
        <Choice
          label="It happened"
          options={MEASURE.states.map((value) => ({ value, label: KEY_STATE_NAMES[value] }))}
          value={keyState}
          onChange={setKeyState}
        />
      )}
      <div role="group" aria-label="What fell first" className="grid grid-cols-1 gap-2 sm:grid-cols-2">
        {(Object.keys(ORDERS) as (keyof typeof ORDERS)[]).map((value) => (
          <Button
            key={value}
            look={seen?.value === value ? 'ink' : 'plain'}
            aria-pressed={seen?.value === value}
            disabled={!editable || isLoading}
            className="min-h-16 text-lg"
            onClick={() => keep(value)}
          >
            {ORDERS[value]}
          </Button>
        ))}
      </div>
      <ErrorNotice text={errorText(error)} />
      {watching && <WatchSheet caseId={item.id} keyState={keyState} onClose={() => setWatching(false)} />}
    </section>
  );
}
