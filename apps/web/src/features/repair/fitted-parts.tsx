import { PART, phasesOf, standing, type FittedPart } from '@jarro/core';
import { useForm } from 'react-hook-form';
import { errorText, useAddRepairMutation } from '../../app/api';
import type { CaseDetail } from '@jarro/api-types';
import { Button } from '../../ui/button';
import { Field } from '../../ui/field';
import { ErrorNotice } from '../../ui/notice';
import { VoidEntry } from '../case/void-entry';

/** Every part that went in, by name and number. */
export function FittedParts({ item, editable }: { item: CaseDetail; editable: boolean }) {
  const { verdict } = phasesOf(item.evidence, item.stage);
  const parts = standing(item.evidence).filter(
    ({ kind, at, sequence }) => kind === 'repair' && at === PART && sequence > (verdict?.sequence ?? 0),
  );
  const { register, handleSubmit, reset } = useForm<FittedPart>({ defaultValues: { name: '', number: '' } });
  const [addRepair, { error, isLoading }] = useAddRepairMutation();
  if (parts.length === 0 && !editable) return null;
  const submit = handleSubmit(async (value) => {
    const result = await addRepair({ caseId: item.id, at: PART, value });
    if (!('error' in result)) reset();
  });
  return (
    <section aria-label="Parts fitted" className="space-y-2">
      <h3 className="text-xl">Parts fitted</h3>
      {parts.map(({ id, value }) => {
        const { name, number } = value as FittedPart;
        return (
          <p key={id} className="flex items-center gap-3 border-b border-line py-1">
            <span className="font-semibold">{name}</span> {number}
            {editable && (
              <span className="ml-auto">
                <VoidEntry caseId={item.id} id={id} />
              </span>
            )}
          </p>
        );
      })}
      {editable && (
        <form onSubmit={(event) => void submit(event)} className="flex flex-wrap items-end gap-2">
          <Field label="Part" required minLength={3} maxLength={120} width="min-w-52 flex-1" {...register('name')} />
          <Field label="Its number" maxLength={60} width="w-48" {...register('number')} />
          <Button type="submit" disabled={isLoading}>
            Add the part
          </Button>
        </form>
      )}
      <ErrorNotice text={errorText(error)} />
    </section>
  );
}
