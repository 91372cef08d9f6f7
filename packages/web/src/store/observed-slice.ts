import type { PayloadAction } from '@reduxjs/toolkit';
import { createSlice } from '@reduxjs/toolkit';
import type { ObservedRow } from '../storage/schema.ts';

/** The tables of observed data of the open project, as they are on the page. */
interface ObservedState {
  readonly tables: readonly ObservedRow[];
}

const initialState: ObservedState = { tables: [] };

export const observedSlice = createSlice({
  name: 'observed',
  initialState,
  reducers: {
    shown: (_, { payload }: PayloadAction<readonly ObservedRow[]>) => ({ tables: payload }),
    /** In the place of one of the same name. */
    taken: ({ tables }, { payload }: PayloadAction<ObservedRow>) => ({
      tables: [...tables.filter(({ name }) => name !== payload.name), payload],
    }),
    removed: ({ tables }, { payload }: PayloadAction<string>) => ({
      tables: tables.filter(({ name }) => name !== payload),
    }),
  },
});

export const observedActions = observedSlice.actions;
