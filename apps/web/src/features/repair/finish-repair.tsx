import { DONE, type RepairState } from '@jarro/core';
import { useState, type FormEvent } from 'react';
import { errorText, useAddRepairMutation } from '../../app/api';
import { useKept } from '../../app/kept';
import { readNumber } from '../../app/units';
import type { CaseDetail } from '@jarro/api-types';
import { Button } from '../../ui/button';
import { Choice } from '../../ui/choice';
import { Field } from '../../ui/field';
import { ErrorNotice } from '../../ui/notice';

const CHANGED = [
  { value: 'yes', label: 'Something was repaired or replaced' },
  { value: 'no', label: 'Nothing was changed' },
] as const;

/** Ends the repair. From then on what is read is the recheck, and what was read before stays beside it. */
export function FinishRepair({ item, state: { open, plan } }: { item: CaseDetail; state: RepairState }) {
  const [kept, keep] = useKept<string>(`repair/${item.id}`);
  const [changed, setChanged] = useState<'yes' | 'no'>(plan.parts.length > 0 ? 'yes' : 'no');
  const [minutes, setMinutes] = useState('');
  const [addRepair, { error, isLoading }] = useAddRepairMutation();
  const what = kept ?? '';
  const submit = async (event: FormEvent) => {
    event.preventDefault();
    const took = readNumber(minutes);
    const value = { what, changed: changed === 'yes', ...(took !== undefined && { minutes: took }) };
    const result = await addRepair({ caseId: item.id, at: DONE, value });
    if (!('error' in result)) keep(undefined);
  };
  return (
    <form onSubmit={(event) => void submit(event)} className="space-y-3 rounded-2xl border border-line bg-paper p-4">
      <h3 className="text-xl">Finish the repair</h3>
      <label className="block">
        <span className="label">What was done, in a sentence for the report</span>
        <textarea
          className="input mt-1 py-2"
          rows={2}
          required
          minLength={3}
          maxLength={1000}
          value={what}
          onChange={(event) => keep(event.target.value || undefined)}
        />
      </label>
      <div className="flex flex-wrap items-end gap-x-6 gap-y-3">
        <Choice label="At the vehicle" options={CHANGED} value={changed} onChange={setChanged} />
        <Field
          label="Minutes it took"
          inputMode="decimal"
          width="w-36"
          value={minutes}
          onChange={(event) => setMinutes(event.target.value)}
        />
      </div>
      {open.length > 0 && (
        <p className="text-ochre">
          {open.length === 1 ? 'One particular is' : `${open.length} particulars are`} still open: tick it, or say why
          it was left out.
        </p>
      )}
      <ErrorNotice text={errorText(error)} />
      <Button type="submit" look="rust" className="text-lg" disabled={isLoading || open.length > 0}>
        The repair is finished
      </Button>
    </form>
  );
}
