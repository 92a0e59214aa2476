import { useFormContext, useWatch } from 'react-hook-form';
import { Field } from '../../ui/field';
import { numberOrNothing, type IntakeForm } from './intake-form';
import { vehicleText } from './intake-words';

/** Which vehicle it is, with a way to put right what was mistyped when the case was opened. */
export function VehicleFields({ editable }: { editable: boolean }) {
  const { register, control } = useFormContext<IntakeForm>();
  const vehicle = useWatch({ control, name: 'intake.vehicle' });
  if (!vehicle) return null;
  return (
    <details>
      <summary className="min-h-11 cursor-pointer py-2.5">
        <span className="font-semibold">{vehicleText(vehicle)}</span>
        {editable && <span className="label ml-3 underline">correct it</span>}
      </summary>
      <fieldset disabled={!editable} className="flex flex-wrap gap-3 pb-2">
        <Field label="Vehicle" width="min-w-52 flex-1" maxLength={120} {...register('intake.vehicle.model')} />
        <Field
          label="Year"
          width="w-24"
          type="number"
          min={1950}
          max={2100}
          {...register('intake.vehicle.year', { setValueAs: numberOrNothing })}
        />
        <Field label="Engine" width="w-40" maxLength={60} {...register('intake.vehicle.engine')} />
        <Field label="Plate" width="w-32" maxLength={20} {...register('intake.vehicle.plate')} />
      </fieldset>
    </details>
  );
}
