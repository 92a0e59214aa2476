import type { KeyState } from '@jarro/core';
import { useState } from 'react';
import { useFaultShows } from '../case/fault-slice';
import type { Moment } from './moment';

/** The moment of a reading: its key state is the sheet's own, whether the fault shows stays from reading to reading. */
export function useMoment(caseId: string, first: KeyState): readonly [Moment, (moment: Moment) => void] {
  const [keyState, setKeyState] = useState(first);
  const [faultPresent, sayFault] = useFaultShows(caseId);
  const set = (next: Moment) => {
    setKeyState(next.keyState);
    if (next.faultPresent !== faultPresent) sayFault(next.faultPresent);
  };
  return [{ keyState, faultPresent }, set];
}
