import { kept, live } from '../simulation/live-handle.ts';
import { NewestOnly } from '../studies/newest-only.ts';
import { repository, storageProblem } from '../storage/repository.ts';
import type { ChecksRow, ProjectRow, ReadingRow, ReportChoiceRow } from '../storage/schema.ts';
import { modelActions } from '../store/model-slice.ts';
import { observedActions } from '../store/observed-slice.ts';
import type { ViewName } from '../store/project-slice.ts';
import { interfaceActions } from '../store/interface-slice.ts';
import { projectActions } from '../store/project-slice.ts';
import { store } from '../store/store.ts';
import { studyActions } from '../store/study-slice.ts';
import { watchActions } from '../store/watch-slice.ts';
import { hasUnstoredFiles, openFiles, readFiles, storeFiles } from './files.ts';
import type { TabNews } from './tabs.ts';
import { tabs, tellTabs } from './tabs.ts';
import { whenIdle } from './when-idle.ts';

/** Opening, saving and checking of the project on the page. */

const CHECK_PAUSE = 250;
const SAVE_PAUSE = 600;
const STUDY_VIEWS: readonly ViewName[] = ['repeat', 'vary', 'match', 'tell'];

let checkTimer: ReturnType<typeof setTimeout> | undefined;
let saveTimer: ReturnType<typeof setTimeout> | undefined;
const drafts = { study: new NewestOnly(), match: new NewestOnly() };
let saving: Promise<void> = Promise.resolve();
/** What runs studies comes with them; until then there are none with runs to be stored. */
let runner: typeof import('../studies/study-runner.ts') | undefined;

/** The project whose studies are on show, or on their way. */
let studiesOf: string | undefined;

async function studyRunner(): Promise<typeof import('../studies/study-runner.ts')> {
  return (runner ??= await import('../studies/study-runner.ts'));
}

export async function openProject(row: ProjectRow): Promise<void> {
  await saveNow();
  const files = await readFiles(row.id);
  live.forget();
  kept.forget();
  store.dispatch(modelActions.cleared());
  store.dispatch(watchActions.reset());
  store.dispatch(studyActions.cleared());
  store.dispatch(observedActions.shown([]));
  store.dispatch(projectActions.opened(row));
  openFiles(files);
  studiesOf = undefined;
  checkNow();
  // Studies of the project that was open before must not go on in this one.
  if (!runner) await whenIdle();
  await showStudies(row.id);
}

/** Studies and observed data of the open project come when they are looked at first, or once the page has nothing more to do. */
async function showStudies(id: string): Promise<void> {
  if (studiesOf === id || store.getState().project.id !== id) return;
  studiesOf = id;
  try {
    const { showStored } = await studyRunner().catch((error: unknown) => {
      // Asked for again when they are looked at again; once there, what runs is not taken off by asking twice.
      if (studiesOf === id) studiesOf = undefined;
      throw error;
    });
    await showStored(id);
    const observed = await repository.observed(id);
    if (store.getState().project.id === id) store.dispatch(observedActions.shown(observed));
  } catch (error) {
    store.dispatch(projectActions.storageFailed(storageProblem(error)));
  }
}

/** @param goesOn whether this text is taken up by those who are there, whatever is chosen for edits in general */
export function checkNow(goesOn = false): void {
  clearTimeout(checkTimer);
  const { project, watch } = store.getState();
  live.load(project.text, watch.seed, watch.values, undefined, goesOn || watch.goesOn);
}

/** After a change of the text: check when typing pauses, then save. */
export function textChanged(): void {
  clearTimeout(checkTimer);
  checkTimer = setTimeout(() => checkNow(), CHECK_PAUSE);
  saveSoon();
}

/** A change of the text by a form, a picture or a fix; the editor takes it over as one step of undo. */
export function changeText(text: string): void {
  if (text === store.getState().project.text) return;
  store.dispatch(projectActions.textReplaced(text));
  textChanged();
}

/** A part added while the run goes on: it is taken up by those who are there. */
export function addWhileRunning(text: string): void {
  store.dispatch(projectActions.textReplaced(text));
  checkNow(true);
  saveSoon();
}

export function saveSoon(): void {
  clearTimeout(saveTimer);
  saveTimer = setTimeout(() => void saveNow(), SAVE_PAUSE);
}

/** A view of the open project is looked at. */
export async function visitView(view: ViewName): Promise<void> {
  const before = store.getState().project;
  store.dispatch(projectActions.viewVisited(view));
  const { id, visited } = store.getState().project;
  if (STUDY_VIEWS.includes(view) && id) void showStudies(id);
  if (id && visited !== before.visited) await attempt(() => repository.keepVisited(id, visited));
}

/** A chart is read in another way, which is kept with the project. */
export async function readChart(reading: ReadingRow): Promise<void> {
  store.dispatch(projectActions.chartRead(reading));
  const { id, readings } = store.getState().project;
  if (id) await attempt(() => repository.keepReadings(id, readings));
}

/** Other studies or figures are told of in the report, which is kept with the project. */
export async function chooseReport(report: ReportChoiceRow): Promise<void> {
  const { id, report: before } = store.getState().project;
  store.dispatch(projectActions.reportChosen(report));
  if (!id) return;
  await attempt(async () => {
    const theirs = await repository.keepReport(id, report, before.frozen?.at);
    if (!theirs || store.getState().project.id !== id) return;
    store.dispatch(projectActions.reportChosen(theirs));
    store.dispatch(
      interfaceActions.noticed({
        text: `The report was ${theirs.frozen ? 'frozen' : 'let go'} in another window meanwhile. That one is on show now, and nothing of it was changed.`,
        tone: 'problem',
      }),
    );
  });
}

