import 'fake-indexeddb/auto';
import type { FinishedRun, RunResult } from '@vole/core';
import {
  compilePlan,
  decodeBlock,
  designOf,
  jobsOf,
  loadModel,
  plainCourse,
  pointAt,
  runsIn,
  settingOf,
  simulate,
} from '@vole/core';
import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest';
import { eventually } from '../../test/patience.ts';
import { WorkerInPlay } from '../../test/workers-in-play.ts';
import { db } from '../storage/db.ts';
import { repository } from '../storage/repository.ts';
import { projectActions } from '../store/project-slice.ts';
import { store } from '../store/store.ts';
import { studyActions } from '../store/study-slice.ts';
import type { NewStudy } from './study-runner.ts';
import { askRecord, askStudy } from './answers.ts';
import { tooLarge } from './study-design.ts';
import {
  beginStudy,
  bringStudyBack,
  continueStudy,
  deleteStudy,
  duplicateStudy,
  hasUnstoredRuns,
  runAgain,
  showStored,
  showStudy,
  stopStudy,
  storeAgain,
} from './study-runner.ts';

const TEXT = `model Small
clock
  step 1 day
  end after 6 days
parameter pace = 2 per week, from 0 to 70
parameter calm = yes
agent Vole
  start 8
  has age = uniform(0, 1)
  behaviour grow_older
    age += pace * step + (if calm then 0 else 1)
measure total = sum of it.age over Vole
summary last_age = last of total
`;
const plan = loadModel(TEXT).loaded!.plan;
const wish = (projectId: string, more: Partial<NewStudy> = {}): NewStudy => ({
  projectId,
  kind: 'repeat',
  name: 'Repeat',
  text: TEXT,
  seeds: [1, 2, 3, 4],
  every: 2,
  parameters: {},
  factors: [],
  ...more,
});

const statusOf = (kind: 'repeat' | 'vary' = 'repeat') => store.getState().studies[kind];
const finished = (kind: 'repeat' | 'vary' = 'repeat') =>
  eventually(() => expect(statusOf(kind)).toMatchObject({ running: false, secondsLeft: undefined }));
const alone = (seed: number, parameters = plan.parameters.map((p) => p.value)): RunResult =>
  (simulate(compilePlan(plan), { parameters, seed, every: 2 }) as { result: RunResult }).result;

/** The runs of the study on show, as the answers have them: seeds by the first point's estimates of their only summary. */
const idOf = (kind: 'repeat' | 'vary' = 'repeat') => statusOf(kind).study!.id;
const seedsOf = async (point = '') => (await askStudy(idOf(), { is: 'runs', point })).map(({ seed }) => seed);
const digest = (kind: 'repeat' | 'vary' = 'repeat') => askStudy(idOf(kind), { is: 'digest' });
const courses = async () =>
  (await askStudy(idOf(), { is: 'fan', course: plainCourse(0), lines: 100 }))!.lines.map(({ values }) => [...values]);
const storedRuns = async (kind: 'repeat' | 'vary' = 'repeat'): Promise<FinishedRun[]> =>
  (await repository.blocks(idOf(kind)))
    .flatMap(({ bytes }) => runsIn(decodeBlock(bytes).block))
    .sort((a, b) => a.seed - b.seed);

let projectId: string;
beforeEach(async () => {
  vi.stubGlobal('Worker', WorkerInPlay);
  vi.stubGlobal('navigator', { hardwareConcurrency: 3 });
  WorkerInPlay.reset();
  store.dispatch(studyActions.cleared());
  const project = await repository.addProject('Small', TEXT);
  projectId = project.id;
  store.dispatch(projectActions.opened(project));
});
afterEach(() => vi.unstubAllGlobals());

