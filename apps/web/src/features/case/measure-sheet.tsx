import {
  type EntryKind,
  type EntryValue,
  findNumber,
  type HowTaken,
  KEY_STATE_NAMES,
  type KeyState,
  shownAs,
} from '@jarro/core';
import { errorText, useAddEntryMutation } from '../../app/api';
import { usePressureUnit } from '../../app/units';
import type { Moment } from '../path/moment';
import { useTheBench } from './bench';
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
  const { profile } = useTheBench();
  const [addEntry, { error, isLoading }] = useAddEntryMutation();
  const { kind, at, keyState } = what;
  const measure = findNumber(kind, at);
  if (!measure) return null;
  const keep = async (value: EntryValue, moment: Moment, how: HowTaken) => {
    const result = await addEntry({ caseId, kind, at, value, ...moment, ...how });
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
      shown={shownAs(measure.value.unit, at, pressure)}
      words={measure.value.words ?? []}
      driven={profile.stations.some((station) => station.kind === 'module')}
      states={keyState ? [keyState] : measure.states}
      error={errorText(error)}
      busy={isLoading}
      onKeep={keep}
      onClose={onClose}
    />
  );
}