/** All checks of a text have been run, which is kept with the project. */
export async function keepChecks(projectId: string, checks: ChecksRow): Promise<void> {
  if (store.getState().project.id === projectId) store.dispatch(projectActions.checksRun(checks));
  await attempt(() => repository.keepChecks(projectId, checks));
}

/** The text of a study is written: it is there again after a reload. */
export function draftStudy(text: string): void {
  store.dispatch(projectActions.studyDrafted(text));
  keepDraft('study', (id) => repository.keepStudyDraft(id, text));
}

/** The text of the match is written: it is there again after a reload. */
export function draftMatch(text: string): void {
  store.dispatch(projectActions.matchDrafted(text));
  keepDraft('match', (id) => repository.keepMatchDraft(id, text));
}

/** Keeps what is written at once, so that a reload takes nothing away; what is typed while it is stored comes after. */
function keepDraft(what: keyof typeof drafts, keep: (id: string) => Promise<void>): void {
  const { id } = store.getState().project;
  if (id) drafts[what].do(() => attempt(() => keep(id)));
}

/** A table of observed data is taken, in the place of one of the same name, with the text of the match that goes with it. */
export function takeObserved(name: string, csv: string, matchDraft: string): Promise<void> {
  const { id } = store.getState().project;
  if (!id) return Promise.resolve();
  store.dispatch(observedActions.taken({ id: 'unsaved', projectId: id, name, csv }));
  store.dispatch(projectActions.matchDrafted(matchDraft));
  return new Promise((resolve) =>
    drafts.match.do(() =>
      attempt(async () => void (await repository.keepObserved({ projectId: id, name, csv }, matchDraft))).finally(
        resolve,
      ),
    ),
  );
}

/** A table of observed data is taken away. */
export function removeObserved(name: string): Promise<void> {
  const { id } = store.getState().project;
  if (!id) return Promise.resolve();
  store.dispatch(observedActions.removed(name));
  return attempt(() => repository.removeObserved(id, name));
}

async function attempt(action: () => Promise<void>): Promise<void> {
  try {
    await action();
  } catch (error) {
    store.dispatch(projectActions.storageFailed(storageProblem(error)));
  }
}

/** Saves what is not saved yet; one save after another. */
export function saveNow(): Promise<void> {
  clearTimeout(saveTimer);
  saving = saving.then(save).then(storeFiles);
  return saving;
}

async function save(): Promise<void> {
  const { project } = store.getState();
  if (!project.id || !project.dirty || project.conflict) return;
  const { id, name, text, notes, revision } = project;
  try {
    const outcome = await repository.saveProject(id, revision, { name, text, notes });
    if (store.getState().project.id !== id) return;
    if (outcome.saved) {
      store.dispatch(projectActions.saved({ revision: outcome.revision, at: Date.now(), text, name, notes }));
      tellTabs({ id, revision: outcome.revision });
    } else store.dispatch(projectActions.conflictFound(outcome.theirs));
  } catch (error) {
    store.dispatch(projectActions.storageFailed(storageProblem(error)));
  }
}

/** Gives a project of the list another name. The text, here or in another tab, is left as it stands. */
export async function renameProject(id: string, name: string): Promise<void> {
  await saveNow();
  const revision = await repository.renameProject(id, name);
  tellTabs({ id, revision, name });
  await savedElsewhere(id, revision, name);
}

/** Another tab, or the list of projects, saved the project that is open here; with a name if it changed that alone. */
async function savedElsewhere(id: string, revision: number, name?: string): Promise<void> {
  const { project } = store.getState();
  if (project.id !== id || revision <= project.revision) return;
  if (name !== undefined && revision === project.revision + 1) {
    store.dispatch(projectActions.nameStored({ name, revision }));
    return;
  }
  const theirs = await repository.project(id);
  if (!theirs) return;
  store.dispatch(projectActions.conflictFound(theirs));
  if (store.getState().project.dirty) return;
  const files = await readFiles(id);
  if (store.getState().project.id !== id) return;
  openFiles(files);
  // Nothing of ours is unsaved: take what the other tab wrote.
  store.dispatch(projectActions.theirsTaken());
  checkNow();
}

/** Another tab put a file beside the model that is open here. */
async function fileElsewhere(id: string, name: string): Promise<void> {
  if (store.getState().project.id !== id) return;
  const files = await readFiles(id);
  if (store.getState().project.id !== id) return;
  openFiles(files);
  store.dispatch(interfaceActions.noticed({ text: `“${name}” came from another window.`, tone: 'plain' }));
  checkNow();
}

/** Keeps the text of this tab beside that of the other one. */
export async function keepMineAsCopy(): Promise<ProjectRow> {
  const { project } = store.getState();
  const copy = await repository.addProject(`${project.name} (this tab)`, project.text, project.notes);
  store.dispatch(projectActions.theirsTaken());
  checkNow();
  return copy;
}

export function watchOtherTabs(): void {
  tabs.onmessage = ({ data }: MessageEvent<TabNews>) =>
    void ('file' in data ? fileElsewhere(data.id, data.file) : savedElsewhere(data.id, data.revision, data.name));
  document.addEventListener('visibilitychange', () => {
    if (document.visibilityState === 'hidden') void saveNow();
  });
  window.addEventListener('beforeunload', (event) => {
    const { dirty, id } = store.getState().project;
    if (!(dirty && id) && !runner?.hasUnstoredRuns() && !hasUnstoredFiles()) return;
    void saveNow();
    event.preventDefault();
  });
}
