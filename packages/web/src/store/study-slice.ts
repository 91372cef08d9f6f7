import type { PayloadAction } from '@reduxjs/toolkit';
import { createSlice } from '@reduxjs/toolkit';
import type { StudyRow } from '../storage/schema.ts';

export type StudyKind = StudyRow['kind'];

/** What the page says of a study; its results are kept in `simulation/study-results.ts`. */
export interface StudyStatus {
  readonly study: StudyRow | undefined;
  readonly done: number;
  readonly total: number;
  readonly running: boolean;
  readonly secondsLeft: number | undefined;
  readonly failure: string | undefined;
  /** Goes up whenever results were added. */
  readonly version: number;
}

const none: StudyStatus = { study: undefined, done: 0, total: 0, running: false, secondsLeft: undefined, failure: undefined, version: 0 };

export const studySlice = createSlice({
  name: 'studies',
  initialState: { repeat: none, vary: none } as Readonly<Record<StudyKind, StudyStatus>>,
  reducers: {
    cleared: () => ({ repeat: none, vary: none }),
    changed: (state, { payload }: PayloadAction<{ kind: StudyKind; status: Partial<StudyStatus> }>) => ({
      ...state,
      [payload.kind]: { ...state[payload.kind], ...payload.status, version: state[payload.kind].version + 1 },
    }),
  },
});

export const studyActions = studySlice.actions;
