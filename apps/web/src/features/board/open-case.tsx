import { useDeferredValue, useState } from 'react';
import { useForm, useWatch } from 'react-hook-form';
import { useNavigate } from 'react-router';
import { errorText, useBoardQuery, useOpenCaseMutation } from '../../app/api';
import type { BoardCase } from '@jarro/api-types';
import { Button } from '../../ui/button';
import { ErrorNotice } from '../../ui/notice';
import { Sheet } from '../../ui/sheet';
import { EVERYTHING } from './everything';

interface Fields {
  model: string;
  year: string;
  engine: string;
  plate: string;
  complaint: string;
}

export function OpenCase({ open, onClose }: { open: boolean; onClose: () => void }) {
  const { register, handleSubmit, control } = useForm<Fields>();
  const earlier = useEarlierVisits(useWatch({ control, name: 'plate' }) ?? '');
  const [comebackOf, setComebackOf] = useState('');
  const [openCase, { error, isLoading }] = useOpenCaseMutation();
  const navigate = useNavigate();
  const submit = handleSubmit(async ({ year, ...fields }) => {
    const link = earlier.some(({ id }) => id === comebackOf) ? { comebackOf } : {};
    const result = await openCase({ ...fields, ...(year && { year: Number(year) }), ...link });
    if (!('error' in result)) await navigate(`/cases/${result.data.id}`);
  });
  return (
    <Sheet
      title="Open a case"
      hint="Just enough to start measuring. More can be added later."
      open={open}
      onClose={onClose}
    >
      <form onSubmit={(event) => void submit(event)} className="grid gap-4 sm:grid-cols-6">
        <Field label="Vehicle" className="sm:col-span-4">
          <input className="input" autoFocus required maxLength={120} {...register('model')} />
        </Field>
        <Field label="Year" className="sm:col-span-2">
          <input className="input" type="number" inputMode="numeric" min={1950} max={2100} {...register('year')} />
        </Field>
        <Field label="Engine" className="sm:col-span-4">
          <input className="input" maxLength={60} {...register('engine')} />
        </Field>
        <Field label="Plate" className="sm:col-span-2">
          <input className="input" maxLength={20} {...register('plate')} />
        </Field>
        <Field label="Complaint, in the customer’s words" className="sm:col-span-6">
          <textarea className="input py-2" rows={3} required minLength={3} maxLength={500} {...register('complaint')} />
        </Field>
        {earlier.length > 0 && (
          <Field label="This plate was here before" className="sm:col-span-6">
            <select className="input" value={comebackOf} onChange={(event) => setComebackOf(event.target.value)}>
              <option value="">It comes with something else</option>
              {earlier.map(({ id, number, complaint }) => (
                <option key={id} value={id}>
                  A comeback of case {number}: {complaint}
                </option>
              ))}
            </select>
          </Field>
        )}
        <div className="space-y-3 sm:col-span-6">
          <ErrorNotice text={errorText(error)} />
          <Button type="submit" look="rust" className="w-full text-lg" disabled={isLoading}>
            Open the case
          </Button>
        </div>
      </form>
    </Sheet>
  );
}

/** Earlier cases of the same plate, newest first. */
function useEarlierVisits(plate: string): readonly BoardCase[] {
  const search = useDeferredValue(plate.trim());
  const { data } = useBoardQuery({ ...EVERYTHING, search }, { skip: search.length < SHORTEST_PLATE });
  const same = (item: BoardCase) => item.vehicle?.plate.toUpperCase() === search.toUpperCase();
  return search.length < SHORTEST_PLATE ? [] : (data?.cases.filter(same) ?? []);
}

const SHORTEST_PLATE = 3;

function Field({ label, className, children }: { label: string; className: string; children: React.ReactNode }) {
  return (
    <label className={`block ${className}`}>
      <span className="label">{label}</span>
      <span className="mt-1 block">{children}</span>
    </label>
  );
}
