import { createSlice, type PayloadAction } from '@reduxjs/toolkit';
import { useDispatch, useSelector } from 'react-redux';

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

/** Whether the fault shows now, as whoever measures last said: what is entered is kept with it. */
export function useFaultShows(caseId: string): readonly [boolean, (shows: boolean) => void] {
  const shows = useSelector(({ fault }: WithFault) => fault.away[caseId] !== true);
  const dispatch = useDispatch();
  return [shows, (next) => dispatch(slice.actions.faultSeen({ caseId, shows: next }))];
}
