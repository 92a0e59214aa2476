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
import { useEffect, useState } from 'react';
import { errorText, useSaveIntakeMutation } from '../../app/api';
import { useKept } from '../../app/kept';
import type { CaseDetail } from '@jarro/api-types';
import { Button } from '../../ui/button';
import { Choice, Choices, optionsOf } from '../../ui/choice';
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
import { fieldsThatDiffer } from './intake-words';
import { MakersWindows } from './makers-windows';
import { SensorTable } from './sensor-table';
import { SystemHelper } from './system-helper';
import { VehicleFields } from './vehicle-fields';

type Draft = Intake & { readonly basis: number };

const draftOf = ({ intake: { sequence, ...intake } }: CaseDetail): Draft => ({ ...intake, basis: sequence });

/** What is known before anyone touches the wiring; saved as a whole, every version stays on record. */
export function IntakeStage({ item }: { item: CaseDetail }) {
  const may = useMay();
  const editable = item.stage !== 'closed' && may('intake');
  const mayMeasure = useMayMeasure(item);
  const saved = draftOf(item);
  const [kept, keep] = useKept<Draft>(`intake/${item.id}`);
  const draft = (editable ? kept : undefined) ?? saved;
  const [save, { error, isLoading, isSuccess, reset }] = useSaveIntakeMutation();
  const [unfinished, setUnfinished] = useState<Readonly<Record<string, string | undefined>>>({});
  const [problem, setProblem] = useState<string>();
  const [measuring, setMeasuring] = useState(false);
  // Fields with a text of their own begin anew from what was settled.
  const [settled, setSettled] = useState(0);
  const { basis, ...intake } = draft;
  const stale = basis !== item.intake.sequence;
  const dirty = fieldsThatDiffer(item.intake, intake).length > 0;
  const done = kept !== undefined && !stale && !dirty;
  useEffect(() => {
    if (done) keep(undefined);
  }, [done, keep]);
  const change = (changes: Partial<Intake>) => {
    reset();
    keep({ ...draft, ...changes });
  };
  const leave = (field: string) => (left: string | undefined) => {
    setProblem(undefined);
    setUnfinished((now) => ({ ...now, [field]: left }));
  };
  const submit = async () => {
    const left = Object.values(unfinished).find(Boolean);
    setProblem(left);
    if (left) return;
    const result = await save({ caseId: item.id, basis, intake });
    if (!('error' in result)) keep({ ...draft, basis: result.data.sequence });
  };
  const settle = (merged: Intake) => {
    reset();
    keep({ ...merged, basis: item.intake.sequence });
    setUnfinished({});
    setSettled((times) => times + 1);
  };
  return (
    <StageFrame item={item} stage="intake">
      {draft.vehicle && (
        <VehicleFields vehicle={draft.vehicle} editable={editable} onChange={(vehicle) => change({ vehicle })} />
      )}
      <blockquote className="border-l-4 border-line pl-3 text-lg">“{item.complaint}”</blockquote>
      <fieldset disabled={!editable || isLoading} className="min-w-0 space-y-5">
        <Choices
          label="What it does"
          options={SYMPTOMS}
          value={draft.symptoms}
          onChange={(symptoms) => change({ symptoms })}
        />
        <Choices
          label="When"
          options={CIRCUMSTANCES}
          value={draft.circumstances}
          onChange={(circumstances) => change({ circumstances })}
        />
        <div className="grid grid-cols-[minmax(0,1fr)] items-end gap-4 md:grid-cols-[auto_1fr_1fr]">
          <Choice
            label="How often"
            options={optionsOf(FREQUENCIES)}
            value={draft.frequency}
            onChange={(frequency) => change({ frequency })}
          />
          <label className="block">
            <span className="label">Since</span>
            <input
              className="input mt-1"
              maxLength={120}
              value={draft.since}
              onChange={(event) => change({ since: event.target.value })}
            />
          </label>
          {draft.circumstances.includes('after-minutes') && (
            <label className="block">
              <span className="label">After how many minutes</span>
              <input
                className="input mt-1"
                type="number"
                min={0}
                max={600}
                value={draft.afterMinutes ?? ''}
                onChange={(event) => change({ afterMinutes: event.target.valueAsNumber || undefined })}
              />
            </label>
          )}
        </div>
        {complaintSentence(intake) && <p className="font-title text-lg font-bold">{complaintSentence(intake)}</p>}
        <SystemHelper
          intake={intake}
          onChange={(changes) => {
            change(changes);
            // Without a sensor its table goes, and what was typed for it.
            if (changes.features && changes.features.railSensor !== 'yes') leave('sensor-table')(undefined);
          }}
        />
        <CodesField codes={draft.codes} onChange={(codes) => change({ codes })} onUnfinished={leave('codes')} />
        <div className="grid gap-4 md:grid-cols-2">
          <TextField
            label="Repairs before this, and parts"
            value={draft.priorRepairs}
            most={1000}
            onChange={(priorRepairs) => change({ priorRepairs })}
          />
          <TextField
            label="Who condemned what"
            value={draft.condemnedBy}
            most={200}
            onChange={(condemnedBy) => change({ condemnedBy })}
          />
        </div>
        <Choices
          label="Signs of tampering"
          options={TAMPERING}
          value={draft.tampering}
          onChange={(tampering) => change({ tampering })}
        />
        <div className="flex flex-wrap items-end gap-x-6 gap-y-3">
          <Choice
            label="Helping the battery"
            options={optionsOf(BATTERY_SUPPORT)}
            value={draft.batterySupport}
            onChange={(batterySupport) => change({ batterySupport })}
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
        <MakersWindows
          key={settled}
          windows={draft.makersWindows}
          onChange={(makersWindows) => change({ makersWindows })}
          onUnfinished={(state, left) => leave(`window-${state}`)(left)}
        />
        {draft.features.railSensor === 'yes' && (
          <SensorTable
            table={draft.sensorTable}
            onChange={(sensorTable) => change({ sensorTable })}
            onUnfinished={leave('sensor-table')}
          />
        )}
        <TextField label="Notes" value={draft.notes} most={2000} onChange={(notes) => change({ notes })} />
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
              disabled={isLoading || stale || !(dirty || Object.values(unfinished).some(Boolean))}
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
  );
}

function TextField({
  label,
  value,
  most,
  onChange,
}: {
  label: string;
  value: string;
  most: number;
  onChange: (value: string) => void;
}) {
  return (
    <label className="block">
      <span className="label">{label}</span>
      <textarea
        className="input mt-1 field-sizing-content resize-none py-2.5"
        rows={1}
        maxLength={most}
        value={value}
        onChange={(event) => onChange(event.target.value)}
      />
    </label>
  );
}
