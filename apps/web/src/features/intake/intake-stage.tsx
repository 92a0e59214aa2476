import {
  BATTERY_SUPPORT,
  CIRCUMSTANCES,
  complaintSentence,
  FREQUENCIES,
  newestEntry,
  SYMPTOMS,
  TAMPERING,
  type Intake,
} from '@jarro/core';
import { useCallback, useEffect, useEffectEvent, useRef, useState, type ComponentProps } from 'react';
import { Controller, FormProvider, useForm, useWatch } from 'react-hook-form';
import { v4 as newId } from 'uuid';
import { errorText, useSaveIntakeMutation } from '../../app/api';
import { useKept } from '../../app/kept';
import { usePressureUnit } from '../../app/units';
import type { CaseDetail } from '@jarro/api-types';
import { Button } from '../../ui/button';
import { Choice, Choices, optionsOf } from '../../ui/choice';
import { Field } from '../../ui/field';
import { ErrorNotice } from '../../ui/notice';
import { entriesOf } from '../case/evidence';
import { useMayMeasure } from '../case/use-may-measure';
import { MeasureSheet } from '../case/measure-sheet';
import { StageFrame } from '../case/stage-head';
import { Photos } from '../notes/photos';
import { ReadingTile } from '../pressure/gauge-tile';
import { useMay } from '../session/use-may';
import { CodesField } from './codes-field';
import { IntakeConflict } from './intake-conflict';
import { formOf, intakeOf, isHalfTyped, numberOrNothing, type IntakeForm } from './intake-form';
import { fieldsThatDiffer } from './intake-words';
import { MakersWindows } from './makers-windows';
import { SensorTable } from './sensor-table';
import { SystemHelper } from './system-helper';
import { VehicleFields } from './vehicle-fields';

/** What is written and not saved yet, with the place in the chain of the version that it began from, and the page it was written on. */
type Draft = IntakeForm & { readonly basis: number; readonly page?: string };

