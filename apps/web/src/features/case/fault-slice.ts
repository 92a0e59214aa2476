import { createSlice, type PayloadAction } from '@reduxjs/toolkit';
import { useDispatch, useSelector } from 'react-redux';
import { useCaseDetailQuery } from '../../app/api';
import { isRechecked } from './evidence';

const NONE: { readonly away: Readonly<Record<string, boolean>> } = { away: {} };

/** Cases whose fault is away just now. Not kept over a reload: yesterday's answer would mislabel today's readings. */
const slice = createSlice({
  name: 'fault',
  initialState: NONE,
  reducers: {
    faultSeen: ({ away }, { payload: { caseId, shows } }: PayloadAction<{ caseId: string; shows: boolean }>) => ({
      away: { ...away, [caseId]: !shows },
    }),
  },
});

export const faultReducer = slice.reducer;
type WithFault = { readonly fault: ReturnType<typeof slice.reducer> };

/**
 * Whether the fault shows now, as whoever measures last said: what is entered is kept with it. After the repair it is taken to
 * be gone until somebody says otherwise.
 */
export function useFaultShows(caseId: string): readonly [boolean, (shows: boolean) => void] {
  const { data } = useCaseDetailQuery(caseId);
  const repaired = data !== undefined && isRechecked(data);
  const said = useSelector(({ fault }: WithFault) => fault.away[nameOf(caseId, repaired)]);
  const dispatch = useDispatch();
  const say = (shows: boolean) => dispatch(slice.actions.faultSeen({ caseId: nameOf(caseId, repaired), shows }));
  return [said === undefined ? !repaired : !said, say];
}

function nameOf(caseId: string, repaired: boolean): string {
  return repaired ? `${caseId}/repaired` : caseId;
}
