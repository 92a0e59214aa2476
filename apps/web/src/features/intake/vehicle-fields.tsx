import type { Vehicle } from '@jarro/core';
import { Field } from '../../ui/field';
import { vehicleText } from './intake-words';

/** Which vehicle it is, with a way to put right what was mistyped when the case was opened. */
export function VehicleFields({
  vehicle,
  editable,
  onChange,
}: {
  vehicle: Vehicle;
  editable: boolean;
  onChange: (vehicle: Vehicle) => void;
}) {
  const text = (field: 'model' | 'engine' | 'plate', label: string, maxLength: number, width: string) => (
    <Field
      label={label}
      width={width}
      maxLength={maxLength}
      value={vehicle[field]}
      onChange={(event) => onChange({ ...vehicle, [field]: event.target.value })}
    />
  );
  return (
    <details>
      <summary className="min-h-11 cursor-pointer py-2.5">
        <span className="font-semibold">{vehicleText(vehicle)}</span>
        {editable && <span className="label ml-3 underline">correct it</span>}
      </summary>
      <fieldset disabled={!editable} className="flex flex-wrap gap-3 pb-2">
        {text('model', 'Vehicle', 120, 'min-w-52 flex-1')}
        <Field
          label="Year"
          width="w-24"
          type="number"
          min={1950}
          max={2100}
          value={vehicle.year ?? ''}
          onChange={(event) => onChange(withYear(vehicle, event.target.valueAsNumber))}
        />
        {text('engine', 'Engine', 60, 'w-40')}
        {text('plate', 'Plate', 20, 'w-32')}
      </fieldset>
    </details>
  );
}

/** @param year not a number where the field is empty */
function withYear({ model, engine, plate }: Vehicle, year: number): Vehicle {
  return { model, engine, plate, ...(Number.isFinite(year) && { year }) };
}
