import { provenCaptures } from '@jarro/core';
import { BookmarkCheck, BookmarkPlus } from 'lucide-react';
import { useState, type FormEvent } from 'react';
import { errorText, usePutOnShelfMutation, useShelfQuery } from '../../app/api';
import { readNumber } from '../../app/units';
import type { CaseDetail } from '@jarro/api-types';
import { Button } from '../../ui/button';
import { Field } from '../../ui/field';
import { ErrorNotice } from '../../ui/notice';
import { Sheet } from '../../ui/sheet';
import { standingCaptures, type LinkedCapture } from '../case/evidence';
import { useMay } from '../session/use-may';

/** What a closed case proved good, for the next one of its kind. */
export function PutOnShelf({ item }: { item: CaseDetail }) {
  const { data: shelf } = useShelfQuery();
  const may = useMay();
  const [putting, setPutting] = useState<LinkedCapture>();
  const proven = keepable(item);
  if (proven.length === 0 || !shelf) return null;
  return (
    <section aria-label="For the shelf" className="space-y-2">
      <h3 className="text-xl">For the next one of its kind</h3>
      {proven.map((capture) => (
        <p key={capture.id} className="flex flex-wrap items-center gap-3 border-b border-line py-1">
          <span className="mr-auto">{capture.label}</span>
          {shelf.some(({ captureId }) => captureId === capture.id) ? (
            <span className="flex min-h-11 items-center gap-1.5 font-semibold text-mineral">
              <BookmarkCheck aria-hidden className="size-5" /> on the shelf
            </span>
          ) : (
            may('measure') && (
              <Button onClick={() => setPutting(capture)}>
                <BookmarkPlus aria-hidden className="size-5" /> Keep as known-good
              </Button>
            )
          )}
        </p>
      ))}
      {putting && <Naming item={item} capture={putting} onClose={() => setPutting(undefined)} />}
    </section>
  );
}

/** What the case proved good, as far as it shows a steady draw. */
function keepable(item: CaseDetail): LinkedCapture[] {
  const proven = new Set(provenCaptures(item.evidence, item.stage).map(({ id }) => id));
  return standingCaptures(item).filter(({ id, analysis }) => proven.has(id) && analysis?.ramp?.steady);
}

function Naming({ item, capture, onClose }: { item: CaseDetail; capture: LinkedCapture; onClose: () => void }) {
  const { vehicle } = item;
  const [label, setLabel] = useState([vehicle?.model, vehicle?.engine, vehicle?.year].filter(Boolean).join(', '));
  const [temperature, setTemperature] = useState('');
  const [put, { error, isLoading }] = usePutOnShelfMutation();
  const submit = async (event: FormEvent) => {
    event.preventDefault();
    const temperatureC = readNumber(temperature);
    const result = await put({ captureId: capture.id, label, ...(temperatureC !== undefined && { temperatureC }) });
    if (!('error' in result)) onClose();
  };
  return (
    <Sheet
      title="Keep as known-good"
      hint="Volts at the pump and pressure are taken along, as they were read beside it."
      open
      onClose={onClose}
    >
      <form onSubmit={(event) => void submit(event)} className="space-y-4">
        <Field
          label="Name, so that it is found again"
          autoFocus
          required
          minLength={3}
          maxLength={120}
          value={label}
          onChange={(event) => setLabel(event.target.value)}
        />
        <Field
          label="Temperature, °C, if it matters"
          inputMode="decimal"
          width="w-56"
          value={temperature}
          onChange={(event) => setTemperature(event.target.value)}
        />
        <ErrorNotice text={errorText(error)} />
        <Button type="submit" look="rust" disabled={isLoading}>
          Keep it
        </Button>
      </form>
    </Sheet>
  );
}
