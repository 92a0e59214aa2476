import { pressureText, ratiometricTable, shownAs } from '@jarro/core';
import { useState } from 'react';
import { useController, useFormContext } from 'react-hook-form';
import { readNumber, usePressureUnit } from '../../app/units';
import { Button } from '../../ui/button';
import { Field } from '../../ui/field';
import { ErrorNotice } from '../../ui/notice';
import { UNFINISHED, type IntakeForm } from './intake-form';

/** The rail sensor's volts and pressures, for the three-way check. */
export function SensorTable() {
  const { control, register, getValues, setValue } = useFormContext<IntakeForm>();
  const { field } = useController({ control, name: 'intake.sensorTable' });
  const unit = usePressureUnit();
  const { toSi } = shownAs('Pa', 'rail', unit);
  const [problem, setProblem] = useState<string>();
  const typed = (name: 'volts' | 'pressure' | 'fullScale') =>
    register(`typed.sensor.${name}`, {
      onChange: () => setProblem(undefined),
      validate: (_text, form) => UNFINISHED.sensor(form.typed.sensor),
    });
  const table = field.value;
  const addRow = () => {
    const { volts, pressure, fullScale } = getValues('typed.sensor');
    const v = readNumber(volts);
    const p = readNumber(pressure);
    if (v === undefined || p === undefined)
      return setProblem(`A point is two numbers: volts, and pressure in ${unit}.`);
    field.onChange([...table.filter(([known]) => known !== v), [v, toSi(p)] as const].sort((a, b) => a[0] - b[0]));
    setValue('typed.sensor', { volts: '', pressure: '', fullScale });
  };
  const useRatiometric = () => {
    const full = readNumber(getValues('typed.sensor.fullScale'));
    if (full === undefined || full <= 0) return setProblem(`Type the sensor’s full scale in ${unit} first.`);
    field.onChange(ratiometricTable(toSi(full)));
  };
  return (
    <section aria-label="Rail sensor table" className="space-y-2 rounded-2xl border border-line p-4">
      <h3 className="font-sans font-semibold">Rail sensor: volts and pressure</h3>
      {table.length > 0 && (
        <ul className="flex flex-wrap gap-2">
          {table.map(([v, pascal]) => (
            <li key={v} className="flex items-center gap-1 rounded-xl border border-line pl-3">
              {v.toFixed(2)} V = {pressureText(pascal, unit)} {unit}
              <Button look="bare" onClick={() => field.onChange(table.filter(([known]) => known !== v))}>
                Remove
              </Button>
            </li>
          ))}
        </ul>
      )}
      <div className="flex flex-wrap items-end gap-2">
        <Field label="Volts" width="w-28" inputMode="decimal" {...typed('volts')} />
        <Field label={`Pressure, ${unit}`} width="w-28" inputMode="decimal" {...typed('pressure')} />
        <Button onClick={addRow}>Add a point</Button>
        <span className="px-2 pb-3 text-soft">or</span>
        <Field label={`Full scale, ${unit}`} width="w-28" inputMode="decimal" {...typed('fullScale')} />
        <Button onClick={useRatiometric}>0.5 to 4.5 V sensor</Button>
      </div>
      <ErrorNotice text={problem} />
    </section>
  );
}
