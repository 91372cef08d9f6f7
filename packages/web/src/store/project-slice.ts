import type { PayloadAction } from '@reduxjs/toolkit';
import { createSlice } from '@reduxjs/toolkit';
import type { ChecksRow, ProjectRow, ReadingRow, ReportChoiceRow } from '../storage/schema.ts';

export type ViewName = 'build' | 'watch' | 'repeat' | 'vary' | 'match' | 'tell';
export const VIEWS: readonly ViewName[] = ['build', 'watch', 'repeat', 'vary', 'match', 'tell'];

export interface ProjectState {
  readonly id: string | undefined;
  readonly name: string;
  /** Whether the name is that of the model, and goes along when the text gives it another one. */
  readonly takesTitle: boolean;
  readonly text: string;
  readonly notes: string;
  readonly revision: number;
  readonly savedAt: number | undefined;
  readonly dirty: boolean;
  readonly visited: readonly string[];
  readonly readings: readonly ReadingRow[];
  /** The text of a study that is being written; empty where studies are put together as sentences. */
  readonly studyDraft: string;
  /** The text of the match; empty while there is none. */
  readonly matchDraft: string;
  readonly report: ReportChoiceRow;
  /** The files beside the model: their marks by name. */
  readonly files: Readonly<Record<string, string>>;
  /** What came of the checks, the last time that all were run. */
  readonly checks: ChecksRow | undefined;
  /** What is wrong with storage, if anything. */
  readonly problem: string | undefined;
  /** What another tab has stored in the meantime. */
  readonly conflict: ProjectRow | undefined;
  /** Goes up when the text is replaced from outside the editor. */
  readonly textOrigin: number;
}

const initialState: ProjectState = {
  id: undefined,
  name: '',
  takesTitle: false,
  text: '',
  notes: '',
  revision: 0,
  savedAt: undefined,
  dirty: false,
  visited: [],
  readings: [],
  studyDraft: '',
  matchDraft: '',
  report: { leftOut: [], drawn: {} },
  files: {},
  checks: undefined,
  problem: undefined,
  conflict: undefined,
  textOrigin: 0,
};

/** The title of the model in a text, as its first line gives it; empty while there is none. */
function titleIn(text: string): string {
  return /^model[ \t]+(\S.*?)[ \t]*$/m.exec(text)?.[1] ?? '';
}

function setText(state: { name: string; text: string; takesTitle: boolean; dirty: boolean }, text: string): void {
  state.text = text;
  if (state.takesTitle) state.name = titleIn(text) || state.name;
  state.dirty = true;
}

function setName(state: { name: string; text: string; takesTitle: boolean }, name: string): void {
  state.name = name;
  state.takesTitle = name === titleIn(state.text);
}

export const projectSlice = createSlice({
  name: 'project',
  initialState,
  reducers: {
    opened: (state, { payload }: PayloadAction<ProjectRow>) => ({
      ...initialState,
      id: payload.id,
      name: payload.name,
      takesTitle: payload.name === titleIn(payload.text),
      text: payload.text,
      notes: payload.notes,
      revision: payload.revision,
      savedAt: payload.changedAt,
      visited: payload.visited,
      readings: payload.readings ?? [],
      studyDraft: payload.studyDraft ?? '',
      matchDraft: payload.matchDraft ?? '',
      report: payload.report ?? initialState.report,
      checks: payload.checks,
      problem: state.problem,
      textOrigin: state.textOrigin + 1,
    }),
    textTyped: (state, { payload }: PayloadAction<string>) => {
      if (payload !== state.text) setText(state, payload);
    },
    /** A change of the text by a form or a fix; the editor takes it over. */
    textReplaced: (state, { payload }: PayloadAction<string>) => {
      setText(state, payload);
      state.textOrigin++;
    },
    renamed: (state, { payload }: PayloadAction<string>) => {
      setName(state, payload);
      state.dirty = true;
    },
    /** The list of projects, here or in another tab, has given the project another name and nothing else. */
    nameStored: (state, { payload: { name, revision } }: PayloadAction<{ name: string; revision: number }>) => {
      setName(state, name);
      state.revision = revision;
    },
    notesTyped: (state, { payload }: PayloadAction<string>) => {
      state.notes = payload;
      state.dirty = true;
    },
    viewVisited: (state, { payload }: PayloadAction<ViewName>) => {
      if (!state.visited.includes(payload)) state.visited = [...state.visited, payload];
    },
    chartRead: (state, { payload }: PayloadAction<ReadingRow>) => {
      state.readings = [...state.readings.filter(({ title }) => title !== payload.title), payload];
    },
    studyDrafted: (state, { payload }: PayloadAction<string>) => {
      state.studyDraft = payload;
    },
    matchDrafted: (state, { payload }: PayloadAction<string>) => {
      state.matchDraft = payload;
    },
    filesPut: (state, { payload }: PayloadAction<Readonly<Record<string, string>>>) => ({ ...state, files: payload }),
    reportChosen: (state, { payload }: PayloadAction<ReportChoiceRow>) => ({ ...state, report: payload }),
    checksRun: (state, { payload }: PayloadAction<ChecksRow>) => ({ ...state, checks: payload }),
    saved: (
      state,
      { payload }: PayloadAction<{ revision: number; at: number; text: string; name: string; notes: string }>,
    ) => {
      state.revision = payload.revision;
      state.savedAt = payload.at;
      state.dirty = state.text !== payload.text || state.name !== payload.name || state.notes !== payload.notes;
      state.problem = undefined;
    },
    storageFailed: (state, { payload }: PayloadAction<string | undefined>) => {
      state.problem = payload;
    },
    conflictFound: (state, { payload }: PayloadAction<ProjectRow>) => ({ ...state, conflict: payload }),
    theirsTaken: (state) => {
      const theirs = state.conflict;
      if (!theirs) return;
      Object.assign(state, {
        name: theirs.name,
        takesTitle: theirs.name === titleIn(theirs.text),
        text: theirs.text,
        notes: theirs.notes,
        revision: theirs.revision,
        savedAt: theirs.changedAt,
        dirty: false,
        conflict: undefined,
      });
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
