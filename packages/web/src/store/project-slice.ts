import type { PayloadAction } from '@reduxjs/toolkit';
import { createSlice } from '@reduxjs/toolkit';
import type { ProjectRow } from '../storage/schema.ts';

export type ViewName = 'build' | 'watch' | 'repeat' | 'vary' | 'match' | 'tell';
export const VIEWS: readonly ViewName[] = ['build', 'watch', 'repeat', 'vary', 'match', 'tell'];

export interface ProjectState {
  readonly id: string | undefined;
  readonly name: string;
  readonly text: string;
  readonly notes: string;
  readonly revision: number;
  readonly savedAt: number | undefined;
  readonly dirty: boolean;
  readonly visited: readonly string[];
  /** What is wrong with storage, if anything. */
  readonly problem: string | undefined;
  /** What another tab has stored in the meantime. */
  readonly conflict: ProjectRow | undefined;
  /** Goes up when the text is replaced from outside the editor. */
  readonly textOrigin: number;
}

const initialState: ProjectState = {
  id: undefined, name: '', text: '', notes: '', revision: 0, savedAt: undefined, dirty: false, visited: [], problem: undefined, conflict: undefined, textOrigin: 0,
};

export const projectSlice = createSlice({
  name: 'project',
  initialState,
  reducers: {
    opened: (state, { payload }: PayloadAction<ProjectRow>) => ({
      ...initialState, id: payload.id, name: payload.name, text: payload.text, notes: payload.notes, revision: payload.revision, savedAt: payload.changedAt,
      visited: payload.visited, problem: state.problem, textOrigin: state.textOrigin + 1,
    }),
    textTyped: (state, { payload }: PayloadAction<string>) => {
      if (payload === state.text) return;
      state.text = payload;
      state.dirty = true;
    },
    /** A change of the text by a form or a fix; the editor takes it over. */
    textReplaced: (state, { payload }: PayloadAction<string>) => {
      state.text = payload;
      state.dirty = true;
      state.textOrigin++;
    },
    renamed: (state, { payload }: PayloadAction<string>) => {
      state.name = payload;
      state.dirty = true;
    },
    /** The list of projects, here or in another tab, has given the project another name and nothing else. */
    nameStored: (state, { payload: { name, revision } }: PayloadAction<{ name: string; revision: number }>) => {
      state.name = name;
      state.revision = revision;
    },
    notesTyped: (state, { payload }: PayloadAction<string>) => {
      state.notes = payload;
      state.dirty = true;
    },
    viewVisited: (state, { payload }: PayloadAction<ViewName>) => {
      if (state.visited.includes(payload)) return;
      state.visited = [...state.visited, payload];
      state.dirty = true;
    },
    saved: (state, { payload }: PayloadAction<{ revision: number; at: number; text: string; name: string; notes: string }>) => {
      state.revision = payload.revision;
      state.savedAt = payload.at;
      state.dirty = state.text !== payload.text || state.name !== payload.name || state.notes !== payload.notes;
      state.problem = undefined;
    },
    storageFailed: (state, { payload }: PayloadAction<string | undefined>) => {
      state.problem = payload;
    },
    conflictFound: (state, { payload }: PayloadAction<ProjectRow>) => {
      state.conflict = payload;
    },
    theirsTaken: (state) => {
      const theirs = state.conflict;
      if (!theirs) return;
      Object.assign(state, { name: theirs.name, text: theirs.text, notes: theirs.notes, revision: theirs.revision, savedAt: theirs.changedAt, dirty: false, conflict: undefined });
      state.textOrigin++;
    },
    mineKept: (state) => {
      if (state.conflict) state.revision = state.conflict.revision;
      state.conflict = undefined;
      state.dirty = true;
    },
  },
});

export const projectActions = projectSlice.actions;
