import { captureEntries, countedEntries, type Entry, type HoldBlock, KEY_STATE_NAMES, pressureText } from '@jarro/core';
import { Check } from 'lucide-react';
import { useState } from 'react';
import { errorText, useAddEntryMutation } from '../../app/api';
import type { CaseDetail } from '@jarro/api-types';
import { usePressureUnit } from '../../app/units';
import { Button } from '../../ui/button';
import { Choice } from '../../ui/choice';
import { ErrorNotice } from '../../ui/notice';
import { entriesOf, standingCaptures } from '../case/evidence';
import { BLOCKS, timeText } from './hold-words';

/** What the newest recorded rail pressure measured, to be taken into the sheet with one press. */
export function FromCapture({ item, editable }: { item: CaseDetail; editable: boolean }) {
  const unit = usePressureUnit();
  const [blocked, setBlocked] = useState<HoldBlock>('none');
  const [addEntry, { error, isLoading }] = useAddEntryMutation();
  const capture = standingCaptures(item)
    .filter(({ analysis }) => analysis?.pressure)
    .at(-1);
  const pressure = capture?.analysis?.pressure;
  if (!capture || !pressure) return null;
  const keyState = capture.link.keyState ?? 'prime';
  const faultPresent = capture.link.faultPresent ?? true;
  const entries = captureEntries(pressure, keyState, blocked);
  // What was taken over before the gauge was bled doesn't count: it may be taken again.
  const known = countedEntries(entriesOf(item));
  const missing = entries.filter((entry) => !known.some((other) => isSame(entry, other)));
  const take = async () => {
    for (const entry of missing) {
      const result = await addEntry({ caseId: item.id, ...entry, faultPresent });
      if ('error' in result) return;
    }
  };
  const fills = (kind: Entry['kind']) => entries.some((entry) => entry.kind === kind);
  const text = (pascal: number) => `${pressureText(pascal, unit)} ${unit}`;
  const { primePa, levelPa, lowestPa, riseTimeS, hold } = pressure;
  const said = [
    text(keyState === 'prime' ? (primePa ?? levelPa) : levelPa),
    keyState === 'loaded' && `lowest ${text(lowestPa)}`,
    fills('timing') && riseTimeS !== undefined && `up in ${riseTimeS.toFixed(1)} s`,
    fills('hold') && hold && `then ${text(hold.ratePaPerMin)} a minute lost`,
    fills('hold') && hold?.halfTimeS !== undefined && `half in ${timeText(hold.halfTimeS)}`,
  ].filter(Boolean);
  return (
    <section aria-label="From a capture" className="space-y-2 rounded-2xl border border-line p-3">
      <div className="flex flex-wrap items-center gap-3">
        <p className="min-w-60 flex-1">
          <span className="font-semibold">{capture.label}</span>, {KEY_STATE_NAMES[keyState].toLowerCase()}, measured{' '}
          {said.join(', ')}.
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
      {editable && missing.some(({ kind }) => kind === 'hold') && (
        <Choice label="While it fell" options={BLOCKS} value={blocked} onChange={setBlocked} />
      )}
      <ErrorNotice text={errorText(error)} />
    </section>
  );
}

function isSame(entry: Pick<Entry, 'kind' | 'at' | 'value' | 'keyState'>, other: Entry): boolean {
  if (entry.kind !== other.kind || entry.at !== other.at || entry.keyState !== other.keyState) return false;
  // One fall is one hold test, whichever line was said to be blocked.
  const valueOf = ({ value }: Pick<Entry, 'value'>) =>
    JSON.stringify(typeof value === 'object' && 'points' in value ? value.points : value);
  return valueOf(entry) === valueOf(other);
}
