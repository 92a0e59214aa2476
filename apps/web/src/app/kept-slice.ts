import { createSlice, type PayloadAction } from '@reduxjs/toolkit';

export interface Kept {
  /** Drafts and running tests, by person and name. */
  readonly byName: Readonly<Record<string, unknown>>;
}

const NONE: Kept = { byName: {} };

/** What is half done and must outlive a change of stage, a reload or a closed tab. */
const slice = createSlice({
  name: 'kept',
  initialState: NONE,
  reducers: {
    /** Undefined forgets it. */
    kept: ({ byName }, { payload: { name, value } }: PayloadAction<{ name: string; value: unknown }>) => {
      const { [name]: _, ...others } = byName;
      return { byName: value === undefined ? others : { ...others, [name]: value } };
    },
    allForgotten: () => NONE,
  },
});

export const keptReducer = slice.reducer;
export const { kept, allForgotten } = slice.actions;
