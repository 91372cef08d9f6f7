import type { Plan } from '@vole/core';
import { ENGINE_VERSION, otherFiles, quotedNames } from '@vole/core';
import { filesOfText } from '../simulation/files-of-text.ts';
import { newId, repository, storageProblem } from '../storage/repository.ts';
import type { StudyRow } from '../storage/schema.ts';
import { projectActions } from '../store/project-slice.ts';
import type { StudyKind } from '../store/study-slice.ts';
import { studyActions } from '../store/study-slice.ts';
import { store } from '../store/store.ts';
import { addRuns, closeAnswers, finishedRuns, openAnswers } from './answers.ts';
import type { SearchParts } from './study-run.ts';
import { StudyRun } from './study-run.ts';

/** The studies of the open project: which one of each kind is on show, and what is done with it. */

export const STUDY_KINDS: readonly StudyKind[] = ['repeat', 'vary', 'match'];
const shown: Partial<Record<StudyKind, StudyRun>> = {};
/** Studies that are on show no more and have runs that could not be stored yet. */
const leftovers = new Set<StudyRun>();

/** Whether there are runs that could not be stored and would be lost if the page were closed now. */
export function hasUnstoredRuns(): boolean {
  return [...STUDY_KINDS.map((kind) => shown[kind]), ...leftovers].some((run) => run?.isRefused === true);
}

/** Takes the study of a kind off the page; it stops, and what it has is stored. */
function takeOff(kind: StudyKind): void {
  const run = shown[kind];
  delete shown[kind];
  if (!run) return;
  closeAnswers(run.study.id);
  void run.stop().then(() => run.isRefused && leftovers.add(run));
}

function put(kind: StudyKind, row: StudyRow, patience?: number): StudyRun {
  takeOff(kind);
  const run: StudyRun = new StudyRun(
    row,
    {
      changed: (status) => {
        if (shown[kind] === run) store.dispatch(studyActions.changed({ kind, status }));
      },
      came: (bytes) => {
        if (shown[kind] === run) addRuns(row.id, bytes);
      },
      stored: (problem) => {
        const { project } = store.getState();
        if (problem !== undefined || (project.problem !== undefined && !project.dirty))
          store.dispatch(projectActions.storageFailed(problem));
      },
    },
    patience,
  );
  shown[kind] = run;
  return run;
}

/** Shows the newest stored study of each kind; one that was broken off by closing the page can be gone on with. */
export async function showStored(projectId: string): Promise<void> {
  for (const kind of STUDY_KINDS) takeOff(kind);
  const list = await listStudies(projectId);
  for (const kind of STUDY_KINDS) {
    const newest = list.filter((study) => study.kind === kind).at(-1);
    if (newest) await showStudy(newest);
  }
}

async function listStudies(projectId: string): Promise<readonly StudyRow[]> {
  const list = await repository.studies(projectId);
  if (store.getState().project.id !== projectId) return [];
  store.dispatch(studyActions.listed(list));
  return list;
}

/** Puts a stored study on show; one of its kind that is running stops, and can be gone on with later. */
export async function showStudy(study: StudyRow): Promise<void> {
  const { kind } = study;
  const run = put(kind, study);
  await attempt(async () => {
    await openAnswers(study, true, () => run.unstoredBytes());
    const finished = await finishedRuns(study.id, study.until?.summary);
    if (shown[kind] === run) run.takeUp(finished);
  });
  if (shown[kind] !== run) return;
  store.dispatch(
    studyActions.changed({
      kind,
      status: { study, running: false, secondsLeft: undefined, failure: undefined, ...run.numbers() },
    }),
  );
}

export interface NewStudy extends Pick<
  StudyRow,
  | 'kind'
  | 'name'
  | 'text'
  | 'seeds'
  | 'every'
  | 'steps'
  | 'parameters'
  | 'factors'
  | 'projectId'
  | 'wording'
  | 'listed'
  | 'outcomes'
  | 'records'
  | 'until'
  | 'notes'
  | 'observed'
  | 'mostRuns'
> {
  readonly expectedDigest?: string | undefined;
  readonly isReceived?: undefined;
}

/** Begins a study and shows it; earlier ones stay in the list. */
export function beginStudy(wish: NewStudy, plan: Plan, patience?: number): void {
  const study: StudyRow = {
    ...wish,
    files: filesOfText(wish.text, store.getState().project.files),
    id: newId(),
    createdAt: Date.now(),
    status: 'running',
    engine: ENGINE_VERSION,
  };
  const run = put(wish.kind, study, patience);
  store.dispatch(studyActions.listed([...store.getState().studies.list, study]));
  makeKnown(run);
  run.start(plan);
}

