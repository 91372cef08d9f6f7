import type { PayloadAction } from '@reduxjs/toolkit';
import { createSlice } from '@reduxjs/toolkit';
import type { Diagnostic } from '@vole/core';

export interface RunFailure {
  readonly message: string;
  readonly hint: string | undefined;
  readonly start: number;
  readonly end: number;
  readonly step: number;
}

export interface ModelState {
  readonly diagnostics: readonly Diagnostic[];
  /** What is wrong with the scenarios and studies in the text; it runs all the same. */
  readonly studyFindings: readonly Diagnostic[];
  /** Whether the text as it stands runs; if not, the last good one is on show. */
  readonly runs: boolean;
  readonly hasPlan: boolean;
  /** When the last text that runs was checked. */
  readonly goodAt: number | undefined;
  readonly stepLimit: number;
  readonly layerNames: readonly string[];
  /** The step at which the text changed, if the run is on show as it was before. */
  readonly until: number | undefined;
  readonly failure: RunFailure | undefined;
  /** What the run is at while it does not move: the step, the entry of the order in it (-1 before them, -2 in the start), for how long. */
  readonly stuck: { readonly step: number; readonly entry: number; readonly seconds: number } | undefined;
}

const initialState: ModelState = {
  diagnostics: [],
  studyFindings: [],
  runs: false,
  hasPlan: false,
  goodAt: undefined,
  stepLimit: 0,
  layerNames: [],
  until: undefined,
  failure: undefined,
  stuck: undefined,
};

export const modelSlice = createSlice({
  name: 'model',
  initialState,
  reducers: {
    cleared: () => initialState,
    checked: (
      state,
      { payload }: PayloadAction<{ diagnostics: readonly Diagnostic[]; runs: boolean; restarted: boolean; at: number }>,
    ) => {
      const { diagnostics, runs, restarted, at } = payload;
      return {
        ...state,
        diagnostics,
        runs,
        hasPlan: state.hasPlan || runs,
        goodAt: runs ? at : state.goodAt,
        failure: restarted ? undefined : state.failure,
      };
    },
    studiesChecked: (state, { payload }: PayloadAction<readonly Diagnostic[]>) => ({
      ...state,
      studyFindings: payload,
    }),
    chapterShown: (
      state,
      {
        payload: { stepLimit, layerNames, until },
      }: PayloadAction<{ stepLimit: number; layerNames: readonly string[]; until: number | undefined }>,
    ) => ({ ...state, stepLimit, layerNames, until }),
    stuck: (state, { payload }: PayloadAction<ModelState['stuck']>) => ({ ...state, stuck: payload }),
    failed: (state, { payload }: PayloadAction<RunFailure>) => ({ ...state, failure: payload }),
    restarted: (state) => ({ ...state, failure: undefined }),
  },
});

export const modelActions = modelSlice.actions;
