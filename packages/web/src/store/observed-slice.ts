import type { PayloadAction } from '@reduxjs/toolkit';
import { createSlice } from '@reduxjs/toolkit';
import type { ObservedRow } from '../storage/schema.ts';

/** The observed data of the open project, as they are on the page. */
interface ObservedState {
  readonly row: ObservedRow | undefined;
}

const initialState: ObservedState = { row: undefined };

export const observedSlice = createSlice({
  name: 'observed',
  initialState,
  reducers: {
    shown: (_, { payload }: PayloadAction<ObservedRow | undefined>) => ({ row: payload }),
  },
});

export const observedActions = observedSlice.actions;
