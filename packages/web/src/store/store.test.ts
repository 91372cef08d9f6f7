import { describe, expect, it } from 'vitest';
import type { ProjectRow } from '../storage/schema.ts';
import { interfaceActions, interfaceSlice } from './interface-slice.ts';
import { modelActions, modelSlice } from './model-slice.ts';
import type { ProjectState } from './project-slice.ts';
import { projectActions, projectSlice } from './project-slice.ts';
import { studyActions, studySlice } from './study-slice.ts';
import { watchActions, watchSlice } from './watch-slice.ts';

const row: ProjectRow = {
  id: 'p',
  name: 'Meadow',
  text: 'one',
  notes: '',
  revision: 3,
  createdAt: 1,
  changedAt: 2,
  deletedAt: 0,
  visited: ['build'],
};
const project = (...actions: Parameters<typeof projectSlice.reducer>[1][]): ProjectState =>
  actions.reduce(projectSlice.reducer, projectSlice.reducer(undefined, projectActions.opened(row)));

describe('the open project', () => {
  it('is dirty from the first key to the save of the same text', () => {
    const typed = project(projectActions.textTyped('two'));
    expect(typed).toMatchObject({ text: 'two', dirty: true });
    expect(project(projectActions.textTyped('one')).dirty).toBe(false);
    const saved = projectSlice.reducer(
      typed,
      projectActions.saved({ revision: 4, at: 9, text: 'two', name: 'Meadow', notes: '' }),
    );
    expect(saved).toMatchObject({ dirty: false, revision: 4, savedAt: 9 });
  });
  it('stays dirty when typing went on while it was saved', () => {
    const later = project(
      projectActions.textTyped('two'),
      projectActions.textTyped('three'),
      projectActions.saved({ revision: 4, at: 9, text: 'two', name: 'Meadow', notes: '' }),
    );
    expect(later).toMatchObject({ text: 'three', dirty: true, revision: 4 });
  });
  it('tells the editor of texts from elsewhere, not of its own', () => {
    const before = project().textOrigin;
    expect(project(projectActions.textTyped('two')).textOrigin).toBe(before);
    expect(project(projectActions.textReplaced('two')).textOrigin).toBe(before + 1);
  });
  const theirs = { ...row, text: 'theirs', name: 'Other', revision: 7, changedAt: 50 };
  it('keeps both texts in a conflict until one is chosen', () => {
    const conflict = project(projectActions.textTyped('mine'), projectActions.conflictFound(theirs));
    expect(conflict).toMatchObject({ text: 'mine', conflict: { text: 'theirs' } });
    expect(projectSlice.reducer(conflict, projectActions.theirsTaken())).toMatchObject({
      text: 'theirs',
      name: 'Other',
      revision: 7,
      dirty: false,
      conflict: undefined,
    });
    expect(projectSlice.reducer(conflict, projectActions.mineKept())).toMatchObject({
      text: 'mine',
      revision: 7,
      dirty: true,
      conflict: undefined,
    });
    expect(projectSlice.reducer(project(), projectActions.theirsTaken())).toEqual(project());
  });
  it('takes the title of its model until it is given a name of its own', () => {
    const titled = projectSlice.reducer(
      undefined,
      projectActions.opened({ ...row, name: 'New model', text: 'model New model\n' }),
    );
    const after = (...actions: readonly Parameters<typeof projectSlice.reducer>[1][]) =>
      actions.reduce((state, action) => projectSlice.reducer(state, action), titled).name;
    expect(after(projectActions.textTyped('model \n'), projectActions.textTyped('model Otter bank \nagent A\n'))).toBe(
      'Otter bank',
    );
    expect(after(projectActions.renamed('Mine'), projectActions.textReplaced('model Otter bank\n'))).toBe('Mine');
    expect(
      after(
        projectActions.renamed('Mine'),
        projectActions.renamed('New model'),
        projectActions.textReplaced('model Otter bank\n'),
      ),
    ).toBe('Otter bank');
    expect(after(projectActions.textTyped(''))).toBe('New model');
  });
  it('keeps one reading a chart, which is no change of it either', () => {
    const reading = {
      title: 'constructor',
      form: 'share' as const,
      isLog: false,
      guide: '',
      asTable: false,
      grouped: [],
    };
    const read = project(
      projectActions.chartRead(reading),
      projectActions.chartRead({ ...reading, title: 'Other' }),
      projectActions.chartRead({ ...reading, isLog: true }),
    );
    expect(read).toMatchObject({ dirty: false, readings: [{ title: 'Other' }, { title: 'constructor', isLog: true }] });
    expect(projectSlice.reducer(read, projectActions.opened(row)).readings).toEqual([]);
  });
  it('marks each view once, which is no change of the project', () => {
    const seen = project(projectActions.viewVisited('watch'), projectActions.viewVisited('watch'));
    expect(seen).toMatchObject({ visited: ['build', 'watch'], dirty: false });
  });
  it('a save takes back the word that storage fails', () => {
    const failed = project(projectActions.storageFailed('full'));
    expect(failed.problem).toBe('full');
    expect(
      projectSlice.reducer(failed, projectActions.saved({ revision: 4, at: 9, text: 'one', name: 'Meadow', notes: '' }))
        .problem,
    ).toBeUndefined();
  });
});

