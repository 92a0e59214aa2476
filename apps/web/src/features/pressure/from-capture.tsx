import type { PressureResult } from '@jarro/core';
import { errorText, useAddEntryMutation } from '../../app/api';
import type { CaseDetail, NewEntry } from '../../app/types';
import { pressureText, usePressureUnit } from '../../app/units';
import { Button } from '../../ui/button';
import { ErrorNotice } from '../../ui/notice';
import { standingCaptures } from '../case/evidence';
import { timeText } from './hold-test';

/** What a recorded rail pressure measured, to be taken into the sheet with one press. */
export function FromCapture({ item, editable }: { item: CaseDetail; editable: boolean }) {
  const unit = usePressureUnit();
  const [addEntry, { error, isLoading }] = useAddEntryMutation();
  const capture = standingCaptures(item)
    .filter(({ analysis }) => analysis?.pressure)
    .at(-1);
  const pressure = capture?.analysis?.pressure;
  if (!capture || !pressure) return null;
  const take = async () => {
    for (const entry of entriesFrom(pressure)) {
      const result = await addEntry({ caseId: item.id, ...entry, faultPresent: true });
      if ('error' in result) return;
    }
  };
  return (
    <section
      aria-label="From a capture"
      className="flex flex-wrap items-center gap-3 rounded-2xl border border-line p-3"
    >
      <p className="flex-1">
        <span className="font-semibold">{capture.label}</span> measured
        {pressure.primePa !== undefined && ` ${pressureText(pressure.primePa, unit)} ${unit} at prime`}
        {pressure.riseTimeS !== undefined && `, up in ${pressure.riseTimeS.toFixed(1)} s`}
        {pressure.hold && `, then ${pressureText(pressure.hold.ratePaPerMin, unit)} ${unit} a minute lost`}
        {pressure.hold?.halfTimeS !== undefined && `, half in ${timeText(pressure.hold.halfTimeS)}`}.
      </p>
      {editable && pressure.primePa !== undefined && (
        <Button look="ink" onClick={() => void take()} disabled={isLoading}>
          Take into the sheet
        </Button>
      )}
      <ErrorNotice text={errorText(error)} />
    </section>
  );
}

function entriesFrom({
  primePa,
  riseTimeS,
  holdRecord,
}: PressureResult): Pick<NewEntry, 'kind' | 'at' | 'value' | 'keyState'>[] {
  return [
    ...(primePa === undefined
      ? []
      : [{ kind: 'pressure' as const, at: 'rail', value: Math.round(primePa), keyState: 'prime' as const }]),
    ...(riseTimeS === undefined
      ? []
      : [
          { kind: 'timing' as const, at: 'rise_time', value: Number(riseTimeS.toFixed(2)), keyState: 'prime' as const },
        ]),
    ...(holdRecord ? [{ kind: 'hold' as const, at: 'rail', value: holdRecord, keyState: 'after-off' as const }] : []),
  ];
}