describe('the jobs of a study', () => {
  it('are every combination of the factors with every seed, in the units of the text', () => {
    const study = {
      ...wish('p'),
      seeds: [5, 6],
      steps: 3,
      factors: [
        { parameter: 'pace', values: [7, 14] },
        { parameter: 'calm', values: [0, 1] },
      ],
    };
    const jobs = [...jobsOf(settingOf(study), plan)];
    expect(jobs.map(({ point, seed, parameters }) => [point, seed, ...parameters])).toEqual([
      ['pace=7;calm=0', 5, 1, 0],
      ['pace=7;calm=0', 6, 1, 0],
      ['pace=7;calm=1', 5, 1, 1],
      ['pace=7;calm=1', 6, 1, 1],
      ['pace=14;calm=0', 5, 2, 0],
      ['pace=14;calm=0', 6, 2, 0],
      ['pace=14;calm=1', 5, 2, 1],
      ['pace=14;calm=1', 6, 2, 1],
    ]);
    expect(jobs.every(({ steps, every }) => steps === 3 && every === 2)).toBe(true);
  });
  it('begin from the values of the study, and leave out factors that the text has no more', () => {
    const gone = wish('p', { parameters: { pace: 3, gone: 9 }, factors: [{ parameter: 'gone', values: [1] }] });
    expect(jobsOf(settingOf(gone), plan).next().value!.parameters).toEqual([3, 1]);
  });
  it('take a parameter that is named like a property of every object from the text', () => {
    const named = loadModel(TEXT.replace(/pace/g, 'constructor')).loaded!.plan;
    expect(jobsOf(settingOf(wish('p')), named).next().value!.parameters).toEqual([2 / 7, 1]);
  });
  it('are refused before they are made where they are too many or too much', () => {
    expect(tooLarge(100_000_000, 0)).toMatch(/100,000,000 runs; at most 1,000,000/);
    expect(tooLarge(1000, 1.7e12)).toMatch(/1700.0 GB; at most 1.5 GB/);
    expect(tooLarge(40, 1e6)).toBeUndefined();
  });
});

