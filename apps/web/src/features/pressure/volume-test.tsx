import { Timer } from 'lucide-react';
import { useState, type FormEvent } from 'react';
import { errorText, useAddEntryMutation } from '../../app/api';
import type { CaseDetail } from '@jarro/api-types';
import { readNumber } from '../../app/units';
import { Button } from '../../ui/button';
import { Field } from '../../ui/field';
import { ErrorNotice } from '../../ui/notice';
import { useFaultShows } from '../case/fault-slice';
import { Stopwatch } from './stopwatch';

const LITRE_M3 = 1e-3;
const M3_PER_S_TO_LPH = 3.6e6;

/** What runs into a measuring jar, and in how long. */
export function VolumeTest({ item, editable }: { item: CaseDetail; editable: boolean }) {
  const [litres, setLitres] = useState('');
  const [seconds, setSeconds] = useState('');
  const [problem, setProblem] = useState<string>();
  const [addEntry, { error, isLoading }] = useAddEntryMutation();
  const [timing, setTiming] = useState(false);
  const [faultPresent] = useFaultShows(item.id);
  const { volume } = item.sheet;
  const submit = async (event: FormEvent) => {
    event.preventDefault();
    const filled = readNumber(litres);
    const durationS = readNumber(seconds);
    if (filled === undefined || durationS === undefined)
      return setProblem('Type the litres and the seconds as numbers.');
    setProblem(undefined);
    const value = { volumeM3: filled * LITRE_M3, durationS };
    const result = await addEntry({
      caseId: item.id,
      kind: 'volume',
      at: 'rail',
      value,
      keyState: 'prime',
      faultPresent,
    });
    if ('error' in result) return;
    setLitres('');
    setSeconds('');
  };
  return (
    <section aria-label="Volume">
      <h3 className="text-lg">Volume</h3>
      {volume && (
        <p className="mt-1">
          <span className="text-3xl font-bold">{(volume.m3PerS * M3_PER_S_TO_LPH).toFixed(0)}</span> L/h
        </p>
      )}
      {editable ? (
        <form onSubmit={(event) => void submit(event)} className="mt-1 flex flex-wrap items-end gap-2">
          <Field
            label="Litres"
            width="w-24"
            inputMode="decimal"
            value={litres}
            onChange={(event) => setLitres(event.target.value)}
          />
          <Field
            label="Seconds"
            width="w-24"
            inputMode="decimal"
            value={seconds}
            onChange={(event) => setSeconds(event.target.value)}
          />
          <Button onClick={() => setTiming(true)}>
            <Timer aria-hidden className="size-5" /> Time it
          </Button>
          <Button type="submit" disabled={isLoading}>
            Keep
          </Button>
          <ErrorNotice text={problem ?? errorText(error)} />
        </form>
      ) : (
        !volume && <p className="label">Not measured.</p>
      )}
      {timing && (
        <Stopwatch
          title="Volume"
          hint="Line into a measuring jar made for fuel, nothing hot or sparking near, helper at the pump’s power. Press as it begins to run, press again as it stops."
          begin="It runs"
          end="It stops"
          onKeep={(time) => {
            setSeconds(String(time));
            setTiming(false);
          }}
          onClose={() => setTiming(false)}
        />
      )}
    </section>
  );
}
