import { CONTROLS, KEY_STATE_NAMES, REGULATORS } from '@jarro/core';
import { useFieldArray, useFormContext } from 'react-hook-form';
import { usePressureUnit } from '../../app/units';
import { DataTable } from '../../ui/data-table';
import { useComposed, useProblem } from './composer';
import { Labelled, NumberField, Tick } from './fields';
import { EMPTY_MEANING, EXPECTED_STATES, WINDOW_KINDS, type ProfileForm } from './profile-form';
import { CONTROL_NAMES, REGULATOR_NAMES } from './station-words';
import { EndsField, TableField } from './table-field';

/** What is expected of the whole: how it is switched, its pump at its rated point, its windows and tables. */
export function SystemFields() {
  return (
    <div className="grid grid-cols-[minmax(0,1fr)] items-start gap-3 md:grid-cols-2">
      <Switching />
      <Rating />
      <Windows />
      <Tables />
    </div>
  );
}

function Switching() {
  const { register } = useFormContext<ProfileForm>();
  return (
    <section aria-label="Switching" className="card space-y-3 p-4">
      <h2 className="text-lg">How it is switched</h2>
      <Labelled label="Control" problem={useProblem('control')}>
        <select className="input mt-1" {...register('control')}>
          {CONTROLS.map((control) => (
            <option key={control} value={control}>
              {CONTROL_NAMES[control]}
            </option>
          ))}
        </select>
      </Labelled>
      <Labelled label="What holds the pressure" problem={useProblem('regulator')}>
        <select className="input mt-1" {...register('regulator')}>
          <option value="">Not known</option>
          {REGULATORS.map((regulator) => (
            <option key={regulator} value={regulator}>
              {REGULATOR_NAMES[regulator]}
            </option>
          ))}
        </select>
      </Labelled>
      <div className="grid grid-cols-2 items-end gap-3">
        <NumberField label="Prime" unit="s" problem={useProblem('primeS')} {...register('primeS')} />
        <Tick label="Power only while cranking" {...register('crankOnly')} />
      </div>
    </section>
  );
}

function Rating() {
  const unit = usePressureUnit();
  const { register } = useFormContext<ProfileForm>();
  const { problems } = useComposed();
  const problem = (field: string) => problems.find((one) => one.field === field)?.message;
  const rated = (label: string, of: string, field: keyof ProfileForm['pump']) => (
    <NumberField label={label} unit={of} problem={problem(`pump.${field}`)} {...register(`pump.${field}`)} />
  );
  return (
    <section aria-label="Pump" className="card space-y-3 p-4">
      <h2 className="text-lg">A sound pump, at one point</h2>
      <div className="grid grid-cols-2 gap-3">
        {rated('At the pump', 'V', 'volts')}
        {rated('Draws', 'A', 'amperes')}
        {rated('Turns', 'rpm', 'rpm')}
        {rated('Against', unit, 'pressure')}
        {rated('Winding', 'Ω', 'windingOhm')}
        <NumberField label="Commutator bars, if known" unit="" problem={problem('bars')} {...register('bars')} />
        <NumberField
          label="Ripple at most"
          unit="%"
          problem={problem('ripplePercent')}
          {...register('ripplePercent')}
        />
      </div>
      {problem('pump') && <p className="text-rust">{problem('pump')}</p>}
    </section>
  );
}

function Windows() {
  const unit = usePressureUnit();
  const { register } = useFormContext<ProfileForm>();
  const { problems } = useComposed();
  const wrong = problems.find(({ field }) => field.startsWith('windows.'));
  const titles = { draw: ['Draw', 'A'], pressure: ['Pressure', unit], speed: ['Speed', 'rpm'] } as const;
  return (
    <section aria-label="Windows" className="card space-y-2 p-4">
      <h2 className="text-lg">What to expect, by state</h2>
      <DataTable
        rows={EXPECTED_STATES}
        keyOf={(state) => state}
        columns={[
          { title: '', cell: (state) => KEY_STATE_NAMES[state] },
          ...WINDOW_KINDS.map((kind) => ({
            title: titles[kind].join(', '),
            cell: (state: (typeof EXPECTED_STATES)[number]) => (
              <EndsField
                label={`${titles[kind][0]}, ${KEY_STATE_NAMES[state].toLowerCase()}`}
                from={register(`windows.${state}.${kind}.from`)}
                to={register(`windows.${state}.${kind}.to`)}
              />
            ),
          })),
        ]}
      />
      {wrong && <p className="text-rust">{wrong.message}</p>}
    </section>
  );
}

function Tables() {
  const unit = usePressureUnit();
  return (
    <section aria-label="Tables" className="card space-y-4 p-4">
      <div>
        <h2 className="text-lg">Command duty → output duty</h2>
        <p className="label">On some systems a command of 50 % means fully on: write it down here once.</p>
        <TableField label="Command, % and output, %" name="commandTable" />
        <TableProblem of="commandTable" />
      </div>
      <div>
        <h2 className="text-lg">Rail sensor: V → {unit}</h2>
        <TableField label={`Volts and ${unit}`} name="sensorTable" />
        <TableProblem of="sensorTable" />
      </div>
      <Feedback />
    </section>
  );
}

function Feedback() {
  const { control, register } = useFormContext<ProfileForm>();
  const { fields, append } = useFieldArray({ control, name: 'feedbackTable' });
  return (
    <div>
      <h2 className="text-lg">Feedback duty → what it means</h2>
      {fields.map((row, i) => {
        const onChange = () => i === fields.length - 1 && append(EMPTY_MEANING, { shouldFocus: false });
        return (
          <div key={row.id} className="mt-1 grid grid-cols-[9rem_1fr] gap-2">
            <EndsField
              label={`Feedback ${i + 1}, %`}
              from={register(`feedbackTable.${i}.from`, { onChange })}
              to={register(`feedbackTable.${i}.to`, { onChange })}
            />
            <input
              aria-label={`Meaning of feedback ${i + 1}`}
              className="input"
              maxLength={120}
              {...register(`feedbackTable.${i}.meaning`, { onChange })}
            />
          </div>
        );
      })}
      <TableProblem of="feedbackTable" />
    </div>
  );
}

function TableProblem({ of }: { of: string }) {
  const { problems } = useComposed();
  const wrong = problems.find(({ field }) => field.startsWith(of));
  return wrong && <p className="text-rust">{wrong.message}</p>;
}