describe('a study', () => {
  it('runs on several workers, gives what a single run gives, and is stored', async () => {
    beginStudy(wish(projectId), plan);
    await finished();
    expect(WorkerInPlay.all).toHaveLength(2);
    expect(WorkerInPlay.all.every((worker) => worker.ended)).toBe(true);
    expect(statusOf()).toMatchObject({ done: 4, total: 4, failure: undefined, study: { status: 'done' } });
    expect(await courses()).toEqual([1, 2, 3, 4].map((seed) => [...alone(seed).rows]));
    expect((await storedRuns()).map(({ outcome }) => outcome)).toEqual(
      [1, 2, 3, 4].map((seed) => ({ result: alone(seed) })),
    );
  });

  it('is the same whatever the number of workers', async () => {
    const digests: string[] = [];
    for (const cores of [1, 2, 9]) {
      vi.stubGlobal('navigator', { hardwareConcurrency: cores });
      beginStudy(wish(projectId), plan);
      await finished();
      digests.push(await digest());
    }
    expect(new Set(digests).size).toBe(1);
    expect(digests[0]).toMatch(/^[0-9a-f]{32}$/);
  });

  it('that was stopped keeps what is finished and goes on with the rest, as if it had not been', async () => {
    beginStudy(wish(projectId), plan);
    await finished();
    const whole = await digest();
    WorkerInPlay.isHeld = true;
    beginStudy(wish(projectId), plan);
    stopStudy('repeat');
    await finished();
    expect(statusOf()).toMatchObject({ done: 0, study: { status: 'stopped' } });
    expect(await digest()).toBe('');
    WorkerInPlay.isHeld = false;
    continueStudy('repeat', plan);
    await finished();
    expect(statusOf()).toMatchObject({ done: 4, study: { status: 'done' } });
    expect(await digest()).toBe(whole);
  });

  it('is held against the sender of its bundle only as long as it has the same seeds', async () => {
    beginStudy({ ...wish(projectId), seeds: [1, 2], expectedDigest: 'abc' }, plan);
    await finished();
    expect(statusOf().study!.expectedDigest).toBe('abc');
    continueStudy('repeat', plan);
    await finished();
    expect(statusOf().study!.expectedDigest).toBe('abc');
    continueStudy('repeat', plan, [1, 2, 3]);
    await finished();
    expect(statusOf().study!.expectedDigest).toBeUndefined();
    expect(await seedsOf()).toEqual([1, 2, 3]);
  });
  it('takes no more runs while a file beside the model is another one than when it ran', async () => {
    const text = `${TEXT}# of "a.osm"\n`;
    store.dispatch(projectActions.filesPut({ 'a.osm': '12', 'not-named.csv': '34' }));
    beginStudy({ ...wish(projectId), text }, plan);
    await finished();
    expect(statusOf().study!.files).toEqual({ 'a.osm': '12' });
    store.dispatch(projectActions.filesPut({ 'a.osm': '56' }));
    continueStudy('repeat', plan, [1, 2, 3, 4, 9]);
    expect(statusOf()).toMatchObject({
      running: false,
      done: 4,
      failure: expect.stringMatching(/^“a\.osm” beside the model is another file now/) as string,
    });
    store.dispatch(projectActions.filesPut({ 'a.osm': '12' }));
    continueStudy('repeat', plan, [1, 2, 3, 4, 9]);
    await finished();
    expect(statusOf()).toMatchObject({ done: 5, failure: undefined });
    store.dispatch(projectActions.filesPut({}));
  });

  it('is found again after the page was closed, and takes more seeds', async () => {
    beginStudy(wish(projectId), plan);
    await finished();
    const before = await courses();
    store.dispatch(studyActions.cleared());
    await showStored(projectId);
    expect(statusOf()).toMatchObject({ done: 4, total: 4, running: false });
    expect(await courses()).toEqual(before);
    continueStudy('repeat', plan, [1, 2, 3, 4, 9]);
    await finished();
    expect(await seedsOf()).toEqual([1, 2, 3, 4, 9]);
    expect((await courses())[4]).toEqual([...alone(9).rows]);
  });

  it('of another kind stands beside it', async () => {
    beginStudy(wish(projectId), plan);
    await finished();
    beginStudy(
      wish(projectId, {
        kind: 'vary',
        name: 'Vary',
        seeds: [1, 2],
        factors: [{ parameter: 'pace', values: [0, 7, 14] }],
      }),
      plan,
    );
    await finished('vary');
    expect([statusOf().done, statusOf('vary').done]).toEqual([4, 6]);
    const point = pointAt(designOf(statusOf('vary').study!), 1).id;
    const fan = await askStudy(idOf('vary'), { is: 'fan', course: plainCourse(0), lines: 9, point });
    expect(fan!.lines.map(({ seed, values }) => [seed, ...values])).toEqual(
      [1, 2].map((seed) => [seed, ...alone(seed, [1, 1]).rows]),
    );
  });

  it('with listed points and outcomes of its own runs those, and is the same after the page was left', async () => {
    const listed = {
      method: 'scenarios' as const,
      points: [[14], [14]],
      names: ['Fast', 'Fast, then still'],
      timelines: ['', 'at 2 days: pace = 0'],
    };
    const outcomes = [{ name: 'some', condition: `last of ${plan.measures[0]!.name} > 0` }];
    beginStudy(
      wish(projectId, {
        kind: 'vary',
        seeds: [1, 2],
        factors: [{ parameter: 'pace', values: [] }],
        listed,
        outcomes,
      }),
      plan,
    );
    await finished('vary');
    expect(statusOf('vary')).toMatchObject({ done: 4, total: 4 });
    const differences = () => askStudy(idOf('vary'), { is: 'differences', base: 0 });
    const before = await differences();
    expect(before[0]!.summaries).toHaveLength(plan.summaries.length + 1);
    expect(before[0]!.summaries[0]!.difference.value).toBeLessThan(0);
    store.dispatch(studyActions.cleared());
    await showStored(projectId);
    expect(statusOf('vary')).toMatchObject({ done: 4, total: 4, study: { listed } });
    expect(await differences()).toEqual(before);
  });

  it('goes on past runs that stop before their end, counts them, and gives the others', async () => {
    const text = TEXT.replace('    age += pace', '    age += (if whole(1, 6) is 1 then 1 / (0 * age) else 0) + pace')
      .replace('start 8', 'start 1')
      .replace('end after 6 days', 'end after 1 day');
    const sometimes = loadModel(text).loaded!.plan;
    const seeds = Array.from({ length: 60 }, (_, i) => i + 1);
    beginStudy(wish(projectId, { text, seeds }), sometimes);
    await finished();
    const { failed } = statusOf();
    expect(failed).toBeGreaterThan(2);
    expect(statusOf()).toMatchObject({ done: 60, total: 60, failure: undefined, study: { status: 'done' } });
    expect(await seedsOf()).toHaveLength(60 - failed);
    const failures = (await storedRuns()).flatMap(({ outcome }) => ('failure' in outcome ? [outcome.failure] : []));
    expect(failures).toHaveLength(failed);
    expect(failures[0]!.message).toMatch(/division/);
    await showStored(projectId);
    expect(statusOf()).toMatchObject({ done: 60, failed });
  });

  it('waits, and says why, where most runs stop before their end; it goes on if that is wanted', async () => {
    const text = TEXT.replace('    age += pace', '    age += 1 / (3 - now / (1 day)) * 0 + pace');
    const failing = loadModel(text).loaded!.plan;
    beginStudy(wish(projectId, { text, seeds: Array.from({ length: 40 }, (_, i) => i) }), failing);
    await finished();
    expect(statusOf().failure).toMatch(/of \d+ runs stopped before their end, so the study waits.*division/);
    expect(statusOf()).toMatchObject({ running: false, study: { status: 'stopped' } });
    expect(statusOf().done).toBeLessThan(40);
    continueStudy('repeat', failing);
    await finished();
    expect(statusOf()).toMatchObject({ done: 40, failed: 40, study: { status: 'done' } });
  });

  it('begins a run again whose worker has died or gone silent, and gives what it would have given', async () => {
    WorkerInPlay.isHeld = true;
    beginStudy(wish(projectId), plan);
    await eventually(() => expect(WorkerInPlay.all).toHaveLength(2));
    WorkerInPlay.isHeld = false;
    for (const worker of WorkerInPlay.all.slice(0, 2)) worker.onerror!({ message: 'out of memory' });
    await finished();
    expect(statusOf()).toMatchObject({ done: 4, failed: 0, study: { status: 'done' } });
    expect(await courses()).toEqual([1, 2, 3, 4].map((seed) => [...alone(seed).rows]));
    WorkerInPlay.silentOn.set(3, 1);
    beginStudy(wish(projectId), plan, 30);
    await finished();
    expect(statusOf()).toMatchObject({ done: 4, failed: 0 });
    expect((await courses())[2]).toEqual([...alone(3).rows]);
  });

  it('counts a run as failed that ends two workers, and ends itself', async () => {
    WorkerInPlay.silentOn.set(2, 99);
    beginStudy(wish(projectId), plan, 20);
    await finished();
    expect(statusOf()).toMatchObject({ done: 4, failed: 1, study: { status: 'done' } });
    expect((await storedRuns())[1]!.outcome).toMatchObject({
      failure: {
        code: 'run/worker-lost',
        message: expect.stringMatching(/has not answered for .* does not come to an end/) as string,
      },
    });
  });

  it('is given a text with errors: says so and ends', async () => {
    beginStudy(wish(projectId, { text: 'model Broken\nagent\n' }), plan);
    await eventually(() => expect(statusOf().failure).toMatch(/name/));
  });

  it('that is begun by many quick clicks leaves no worker behind', async () => {
    for (let i = 0; i < 6; i++) beginStudy(wish(projectId), plan);
    await finished();
    expect(WorkerInPlay.all).toHaveLength(12);
    expect(WorkerInPlay.all.every((worker) => worker.ended)).toBe(true);
    expect(statusOf()).toMatchObject({ done: 4, study: { status: 'done' } });
    expect(await repository.studies(projectId)).toHaveLength(6);
  });

  it('does not say that it is done before its runs are stored; what could not be stored is kept, and stored when there is room again', async () => {
    const keepStudy = repository.keepStudy.bind(repository);
    let isFull = true;
    const spy = vi
      .spyOn(repository, 'keepStudy')
      .mockImplementation((study, rows) =>
        isFull ? Promise.reject(new DOMException('full', 'QuotaExceededError')) : keepStudy(study, rows),
      );
    beginStudy(wish(projectId), plan);
    await finished();
    expect(statusOf()).toMatchObject({ done: 4, unstored: 4 });
    expect(hasUnstoredRuns()).toBe(true);
    expect(store.getState().project.problem).toContain('no room');
    expect(await repository.studies(projectId)).toEqual([]);
    isFull = false;
    storeAgain('repeat');
    await eventually(() => expect(statusOf().unstored).toBe(0));
    expect(hasUnstoredRuns()).toBe(false);
    expect(store.getState().project.problem).toBeUndefined();
    const [stored] = await repository.studies(projectId);
    expect([stored!.status, (await storedRuns()).length]).toEqual(['done', 4]);
    const order: string[] = [];
    spy.mockImplementation(async (study, rows) => {
      await keepStudy(study, rows);
      order.push(`stored ${study.status}`);
    });
    const unsubscribe = store.subscribe(() => {
      if (statusOf().study?.status === 'done' && order.at(-1) !== 'said done') order.push('said done');
    });
    beginStudy(wish(projectId), plan);
    await finished();
    unsubscribe();
    spy.mockRestore();
    expect(order.at(-1)).toBe('said done');
    expect(order.at(-2)).toBe('stored done');
  });

  it('has its results still when the worker that answers has died, stored or not', async () => {
    const crash = (): void => WorkerInPlay.desks.at(-1)!.onerror!({ message: 'out of memory' });
    beginStudy(wish(projectId), plan);
    await finished();
    const before = [await courses(), await digest()];
    crash();
    expect([await courses(), await digest()]).toEqual(before);
    const full = vi.spyOn(repository, 'keepStudy').mockRejectedValue(new DOMException('full', 'QuotaExceededError'));
    const closed = vi.spyOn(repository, 'blocks').mockRejectedValue(new DOMException('gone', 'DatabaseClosedError'));
    beginStudy(wish(projectId), plan);
    await finished();
    expect(statusOf()).toMatchObject({ done: 4, unstored: 4 });
    crash();
    expect([await courses(), await digest()]).toEqual(before);
    full.mockRestore();
    closed.mockRestore();
    storeAgain('repeat');
    await eventually(() => expect(statusOf().unstored).toBe(0));
  });

  it('says to those who wait that the worker has died, and not for ever nothing', async () => {
    beginStudy(wish(projectId), plan);
    await finished();
    const waiting = askStudy(idOf(), { is: 'digest' });
    WorkerInPlay.desks.at(-1)!.onerror!({ message: 'out of memory' });
    await expect(waiting).rejects.toThrow('The results could not be looked at (out of memory).');
  });

  it('whose blocks are damaged has the others, and runs again what is missing', async () => {
    beginStudy(wish(projectId), plan);
    await finished();
    const whole = await digest();
    const [block] = await repository.blocks(idOf());
    const { bytes } = block!;
    await repository.keepStudy(statusOf().study!, [{ ...block!, bytes: bytes.slice(0, bytes.byteLength - 16) }]);
    await showStored(projectId);
    expect(statusOf()).toMatchObject({ done: 0, total: 4 });
    continueStudy('repeat', plan);
    await finished();
    expect([statusOf().done, await digest()]).toEqual([4, whole]);
  });

  it('stands in the list with the earlier ones, is shown again, deleted, and brought back', async () => {
    beginStudy(wish(projectId, { name: 'first', seeds: [1] }), plan);
    await finished();
    beginStudy(wish(projectId, { name: 'second', seeds: [1, 2] }), plan);
    await finished();
    await showStored(projectId);
    expect(store.getState().studies.list.map(({ name }) => name)).toEqual(['first', 'second']);
    expect(statusOf().study!.name).toBe('second');
    await showStudy(store.getState().studies.list[0]!);
    expect(statusOf()).toMatchObject({ done: 1, study: { name: 'first' } });
    const first = statusOf().study!;
    await deleteStudy(first);
    expect(statusOf()).toMatchObject({ done: 2, study: { name: 'second' } });
    expect(store.getState().studies.list).toHaveLength(1);
    await bringStudyBack(first);
    expect(statusOf()).toMatchObject({ done: 1, study: { name: 'first' } });
    for (const study of await repository.studies(projectId)) await deleteStudy(study);
    expect(statusOf()).toMatchObject({ study: undefined, total: 0 });
  });
});

