import { createSlice, type PayloadAction } from '@reduxjs/toolkit';
import type { KeyState, Reference } from '@jarro/core';
import { useDispatch, useSelector } from 'react-redux';

export interface Habits {
  readonly state: KeyState;
  readonly reference: Reference;
}

const FIRST: Habits = { state: 'prime', reference: 'battery-' };

/** What stays from reading to reading: people measure down the path in one state, from one reference. */
const slice = createSlice({
  name: 'habits',
  initialState: FIRST,
  reducers: {
    remembered: (habits, { payload }: PayloadAction<Partial<Habits>>) => ({ ...habits, ...payload }),
  },
});

export const habitsReducer = slice.reducer;
type WithHabits = { readonly habits: Habits };

export function useHabits(): readonly [Habits, (changes: Partial<Habits>) => void] {
  const habits = useSelector((state: WithHabits) => state.habits);
  const dispatch = useDispatch();
  return [habits, (changes) => void dispatch(slice.actions.remembered(changes))];
}
