import { useFieldArray, useFormContext, type UseFormRegisterReturn } from 'react-hook-form';
import { EMPTY_ROW, type ProfileForm } from './profile-form';

/** A table of two numbers a row, with one more row to type into. */
export function TableField({ label, name }: { label: string; name: 'commandTable' | 'sensorTable' }) {
  const { control, register } = useFormContext<ProfileForm>();
  const { fields, append } = useFieldArray({ control, name });
  return (
    <div role="group" aria-label={label} className="space-y-1">
      {fields.map((row, i) => {
        const onChange = () => i === fields.length - 1 && append(EMPTY_ROW, { shouldFocus: false });
        return (
          <EndsField
            key={row.id}
            label={`${label}, row ${i + 1}`}
            from={register(`${name}.${i}.from`, { onChange })}
            to={register(`${name}.${i}.to`, { onChange })}
          />
        );
      })}
    </div>
  );
}

/** Two numbers beside each other: a row, or the ends of a window. */
export function EndsField({
  label,
  ...ends
}: {
  label: string;
  from: UseFormRegisterReturn;
  to: UseFormRegisterReturn;
}) {
  return (
    <div className="flex items-center gap-1">
      {(['from', 'to'] as const).map((end) => (
        <input
          key={end}
          aria-label={`${label}, ${end}`}
          className="input min-w-0 px-1.5 text-right"
          inputMode="decimal"
          {...ends[end]}
        />
      ))}
    </div>
  );
}