describe('records of a study', () => {
  const RECORDING = `${TEXT}record Vole: age every 2 days\n`;
  const recording = loadModel(RECORDING).loaded!.plan;
  const begin = (): void => beginStudy(wish(projectId, { text: RECORDING, records: true }), recording);
  const recordOf = (seed: number) => ({ study: idOf(), record: 0, point: '', seed });

  it('are stored run by run, as a run alone records them, and told of after the page was left', async () => {
    begin();
    await finished();
    const outcome = simulate(compilePlan(recording), {
      parameters: recording.parameters.map(({ value }) => value),
      seed: 3,
      every: 2,
      records: true,
    });
    const { width, data } = (outcome as { result: RunResult }).result.records![0]!;
    store.dispatch(studyActions.cleared());
    await showStored(projectId);
    const { count, rows } = await askRecord(recordOf(3), { is: 'rows', from: 0, count: 999 });
    expect(count).toBe(32);
    expect(rows.flat()).toEqual([...data]);
    expect(rows[0]!.length).toBe(width);
    await expect(askRecord(recordOf(9), { is: 'rows', from: 0, count: 9 })).rejects.toThrow(
      /seed 9 no record is stored/,
    );
    await expect(askRecord({ ...recordOf(3), record: 7 }, { is: 'rows', from: 0, count: 9 })).rejects.toThrow(
      /no such record/,
    );
  });

  it('wait for room with their runs, and go with their study', async () => {
    const full = vi.spyOn(repository, 'keepStudy').mockRejectedValue(new DOMException('full', 'QuotaExceededError'));
    begin();
    await finished();
    expect(await db.records.where({ studyId: idOf() }).count()).toBe(0);
    full.mockRestore();
    storeAgain('repeat');
    await eventually(() => expect(statusOf().unstored).toBe(0));
    expect(await db.records.where({ studyId: idOf() }).count()).toBe(4);
    const copy = await repository.duplicateProject(projectId, 'Copy');
    const [copied] = await repository.studies(copy.id);
    expect(await db.records.where({ studyId: copied!.id }).count()).toBe(4);
    const gone = idOf();
    await deleteStudy(statusOf().study!);
    await repository.clearAway(Date.now() + 1);
    expect(await db.records.where({ studyId: gone }).count()).toBe(0);
    expect(await db.records.where({ studyId: copied!.id }).count()).toBe(4);
  });
});