/** Says to those who look at results which runs a study has now; if that fails, their first answer will tell. */
function makeKnown(run: StudyRun): void {
  void openAnswers(run.study, false, () => run.unstoredBytes()).catch(() => undefined);
}

/** The study of a kind on show, if runs can be added to it; why not is told. */
function readyForMore(kind: StudyKind): StudyRun | undefined {
  const run = shown[kind];
  const others = run ? otherFiles(run.study, store.getState().project.files) : [];
  if (!run || run.isRunning || others.length === 0) return run;
  const failure = `${quotedNames(others)} beside the model ${others.length === 1 ? 'is another file' : 'are other files'} now than when these runs were made, so none can be added to them.`;
  store.dispatch(studyActions.changed({ kind, status: { failure } }));
  return undefined;
}

/** Goes on with the study on show, or takes more seeds into it. */
export function continueStudy(kind: StudyKind, plan: Plan, seeds?: readonly number[]): void {
  const run = readyForMore(kind);
  if (!run) return;
  run.start(plan, seeds);
  makeKnown(run);
}

/** Goes on with the search on show by another text of its match; the runs that it has are used again. */
export function searchOn(search: SearchParts, plan: Plan): void {
  const run = readyForMore('match');
  if (!run || run.isRunning) return;
  run.look(search);
  makeKnown(run);
  run.start(plan);
  store.dispatch(
    studyActions.listed(store.getState().studies.list.map((row) => (row.id === run.study.id ? run.study : row))),
  );
}

/** Stops the study on show; what is finished stays and is stored. */
export function stopStudy(kind: StudyKind): void {
  void shown[kind]?.stop();
}

/** Forgets a study that was beside the one on show, unless it is on show itself by now. */
export function closeBeside(id: string): void {
  if (STUDY_KINDS.every((kind) => shown[kind]?.study.id !== id)) closeAnswers(id);
}

/** Tries to store what could not be stored. */
export function storeAgain(kind: StudyKind): void {
  void shown[kind]?.store();
  for (const run of leftovers) void run.store().then(() => !run.isRefused && leftovers.delete(run));
}

async function attempt(action: () => Promise<void>): Promise<void> {
  try {
    await action();
  } catch (error) {
    store.dispatch(projectActions.storageFailed(storageProblem(error)));
  }
}

/** Names a study, or notes something about it. */
export async function describeStudy(study: StudyRow, words: Partial<Pick<StudyRow, 'name' | 'notes'>>): Promise<void> {
  await attempt(async () => {
    await repository.describeStudy(study.id, words);
    const { studies } = store.getState();
    store.dispatch(studyActions.listed(studies.list.map((row) => (row.id === study.id ? { ...row, ...words } : row))));
  });
}

/** A copy of a study with its runs, on show. What of it could not be stored is not in the copy. */
export async function duplicateStudy(study: StudyRow): Promise<void> {
  await attempt(async () => {
    const copy = await repository.duplicateStudy(study);
    await listStudies(study.projectId);
    await showStudy(copy);
  });
}

/** Runs a study again with another text of the model. */
export function runAgain(study: StudyRow, text: string, plan: Plan): void {
  const known = Object.entries(study.parameters).filter(([name]) => plan.parameters.some((p) => p.name === name));
  const name = `${study.name}, again`;
  const parameters = Object.fromEntries(known);
  beginStudy({ ...study, text, name, parameters, expectedDigest: undefined, isReceived: undefined }, plan);
}

/** Runs a study here whose runs came with a bundle; those stay beside it. */
export function runHere(study: StudyRow, plan: Plan): void {
  beginStudy({ ...study, name: `${study.name}, run here`, isReceived: undefined }, plan);
}

/** Puts a study away; it can be brought back for a day. */
export async function deleteStudy(study: StudyRow): Promise<void> {
  await attempt(async () => {
    const isShown = shown[study.kind]?.study.id === study.id;
    if (isShown) await shown[study.kind]!.stop();
    await repository.putStudyAway(study.id);
    const newest = (await listStudies(study.projectId)).filter(({ kind }) => kind === study.kind).at(-1);
    if (!isShown) return;
    if (newest) return showStudy(newest);
    takeOff(study.kind);
    store.dispatch(studyActions.emptied(study.kind));
  });
}

export async function bringStudyBack(study: StudyRow): Promise<void> {
  await attempt(async () => {
    await repository.bringStudyBack(study.id);
    await listStudies(study.projectId);
    await showStudy(study);
  });
}
