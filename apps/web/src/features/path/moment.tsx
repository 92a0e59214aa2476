import type { KeyState } from '@jarro/core';
import { KEY_STATE_NAMES } from '../../app/words';
import { Choice } from '../../ui/choice';

const PRESENCE = [
  { value: 'yes', label: 'Fault present' },
  { value: 'no', label: 'Fault absent' },
] as const;

/** When something was read: a reading means nothing without the key's position and whether the fault showed. */
export interface Moment {
  readonly keyState: KeyState;
  readonly faultPresent: boolean;
}

export function MomentFields({
  states,
  moment,
  onChange,
}: {
  /** Key states in which this can be read; a single one is not asked for. */
  states: readonly KeyState[];
  moment: Moment;
  onChange: (moment: Moment) => void;
}) {
  return (
    <>
      {states.length > 1 && (
        <Choice
          label="Key"
          options={states.map((value) => ({ value, label: KEY_STATE_NAMES[value] }))}
          value={moment.keyState}
          onChange={(keyState) => onChange({ ...moment, keyState })}
        />
      )}
      <Choice
        label="At that moment"
        options={PRESENCE}
        value={moment.faultPresent ? 'yes' : 'no'}
        onChange={(present) => onChange({ ...moment, faultPresent: present === 'yes' })}
      />
    </>
  );
}
