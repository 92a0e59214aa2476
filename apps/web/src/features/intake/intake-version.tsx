import { EMPTY_INTAKE, type Intake } from '@jarro/core';
import { usePressureUnit } from '../../app/units';
import { fieldName, fieldsThatDiffer, fieldText, INTAKE_FIELDS } from './intake-words';

/** One saved version of the intake: what it changed, and on demand all that it said. */
export function IntakeVersion({ intake, before = EMPTY_INTAKE }: { intake: Intake; before?: Intake | undefined }) {
  const unit = usePressureUnit();
  const changed = fieldsThatDiffer(before, intake);
  const filled = INTAKE_FIELDS.filter((field) => fieldText(intake, field, unit) !== '–');
  return (
    <div className="max-w-prose">
      <ul>
        {changed.map((field) => (
          <li key={field}>
            {fieldName(field)}: {fieldText(intake, field, unit)}
            {before !== EMPTY_INTAKE && <span className="label"> (was {fieldText(before, field, unit)})</span>}
          </li>
        ))}
      </ul>
      {before !== EMPTY_INTAKE && (
        <details>
          <summary className="label min-h-11 cursor-pointer py-2.5 underline">The whole intake as saved then</summary>
          <dl className="grid grid-cols-[auto_1fr] gap-x-4 pb-2">
            {filled.map((field) => (
              <div key={field} className="contents">
                <dt className="label">{fieldName(field)}</dt>
                <dd>{fieldText(intake, field, unit)}</dd>
              </div>
            ))}
          </dl>
        </details>
      )}
    </div>
  );
}
