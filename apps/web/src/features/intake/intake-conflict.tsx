import { EMPTY_INTAKE, type Intake } from '@jarro/core';
import { useState } from 'react';
import type { CaseDetail } from '@jarro/api-types';
import { usePressureUnit } from '../../app/units';
import { Button } from '../../ui/button';
import { Choice } from '../../ui/choice';
import { fieldName, fieldsThatDiffer, fieldText, type IntakeField } from './intake-words';

type Side = 'theirs' | 'mine';

/**
 * Somebody saved the intake while it was being edited: every field that differs, theirs beside mine. Each starts at
 * whoever changed it; where both did, at mine, since it isn't saved anywhere else.
 */
export function IntakeConflict({
  item,
  basis,
  mine,
  onSettle,
}: {
  item: CaseDetail;
  /** Place in the chain of the version that the editing began from. */
  basis: number;
  mine: Intake;
  onSettle: (merged: Intake) => void;
}) {
  const unit = usePressureUnit();
  const [chosen, setChosen] = useState<Partial<Record<IntakeField, Side>>>({});
  const { sequence, ...theirs } = item.intake;
  const base = (item.evidence.find((link) => link.sequence === basis)?.value as Intake | undefined) ?? EMPTY_INTAKE;
  const mineChanged = fieldsThatDiffer(base, mine);
  const differ = fieldsThatDiffer(theirs, mine);
  const side = (field: IntakeField): Side => chosen[field] ?? (mineChanged.includes(field) ? 'mine' : 'theirs');
  const settle = () => {
    const kept = differ.filter((field) => side(field) === 'mine');
    const fromMine = Object.fromEntries(kept.map((field) => [field, mine[field]]));
    onSettle({ ...theirs, ...fromMine });
  };
  const by = item.evidence.find((link) => link.sequence === sequence)?.takenBy ?? 'Someone';
  return (
    <section
      aria-label="Saved meanwhile"
      className="max-h-[60vh] space-y-3 overflow-y-auto rounded-2xl border-2 border-ochre bg-card p-4"
    >
      <p role="alert" className="font-semibold">
        {by} saved this intake while you wrote; nothing of yours is lost.{' '}
        {differ.length === 0 ? 'You both wrote the same.' : 'Choose what holds:'}
      </p>
      {differ.map((field) => (
        <div key={field} className="grid items-center gap-x-4 border-t border-line pt-2 md:grid-cols-[1fr_auto]">
          <p>
            <span className="font-semibold">{fieldName(field)}</span>
            <span className="block">
              <span className="label">{by}:</span> {fieldText(theirs, field, unit)}
            </span>
            <span className="block">
              <span className="label">You:</span> {fieldText(mine, field, unit)}
            </span>
          </p>
          <Choice
            label={`${fieldName(field)}: whose holds`}
            hideLabel
            options={[
              { value: 'theirs', label: 'Theirs' },
              { value: 'mine', label: 'Mine' },
            ]}
            value={side(field)}
            onChange={(whose) => setChosen((now) => ({ ...now, [field]: whose }))}
          />
        </div>
      ))}
      <Button look="ink" onClick={settle}>
        Go on with these
      </Button>
    </section>
  );
}