describe('a study that takes as many seeds as it needs', () => {
  const factors = [{ parameter: 'pace', values: [0, 70] }];
  const begin = (share: number): void =>
    beginStudy(
      wish(projectId, {
        kind: 'vary',
        factors,
        seeds: Array.from({ length: 60 }, (_, i) => i + 1),
        until: { summary: 0, share, most: 60 },
      }),
      plan,
    );
  const runsAt = async (): Promise<number[]> =>
    (await askStudy(idOf('vary'), { is: 'points', most: 9 })).map(({ runs }) => runs);

  it('gives each point its own, says that it is done, and has the runs of one that was broken off', async () => {
    begin(0.05);
    await finished('vary');
    const counts = await runsAt();
    // With a pace of 70 a week ages grow alike, so the first look is enough; without it luck is all there is.
    expect(counts[1]).toBe(20);
    expect(counts[0]).toBeGreaterThan(20);
    expect(statusOf('vary')).toMatchObject({
      done: counts[0]! + 20,
      total: counts[0]! + 20,
      study: { status: 'done' },
    });
    const whole = await digestOfRuns();
    begin(0.05);
    await eventually(() => expect(statusOf('vary').done).toBeGreaterThan(2));
    stopStudy('vary');
    await finished('vary');
    const half = statusOf('vary').study!;
    await showStudy(half);
    continueStudy('vary', plan);
    await finished('vary');
    expect(await runsAt()).toEqual(counts);
    expect(await digestOfRuns()).toEqual(whole);
  });

  const digestOfRuns = async () =>
    (await askStudy(idOf('vary'), { is: 'run table', filter: '', from: 0, count: 999 })).rows;
});

describe('a study that is there', () => {
  it('is copied with its runs and its note, and run again with another text', async () => {
    beginStudy(wish(projectId, { notes: 'why' }), plan);
    await finished();
    const first = statusOf().study!;
    const rows = await courses();
    await duplicateStudy(first);
    expect(statusOf().study).toMatchObject({ name: 'Repeat, copy', notes: 'why', text: TEXT });
    expect(statusOf()).toMatchObject({ done: 4, total: 4 });
    expect(await courses()).toEqual(rows);
    const other = TEXT.replace('start 8', 'start 4').replace('parameter calm = yes\n', 'parameter calm = no\n');
    runAgain(first, other, loadModel(other).loaded!.plan);
    await finished();
    expect(statusOf().study).toMatchObject({ name: 'Repeat, again', text: other, notes: 'why' });
    expect(await courses()).not.toEqual(rows);
    expect(await repository.studies(projectId)).toHaveLength(3);
  });
});
