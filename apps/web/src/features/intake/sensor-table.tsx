import { type Intake, pressureText, ratiometricTable, shownAs } from '@jarro/core';
import { useState } from 'react';
import { readNumber, usePressureUnit } from '../../app/units';
import { Button } from '../../ui/button';
import { Field } from '../../ui/field';
import { ErrorNotice } from '../../ui/notice';

type Table = Intake['sensorTable'];

/** The rail sensor's volts and pressures, for the three-way check. */
export function SensorTable({
  table,
  onChange,
  onUnfinished,
}: {
  table: Table;
  onChange: (table: Table) => void;
  /** A point stands typed and not added, or none does any more. */
  onUnfinished: (problem: string | undefined) => void;
}) {
  const unit = usePressureUnit();
  const { toSi } = shownAs('Pa', 'rail', unit);
  const [typed, setTyped] = useState({ volts: '', pressure: '', fullScale: '' });
  const [problem, setProblem] = useState<string>();
  const type = (changes: Partial<typeof typed>) => {
    const now = { ...typed, ...changes };
    setTyped(now);
    setProblem(undefined);
    const left = now.volts.trim() || now.pressure.trim();
    onUnfinished(
      left ? 'A point of the rail sensor’s table is typed but not added: add it, or empty both.' : undefined,
    );
  };
  const addRow = () => {
    const v = readNumber(typed.volts);
    const p = readNumber(typed.pressure);
    if (v === undefined || p === undefined)
      return setProblem(`A point is two numbers: volts, and pressure in ${unit}.`);
    onChange([...table.filter(([known]) => known !== v), [v, toSi(p)] as const].sort((a, b) => a[0] - b[0]));
    type({ volts: '', pressure: '' });
  };
  const useRatiometric = () => {
    const full = readNumber(typed.fullScale);
    if (full === undefined || full <= 0) return setProblem(`Type the sensor’s full scale in ${unit} first.`);
    onChange(ratiometricTable(toSi(full)));
  };
  return (
    <section aria-label="Rail sensor table" className="space-y-2 rounded-2xl border border-line p-4">
      <h3 className="font-sans font-semibold">Rail sensor: volts and pressure</h3>
      {table.length > 0 && (
        <ul className="flex flex-wrap gap-2">
          {table.map(([v, pascal]) => (
            <li key={v} className="flex items-center gap-1 rounded-xl border border-line pl-3">
              {v.toFixed(2)} V = {pressureText(pascal, unit)} {unit}
              <Button look="bare" onClick={() => onChange(table.filter(([known]) => known !== v))}>
                Remove
              </Button>
            </li>
          ))}
        </ul>
      )}
      <div className="flex flex-wrap items-end gap-2">
        <Field
          label="Volts"
          width="w-28"
          inputMode="decimal"
          value={typed.volts}
          onChange={(event) => type({ volts: event.target.value })}
        />
        <Field
          label={`Pressure, ${unit}`}
          width="w-28"
          inputMode="decimal"
          value={typed.pressure}
          onChange={(event) => type({ pressure: event.target.value })}
        />
        <Button onClick={addRow}>Add a point</Button>
        <span className="px-2 pb-3 text-soft">or</span>
        <Field
          label={`Full scale, ${unit}`}
          width="w-28"
          inputMode="decimal"
          value={typed.fullScale}
          onChange={(event) => type({ fullScale: event.target.value })}
        />
        <Button onClick={useRatiometric}>0.5 to 4.5 V sensor</Button>
      </div>
      <ErrorNotice text={problem} />
    </section>
  );
}
