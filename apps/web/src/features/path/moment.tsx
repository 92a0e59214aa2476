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

export function MomentFields({
  states,
  moment,
  beside = false,
  onChange,
}: {
  /** Key states in which this can be read; a single one is not asked for. */
  states: readonly KeyState[];
  moment: Moment;
  /** Labels before the answers, where height is dear. */
  beside?: boolean;
  onChange: (moment: Moment) => void;
}) {
  return (
    <>
      <KeyField states={states} moment={moment} beside={beside} onChange={onChange} />
      <PresenceField moment={moment} beside={beside} onChange={onChange} />
    </>
  );
}

/** Where the key stood. */
export function KeyField({
  states,
  moment,
  beside = false,
  onChange,
}: {
  states: readonly KeyState[];
  moment: Moment;
  beside?: boolean;
  onChange: (moment: Moment) => void;
}) {
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
}: {
  moment: Moment;
  beside?: boolean;
  hideLabel?: boolean;
  onChange: (moment: Moment) => void;
}) {
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
