import 'fake-indexeddb/auto';
import { loadModel } from '@vole/core';
import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest';
import { eventually } from '../../test/patience.ts';
import { WorkerInPlay } from '../../test/workers-in-play.ts';
import { db } from '../storage/db.ts';
import { repository } from '../storage/repository.ts';
import { projectActions } from '../store/project-slice.ts';
import { store } from '../store/store.ts';
import { studyActions } from '../store/study-slice.ts';
import { askStudy, holdAgainst } from './answers.ts';
import type { NewStudy } from './study-runner.ts';
import { beginStudy, continueStudy, searchOn, showStored, stopStudy } from './study-runner.ts';

const TEXT = `model Rise
clock
  step 1 day
  end after 8 days
parameter slope = 2, from 0 to 9
variable level = 0
behaviour rise
  level += slope + uniform(-0.5, 0.5)
agent Vole
  start 1
order
  rise
measure height = level
`;
const plan = loadModel(TEXT).loaded!.plan;
const CSV = 'day,height\n2,6\n4,12\n6,18\n8,24\n';
const wording = (by: string): string =>
  `match Rise\nobserved "seen.csv"\ntime is days\nheight from column height\nfind slope 0 to 6\nby ${by}\n`;
const SMALL = 'sequential monte carlo, 20 draws, at most 150 runs';

const partsOf = (by: string, mostRuns: number) => ({
  name: 'Rise',
  wording: wording(by),
  observed: { 'seen.csv': CSV },
  factors: [{ parameter: 'slope', values: [] }],
  seeds: [1],
  mostRuns,
});
const wish = (projectId: string): NewStudy => ({
  projectId,
  kind: 'match',
  text: TEXT,
  every: 1,
  parameters: { slope: 2 },
  ...partsOf(SMALL, 150),
});
const status = () => store.getState().studies.match;
const ended = () => eventually(() => expect(status()).toMatchObject({ running: false, secondsLeft: undefined }));
const digest = () => askStudy(status().study!.id, { is: 'digest' });

beforeEach(() => {
  vi.stubGlobal('Worker', WorkerInPlay);
  vi.stubGlobal('navigator', { hardwareConcurrency: 3 });
});
afterEach(async () => {
  stopStudy('match');
  await ended();
  for (const table of [db.projects, db.studies, db.blocks, db.observed]) await table.clear();
  store.dispatch(studyActions.cleared());
  WorkerInPlay.reset();
  vi.unstubAllGlobals();
});

async function opened(): Promise<string> {
  const row = await repository.addProject('Rise', TEXT);
  store.dispatch(projectActions.opened(row));
  return row.id;
}

describe('a search for what agrees', () => {
  it('asks for runs as it learns, and says how many it took', async () => {
    beginStudy(wish(await opened()), plan);
    await ended();
    const { done, total, failed, study } = status();
    expect([failed, study!.status]).toEqual([0, 'done']);
    expect(done).toBe(total);
    expect(done).toBeLessThanOrEqual(150);
    const { isDone, found, runs } = await askStudy(study!.id, { is: 'posterior' });
    expect([isDone, runs]).toEqual([true, done]);
    expect(found!.findings[0]!.low).toBeLessThan(3);
    expect(found!.findings[0]!.high).toBeGreaterThan(3);
  });

  it('is paused, closed with the page, and gone on with to the same posterior', async () => {
    const id = await opened();
    beginStudy(wish(id), plan);
    await ended();
    const whole = await digest();
    expect(whole).toMatch(/^[0-9a-f]{32}$/);

    const other = await opened();
    // The last of the draws from the prior never ends: all others do.
    WorkerInPlay.silentOn.set(40, 1);
    beginStudy(wish(other), plan);
    await eventually(() => expect(status().done).toBe(30 + 39));
    stopStudy('match');
    await ended();
    store.dispatch(studyActions.cleared());
    await showStored(other);
    expect(status()).toMatchObject({ done: 69, total: 150 });
    continueStudy('match', plan);
    await ended();
    expect(await digest()).toBe(whole);
  });

  it('goes on by another text with the runs that it has', async () => {
    beginStudy(wish(await opened()), plan);
    await ended();
    const before = status().done;
    searchOn(partsOf('sequential monte carlo, 20 draws, at most 260 runs', 260), plan);
    await ended();
    expect(status().study!.mostRuns).toBe(260);
    const more = await digest();
    // All of those before but the twenty that showed what the smaller search predicts are used again.
    const { runs } = await askStudy(status().study!.id, { is: 'posterior' });
    expect(status().done).toBe(runs + 20);
    expect(status().done).toBeGreaterThan(before);
    const [stored] = await repository.studies(store.getState().project.id!);
    expect(stored!.wording).toContain('260 runs');
    expect(more).toMatch(/^[0-9a-f]{32}$/);
  });

  it('is held against its own match, and other studies against that of the project', async () => {
    const projectId = await opened();
    beginStudy(wish(projectId), plan);
    beginStudy(
      {
        projectId,
        kind: 'repeat',
        name: 'Repeat',
        text: TEXT,
        seeds: [1, 2, 3],
        every: 1,
        parameters: {},
        factors: [],
      },
      plan,
    );
    await ended();
    await eventually(() => expect(store.getState().studies.repeat).toMatchObject({ running: false, done: 3 }));
    const repeat = store.getState().studies.repeat.study!.id;
    expect(await askStudy(repeat, { is: 'agreement', of: 'none' })).toBeUndefined();
    holdAgainst({ text: wording(SMALL).replace('height from', 'height * 2 from'), tables: { 'seen.csv': CSV } });
    const other = await askStudy(repeat, { is: 'agreement', of: 'double' });
    expect(other!.series[0]).toMatchObject({ name: 'height * 2' });
    const nearest = await askStudy(repeat, { is: 'nearest run', series: 0, time: 4, value: 0, of: 'double' });
    expect([1, 2, 3]).toContain(nearest!.seed);
    const own = await askStudy(status().study!.id, { is: 'agreement', of: 'its own' });
    expect(own!.series[0]).toMatchObject({ name: 'height' });
    holdAgainst({ text: 'match None\n', tables: {} });
    expect(await askStudy(repeat, { is: 'agreement', of: 'none' })).toBeUndefined();
  });
});
