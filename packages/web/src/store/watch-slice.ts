import type { PayloadAction } from '@reduxjs/toolkit';
import { createSlice } from '@reduxjs/toolkit';

/** Steps a second that can be chosen; `null` is as fast as it goes. */
export const PACES: readonly (number | null)[] = [0.5, 1, 7, 30, null];

interface WatchState {
  readonly playing: boolean;
  readonly stepsPerSecond: number | null;
  readonly seed: number;
  /** Values that differ from the text's, by parameter name, in base units. */
  readonly values: Readonly<Record<string, number>>;
  /** The scenario that was switched to, and the text that it was laid over. */
  readonly scenario: { readonly name: string; readonly text: string } | undefined;
  readonly ended: boolean;
  /** The space on show, in models with several. */
  readonly space: number;
  /** Whether an edited text is taken up by those who are there, rather than from the start. */
  readonly goesOn: boolean;
}

const initialState: WatchState = {
  playing: true,
  stepsPerSecond: 30,
  seed: 1,
  values: {},
  scenario: undefined,
  ended: false,
  space: 0,
  goesOn: false,
};

export const watchSlice = createSlice({
  name: 'watch',
  initialState,
  reducers: {
    reset: () => initialState,
    playing: (state, { payload }: PayloadAction<boolean>) => {
      state.playing = payload;
    },
    paced: (state, { payload }: PayloadAction<number | null>) => {
      state.stepsPerSecond = payload;
    },
    seeded: (state, { payload }: PayloadAction<number>) => {
      state.seed = payload;
    },
    valueSet: (state, { payload }: PayloadAction<{ name: string; value: number }>) => {
      state.values = { ...state.values, [payload.name]: payload.value };
    },
    valuesSet: (state, { payload }: PayloadAction<Readonly<Record<string, number>>>) => {
      state.values = payload;
    },
    scenarioShown: (state, { payload }: PayloadAction<WatchState['scenario']>) => {
      state.scenario = payload;
    },
    goesOn: (state, { payload }: PayloadAction<boolean>) => {
      state.goesOn = payload;
    },
    spaceShown: (state, { payload }: PayloadAction<number>) => {
      state.space = payload;
    },
    ended: (state, { payload }: PayloadAction<boolean>) => {
      state.ended = payload;
    },
  },
});

export const watchActions = watchSlice.actions;
