import { ratiometricTable, type Intake } from '@jarro/core';
import { useState } from 'react';
import { pressureText, readNumber, shownAs, usePressureUnit } from '../../app/units';
import { Button } from '../../ui/button';
import { Field } from '../../ui/field';

type Table = Intake['sensorTable'];

/** The rail sensor's volts and pressures, for the three-way check. */
export function SensorTable({ table, onChange }: { table: Table; onChange: (table: Table) => void }) {
  const unit = usePressureUnit();
  const { toSi } = shownAs('Pa', 'rail', unit);
  const [fullScale, setFullScale] = useState('');
  const [volts, setVolts] = useState('');
  const [pressure, setPressure] = useState('');
  const addRow = () => {
    const v = readNumber(volts);
    const p = readNumber(pressure);
    if (v === undefined || p === undefined) return;
    onChange([...table.filter(([known]) => known !== v), [v, toSi(p)] as const].sort((a, b) => a[0] - b[0]));
    setVolts('');
    setPressure('');
  };
  const useRatiometric = () => {
    const full = readNumber(fullScale);
    if (full !== undefined && full > 0) onChange(ratiometricTable(toSi(full)));
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
          value={volts}
          onChange={(event) => setVolts(event.target.value)}
        />
        <Field
          label={`Pressure, ${unit}`}
          width="w-28"
          inputMode="decimal"
          value={pressure}
          onChange={(event) => setPressure(event.target.value)}
        />
        <Button onClick={addRow}>Add a point</Button>
        <span className="px-2 pb-3 text-soft">or</span>
        <Field
          label={`Full scale, ${unit}`}
          width="w-28"
          inputMode="decimal"
          value={fullScale}
          onChange={(event) => setFullScale(event.target.value)}
        />
        <Button onClick={useRatiometric}>0.5 to 4.5 V sensor</Button>
      </div>
    </section>
  );
}