describe('the model', () => {
  const checked = (runs: boolean, restarted: boolean, at: number) =>
    modelActions.checked({ diagnostics: [], runs, restarted, at });
  it('remembers when it was last right, and that something runs', () => {
    const good = modelSlice.reducer(undefined, checked(true, true, 5));
    expect(modelSlice.reducer(good, checked(false, false, 8))).toMatchObject({ runs: false, hasPlan: true, goodAt: 5 });
  });
  it('knows when the run on show is of an earlier text', () => {
    const shown = modelSlice.reducer(
      undefined,
      modelActions.chapterShown({ stepLimit: 9, layerNames: ['a'], until: 5 }),
    );
    expect(shown).toMatchObject({ stepLimit: 9, layerNames: ['a'], until: 5 });
    expect(
      modelSlice.reducer(shown, modelActions.chapterShown({ stepLimit: 12, layerNames: [], until: undefined })),
    ).toMatchObject({ stepLimit: 12, until: undefined });
  });
  it('forgets a failure when a run starts anew', () => {
    const failed = modelSlice.reducer(
      undefined,
      modelActions.failed({ message: 'm', hint: undefined, start: 0, end: 1, step: 3 }),
    );
    expect(modelSlice.reducer(failed, checked(true, false, 1)).failure).toBeDefined();
    expect(modelSlice.reducer(failed, checked(true, true, 1)).failure).toBeUndefined();
  });
});

describe('watching, studies, interface', () => {
  it('values by hand are kept by name', () => {
    const state = watchSlice.reducer(undefined, watchActions.valueSet({ name: 'strike', value: 0.3 }));
    expect(watchSlice.reducer(state, watchActions.valueSet({ name: 'bite', value: 1 })).values).toEqual({
      strike: 0.3,
      bite: 1,
    });
    expect(watchSlice.reducer(state, watchActions.reset()).values).toEqual({});
  });
  it('each change of a study is a new version', () => {
    const once = studySlice.reducer(undefined, studyActions.changed({ kind: 'vary', status: { done: 3 } }));
    const twice = studySlice.reducer(once, studyActions.changed({ kind: 'vary', status: { done: 4 } }));
    expect([once.vary.version, twice.vary.version, twice.vary.done, twice.repeat.version]).toEqual([1, 2, 4, 0]);
  });
  it('shows at most three notices', () => {
    let state = interfaceSlice.reducer(undefined, { type: 'begin' });
    for (let i = 0; i < 5; i++)
      state = interfaceSlice.reducer(state, interfaceActions.noticed({ text: String(i), tone: 'plain' }));
    expect(state.notices.map((n) => n.text)).toEqual(['2', '3', '4']);
    expect(interfaceSlice.reducer(state, interfaceActions.noticeClosed(state.notices[0]!.id)).notices).toHaveLength(2);
  });
});
