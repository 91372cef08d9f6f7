// @vitest-environment happy-dom
import 'fake-indexeddb/auto';
import { loadModel } from '@vole/core';
import { screen } from '@testing-library/react';
import { beforeEach, expect, it, vi } from 'vitest';
import { dispatched, shown } from '../../test/shown.tsx';
import { TextWorkerInPlay } from '../../test/text-worker-in-play.ts';
import type { StudyRow } from '../storage/schema.ts';
import { projectActions } from '../store/project-slice.ts';
import { store } from '../store/store.ts';
import type { StudyStatus } from '../store/study-slice.ts';
import { studyActions } from '../store/study-slice.ts';
import { StaleNote, StudyProgress } from './study-views.tsx';

vi.stubGlobal('Worker', TextWorkerInPlay);

const TEXT = 'model M\nagent A\n  start 1\nmeasure n = count A\n';
const plan = loadModel(TEXT).loaded!.plan;
const study: StudyRow = {
  id: 's',
  projectId: 'p',
  kind: 'repeat',
  name: 'Repeat',
  text: TEXT,
  seeds: [1, 2, 3, 4],
  every: 1,
  parameters: {},
  factors: [],
  createdAt: 1,
  status: 'running',
};
const say = (status: Partial<StudyStatus>) => dispatched(studyActions.changed({ kind: 'repeat', status }));

beforeEach(() => {
  store.dispatch(studyActions.cleared());
});

it('nothing is said of a study that is not there', () => {
  expect(shown(<StudyProgress kind="repeat" plan={plan} />).container.textContent).toBe('');
});

it('a study says how far it is, how long it will take, and what failed; only one that runs can be cancelled', () => {
  shown(<StudyProgress kind="repeat" plan={plan} />);
  say({ study, total: 4, done: 1, running: true, secondsLeft: 100 });
  expect(screen.getByTestId('repeat-progress').textContent).toBe('1 of 4 done, 2 min left');
  expect(screen.getByRole('progressbar').getAttribute('aria-valuenow')).toBe('1');
  expect(screen.getAllByRole('button').map(({ textContent }) => textContent)).toEqual(['Cancel']);
  say({ done: 3, failed: 2, running: false, secondsLeft: undefined, failure: 'A division by 0.' });
  expect(screen.getByTestId('repeat-progress').textContent).toBe('3 of 4 done, 2 of them stopped before their end');
  expect(screen.getByRole('alert').textContent).toBe('A division by 0. The runs that were finished are kept.');
  expect(screen.getAllByRole('button').map(({ textContent }) => textContent)).toEqual(['Go on']);
  say({ done: 4, failure: undefined });
  expect(screen.queryAllByRole('button')).toEqual([]);
});

it('runs that are on the page only are counted, and can be stored again', () => {
  shown(<StudyProgress kind="repeat" plan={plan} />);
  say({ study, total: 4, done: 4, running: false, unstored: 3 });
  expect(screen.getByRole('alert').textContent).toMatch(/^3 of them are on this page only/);
  expect(screen.getByRole('button', { name: 'Try again' })).toBeDefined();
});

it('runs of an earlier text are said to be so', () => {
  shown(<StaleNote kind="repeat" />);
  dispatched(projectActions.textReplaced(TEXT));
  say({ study });
  expect(screen.queryByText(/The text has changed since/)).toBeNull();
  dispatched(projectActions.textReplaced(`${TEXT}# more\n`));
  expect(screen.queryByText(/The text has changed since/)).not.toBeNull();
});

it('runs with other files beside the model are said to be so, and can be had again with those of now', async () => {
  shown(<StaleNote kind="repeat" />);
  dispatched(projectActions.textReplaced(TEXT));
  dispatched(projectActions.filesPut({ 'a.osm': '12', 'b.csv': '34' }));
  say({ study: { ...study, files: { 'a.osm': '12' } } });
  expect(screen.queryByText(/since/)).toBeNull();
  dispatched(projectActions.filesPut({ 'a.osm': '56', 'b.csv': '34' }));
  expect(screen.getByText(/^“a\.osm” beside the model has changed since; these runs/)).toBeDefined();
  expect(await screen.findByRole('button', { name: 'run it again with the file of now' })).toBeDefined();
});
