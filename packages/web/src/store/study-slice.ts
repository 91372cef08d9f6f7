import type { PayloadAction } from '@reduxjs/toolkit';
import { createSlice } from '@reduxjs/toolkit';
import type { StudyRow } from '../storage/schema.ts';

export type StudyKind = StudyRow['kind'];

/** What the page says of the study on show; its results are held by the answers worker, see `studies/answers.ts`. */
export interface StudyStatus {
  readonly study: StudyRow | undefined;
  /** Runs that came to their end or failed. */
  readonly done: number;
  readonly total: number;
  /** Runs that stopped before their end. */
  readonly failed: number;
  /** Runs that are finished but could not be stored yet. */
  readonly unstored: number;
  readonly running: boolean;
  readonly secondsLeft: number | undefined;
  readonly failure: string | undefined;
  /** Goes up whenever results were added. */
  readonly version: number;
}

const none: StudyStatus = {
  study: undefined,
  done: 0,
  total: 0,
  failed: 0,
  unstored: 0,
  running: false,
  secondsLeft: undefined,
  failure: undefined,
  version: 0,
};

interface StudiesState extends Readonly<Record<StudyKind, StudyStatus>> {
  /** All studies of the project, the oldest first. */
  readonly list: readonly StudyRow[];
}

function cleared(): StudiesState {
  return { repeat: none, vary: none, match: none, list: [] };
}

export const studySlice = createSlice({
  name: 'studies',
  initialState: cleared,
  reducers: {
    cleared,
    /** Of a kind nothing is on show. */
    emptied: (state, { payload }: PayloadAction<StudyKind>) => ({
      ...state,
      [payload]: { ...none, version: state[payload].version + 1 },
    }),
    listed: (state, { payload }: PayloadAction<readonly StudyRow[]>) => ({ ...state, list: payload }),
    changed: (state, { payload }: PayloadAction<{ kind: StudyKind; status: Partial<StudyStatus> }>) => ({
      ...state,
      [payload.kind]: { ...state[payload.kind], ...payload.status, version: state[payload.kind].version + 1 },
    }),
  },
});

export const studyActions = studySlice.actions;