/** What is known before anyone touches the wiring; saved as a whole, every version stays on record. */
export function IntakeStage({ item }: { item: CaseDetail }) {
  const may = useMay();
  const unit = usePressureUnit();
  const editable = item.stage !== 'closed' && may('intake');
  const mayMeasure = useMayMeasure(item);
  const { sequence, ...saved } = item.intake;
  const [page] = useState(() => newId());
  const [kept, keepDraft] = useKept<Draft>(`intake-form/${item.id}`);
  const keep = useCallback((draft?: Draft) => keepDraft(draft && { ...draft, page }), [keepDraft, page]);
  const written = editable ? kept : undefined;
  const isFollowing = useRef(false);
  const form = useForm<IntakeForm>({ defaultValues: written ?? formOf(saved, unit) });
  const { control, register, handleSubmit, reset: resetForm, subscribe } = form;
  const intake = intakeOf(useWatch({ control }) as IntakeForm);
  const basis = written?.basis ?? sequence;
  const [save, { error, isLoading, isSuccess, reset }] = useSaveIntakeMutation();
  const [problem, setProblem] = useState<string>();
  const [measuring, setMeasuring] = useState(false);
  const stale = basis < sequence;
  const dirty = fieldsThatDiffer(saved, intake).length > 0;
  const isTyping = isHalfTyped(form.getValues().typed);
  const done = written !== undefined && !stale && !dirty && !isTyping;
  useEffect(() => {
    if (done) keep(undefined);
  }, [done, keep]);
  useEffect(
    () =>
      subscribe({
        formState: { values: true },
        callback: ({ values }) => {
          // Whoever only reads writes no draft, and what came from another tab is kept already.
          if (!editable || isFollowing.current) return;
          reset();
          setProblem(undefined);
          keep({ ...values, basis });
        },
      }),
    [subscribe, reset, keep, basis, editable],
  );
  // What others save shows where nothing is being written.
  const begin = useEffectEvent(() => {
    if (!written && dirty) resetForm(formOf(saved, unit));
  });
  useEffect(() => begin(), [sequence]);
  // The same intake in another tab is the same sheet of paper: what is written there stands here too.
  const follow = useEffectEvent(() => {
    if (!written || written.page === page) return;
    isFollowing.current = true;
    resetForm({ intake: written.intake, typed: written.typed });
    isFollowing.current = false;
  });
  useEffect(() => follow(), [written]);
  const submit = handleSubmit(
    async (values) => {
      setProblem(undefined);
      const result = await save({ caseId: item.id, basis, intake: intakeOf(values) });
      if (!('error' in result)) keep({ ...values, basis: result.data.sequence });
    },
    (errors) => setProblem(firstMessage(errors)),
  );
  const settle = (merged: Intake) => {
    reset();
    setProblem(undefined);
    const settled = formOf(merged, unit);
    resetForm(settled);
    keep({ ...settled, basis: sequence });
  };
  return (
    <FormProvider {...form}>
      <StageFrame item={item} stage="intake">
        <VehicleFields editable={editable} />
        <blockquote className="border-l-4 border-line pl-3 text-lg">“{item.complaint}”</blockquote>
        <fieldset disabled={!editable || isLoading} className="min-w-0 space-y-5">
          <Controller
            control={control}
            name="intake.symptoms"
            render={({ field: { value, onChange } }) => (
              <Choices label="What it does" options={SYMPTOMS} value={value} onChange={onChange} />
            )}
          />
          <Controller
            control={control}
            name="intake.circumstances"
            render={({ field: { value, onChange } }) => (
              <Choices label="When" options={CIRCUMSTANCES} value={value} onChange={onChange} />
            )}
          />
          <div className="grid grid-cols-[minmax(0,1fr)] items-end gap-4 md:grid-cols-[auto_1fr_1fr]">
            <Controller
              control={control}
              name="intake.frequency"
              render={({ field: { value, onChange } }) => (
                <Choice label="How often" options={optionsOf(FREQUENCIES)} value={value} onChange={onChange} />
              )}
            />
            <Field label="Since" maxLength={120} {...register('intake.since')} />
            {intake.circumstances.includes('after-minutes') && (
              <Field
                label="After how many minutes"
                type="number"
                min={0}
                max={600}
                {...register('intake.afterMinutes', { setValueAs: numberOrNothing })}
              />
            )}
          </div>
          {complaintSentence(intake) && <p className="font-title text-lg font-bold">{complaintSentence(intake)}</p>}
          <SystemHelper />
          <CodesField />
          <div className="grid gap-4 md:grid-cols-2">
            <TextField label="Repairs before this, and parts" maxLength={1000} {...register('intake.priorRepairs')} />
            <TextField label="Who condemned what" maxLength={200} {...register('intake.condemnedBy')} />
          </div>
          <Controller
            control={control}
            name="intake.tampering"
            render={({ field: { value, onChange } }) => (
              <Choices label="Signs of tampering" options={TAMPERING} value={value} onChange={onChange} />
            )}
          />
          <div className="flex flex-wrap items-end gap-x-6 gap-y-3">
            <Controller
              control={control}
              name="intake.batterySupport"
              render={({ field: { value, onChange } }) => (
                <Choice
                  label="Helping the battery"
                  options={optionsOf(BATTERY_SUPPORT)}
                  value={value}
                  onChange={onChange}
                />
              )}
            />
            <div className="w-44">
              <ReadingTile
                kind="battery"
                at="rest"
                entry={newestEntry(entriesOf(item), 'battery', 'rest')}
                onMeasure={mayMeasure ? () => setMeasuring(true) : undefined}
              />
            </div>
          </div>
          <MakersWindows />
          {intake.features.railSensor === 'yes' && <SensorTable />}
          <TextField label="Notes" maxLength={2000} {...register('intake.notes')} />
        </fieldset>
        {editable && (
          <div className="sticky bottom-0 -mx-4 space-y-2 border-t border-line bg-card px-4 py-3">
            {!stale && <ErrorNotice text={problem ?? errorText(error)} />}
            {stale && <IntakeConflict item={item} basis={basis} mine={intake} onSettle={settle} />}
            <div className="flex items-center gap-3">
              <Button
                look="rust"
                className="text-lg"
                onClick={() => void submit()}
                disabled={isLoading || stale || !(dirty || isTyping)}
              >
                Save the intake
              </Button>
              <span className="label" role="status">
                {isSuccess && !dirty ? 'Saved and sealed.' : dirty ? 'Not saved yet; kept on this device.' : ''}
              </span>
              {dirty && !stale && (
                <Button look="bare" onClick={() => settle(saved)}>
                  Drop my changes
                </Button>
              )}
            </div>
          </div>
        )}
        <Photos item={item} stage="intake" />
        {measuring && (
          <MeasureSheet caseId={item.id} what={{ kind: 'battery', at: 'rest' }} onClose={() => setMeasuring(false)} />
        )}
      </StageFrame>
    </FormProvider>
  );
}

/** A text that grows with what is written. */
function TextField({ label, ...rest }: ComponentProps<'textarea'> & { label: string }) {
  return (
    <label className="block">
      <span className="label">{label}</span>
      <textarea className="input mt-1 field-sizing-content resize-none py-2.5" rows={1} {...rest} />
    </label>
  );
}

/** The first message of a form's errors, however deep its field lies. */
function firstMessage(errors: object): string | undefined {
  for (const error of Object.values(errors) as unknown[]) {
    if (typeof error !== 'object' || error === null) continue;
    const found = 'message' in error && typeof error.message === 'string' ? error.message : firstMessage(error);
    if (found) return found;
  }
  return undefined;
}
