import { type KeyState, KEY_STATE_NAMES } from '@jarro/core';
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

interface FieldProps {
  readonly moment: Moment;
  /** Labels before the answers, where height is dear. */
  readonly beside?: boolean;
  readonly onChange: (moment: Moment) => void;
}

interface WithStates extends FieldProps {
  /** Key states in which this can be read; a single one is not asked for. */
  readonly states: readonly KeyState[];
}

export function MomentFields({ states, ...field }: WithStates) {
  return (
    <>
      <KeyField states={states} {...field} />
      <PresenceField {...field} />
    </>
  );
}

/** Where the key stood. */
export function KeyField({ states, moment, beside = false, onChange }: WithStates) {
  if (states.length < 2) return null;
  return (
    <Choice
      label="Key"
      beside={beside}
      options={states.map((value) => ({ value, label: KEY_STATE_NAMES[value] }))}
      value={moment.keyState}
      onChange={(keyState) => onChange({ ...moment, keyState })}
    />
  );
}

/** Whether the fault showed just then. */
export function PresenceField({
  moment,
  beside = false,
  hideLabel = false,
  onChange,
}: FieldProps & { readonly hideLabel?: boolean }) {
  return (
    <Choice
      label="At that moment"
      beside={beside}
      hideLabel={hideLabel}
      options={PRESENCE}
      value={moment.faultPresent ? 'yes' : 'no'}
      onChange={(present) => onChange({ ...moment, faultPresent: present === 'yes' })}
    />
  );
}
