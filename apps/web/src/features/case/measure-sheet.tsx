import { findMeasure, type EntryKind, type KeyState } from '@jarro/core';
import { errorText, useAddEntryMutation } from '../../app/api';
import { shownAs, usePressureUnit } from '../../app/units';
import { KEY_STATE_NAMES } from '../../app/words';
import { NumberSheet } from './number-sheet';

export interface WhatToMeasure {
  readonly kind: EntryKind;
  readonly at: string;
  /** The state that was chosen with it; else it is asked for. */
  readonly keyState?: KeyState;
}

/** Takes one number of the catalogue, in the unit that people read. */
export function MeasureSheet({ caseId, what, onClose }: { caseId: string; what: WhatToMeasure; onClose: () => void }) {
  const pressure = usePressureUnit();
  const [addEntry, { error, isLoading }] = useAddEntryMutation();
  const { kind, at, keyState } = what;
  const measure = findMeasure(kind, at);
  if (!measure) return null;
  const { unit, toSi } = shownAs(measure.unit, at, pressure);
  const keep = async (value: number, state: KeyState, faultPresent: boolean) => {
    const result = await addEntry({ caseId, kind, at, value: toSi(value), keyState: state, faultPresent });
    if (!('error' in result)) onClose();
    return !('error' in result);
  };
  return (
    <NumberSheet
      caseId={caseId}
      title={
        keyState && measure.states.length > 1
          ? `${measure.title}, ${KEY_STATE_NAMES[keyState].toLowerCase()}`
          : measure.title
      }
      hint={measure.howTo}
      unit={unit}
      states={keyState ? [keyState] : measure.states}
      error={errorText(error)}
      busy={isLoading}
      onKeep={keep}
      onClose={onClose}
    />
  );
}
