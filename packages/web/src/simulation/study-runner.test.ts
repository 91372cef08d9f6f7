import 'fake-indexeddb/auto';
import type { CompiledPlan, RunResult } from '@vole/core';
import { compilePlan, loadModel, simulate } from '@vole/core';
import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest';
import { repository } from '../storage/repository.ts';
import { store } from '../store/store.ts';
import { studyActions } from '../store/study-slice.ts';
import type { StudyReply, StudyRequest } from './protocol.ts';
import type { NewStudy } from './study-runner.ts';
import { beginStudy, continueStudy, digestOfResults, jobsOf, resultsOf, showStored, stopStudy } from './study-runner.ts';

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
const wish = (projectId: string, more: Partial<NewStudy> = {}): NewStudy => ({ projectId, kind: 'repeat', name: 'Repeat', text: TEXT, seeds: [1, 2, 3, 4], every: 2, parameters: {}, factors: [], ...more });

/** A worker in the same thread, which answers when it is let: one reply after another, or never. */
class WorkerInPlay {
  static all: WorkerInPlay[] = [];
  static isHeld = false;
  onmessage: ((event: { data: StudyReply }) => void) | undefined;
  onerror: ((event: { message: string }) => void) | undefined;
  ended = false;
  private compiled: CompiledPlan | undefined;

  constructor() {
    WorkerInPlay.all.push(this);
  }
  postMessage(request: StudyRequest): void {
    queueMicrotask(() => {
      if (this.ended || (WorkerInPlay.isHeld && request.is === 'job')) return;
      this.onmessage?.({ data: structuredClone(this.replyTo(request)) });
    });
  }
  private replyTo(request: StudyRequest): StudyReply {
    if (request.is === 'model') {
      const { loaded, diagnostics } = loadModel(request.text);
      if (!loaded) return { is: 'refused', diagnostics };
      this.compiled = compilePlan(loaded.plan);
      return { is: 'ready' };
    }
    const outcome = simulate(this.compiled!, request.job)!;
    return 'failure' in outcome ? { is: 'failed', id: request.job.id, failure: outcome.failure } : { is: 'done', id: request.job.id, result: outcome.result };
  }
  terminate(): void {
    this.ended = true;
  }
}

const statusOf = (kind: 'repeat' | 'vary' = 'repeat') => store.getState().studies[kind];
const finished = (kind: 'repeat' | 'vary' = 'repeat') => vi.waitFor(() => expect(statusOf(kind)).toMatchObject({ running: false, secondsLeft: undefined }));
const alone = (seed: number, parameters = plan.parameters.map((p) => p.value)): RunResult => (simulate(compilePlan(plan), { parameters, seed, every: 2 }) as { result: RunResult }).result;

let projectId: string;
beforeEach(async () => {
  vi.stubGlobal('Worker', WorkerInPlay);
  vi.stubGlobal('navigator', { hardwareConcurrency: 3 });
  WorkerInPlay.all = [];
  WorkerInPlay.isHeld = false;
  store.dispatch(studyActions.cleared());
  projectId = (await repository.addProject('Small', TEXT)).id;
});
afterEach(() => vi.unstubAllGlobals());

describe('the jobs of a study', () => {
  it('are every combination of the factors with every seed, in the units of the text', () => {
    const jobs = jobsOf({ ...wish('p'), id: 's', createdAt: 0, status: 'running', seeds: [5, 6], steps: 3, factors: [{ parameter: 'pace', values: [7, 14] }, { parameter: 'calm', values: [0, 1] }] }, plan);
    expect(jobs.map(({ id, seed, parameters }) => [id, seed, ...parameters])).toEqual([[0, 5, 1, 0], [1, 6, 1, 0], [2, 5, 1, 1], [3, 6, 1, 1], [4, 5, 2, 0], [5, 6, 2, 0], [6, 5, 2, 1], [7, 6, 2, 1]]);
    expect(jobs.every(({ steps, every }) => steps === 3 && every === 2)).toBe(true);
  });
  it('begin from the values of the study, and leave out factors that the text has no more', () => {
    const [job] = jobsOf({ ...wish('p', { parameters: { pace: 3, gone: 9 } }), id: 's', createdAt: 0, status: 'running', factors: [{ parameter: 'gone', values: [1] }] }, plan);
    expect(job!.parameters).toEqual([3, 1]);
  });
});

describe('a study', () => {
  it('runs on several workers, gives what a single run gives, and is stored', async () => {
    await beginStudy(wish(projectId), plan);
    await finished();
    expect(WorkerInPlay.all).toHaveLength(2);
    expect(WorkerInPlay.all.every((worker) => worker.ended)).toBe(true);
    expect(statusOf()).toMatchObject({ done: 4, total: 4, failure: undefined, study: { status: 'done' } });
    expect(resultsOf('repeat').map((result) => [...result!.rows])).toEqual([1, 2, 3, 4].map((seed) => [...alone(seed).rows]));
    const stored = await repository.runs(statusOf().study!.id);
    expect(stored.map((row) => [row.index, row.seed, ...new Float64Array(row.summaries)])).toEqual([1, 2, 3, 4].map((seed, i) => [i, seed, ...alone(seed).summaries]));
  });

  it('is the same whatever the number of workers', async () => {
    const digests: string[] = [];
    for (const cores of [1, 2, 9]) {
      vi.stubGlobal('navigator', { hardwareConcurrency: cores });
      await beginStudy(wish(projectId), plan);
      await finished();
      digests.push(digestOfResults(resultsOf('repeat')));
    }
    expect(new Set(digests).size).toBe(1);
  });

  it('that was stopped keeps what is finished and goes on with the rest, as if it had not been', async () => {
    await beginStudy(wish(projectId), plan);
    await finished();
    const whole = digestOfResults(resultsOf('repeat'));
    WorkerInPlay.isHeld = true;
    await beginStudy(wish(projectId), plan);
    stopStudy('repeat');
    await finished();
    expect(statusOf()).toMatchObject({ done: 0, study: { status: 'stopped' } });
    WorkerInPlay.isHeld = false;
    await continueStudy('repeat', plan);
    await finished();
    expect(statusOf()).toMatchObject({ done: 4, study: { status: 'done' } });
    expect(digestOfResults(resultsOf('repeat'))).toBe(whole);
  });

  it('is found again after the page was closed, and takes more seeds', async () => {
    await beginStudy(wish(projectId), plan);
    await finished();
    const before = resultsOf('repeat').map((result) => [...result!.rows]);
    store.dispatch(studyActions.cleared());
    await showStored(projectId);
    expect(statusOf()).toMatchObject({ done: 4, total: 4, running: false });
    expect(resultsOf('repeat').map((result) => [...result!.rows])).toEqual(before);
    await continueStudy('repeat', plan, [1, 2, 3, 4, 9]);
    await finished();
    expect(resultsOf('repeat').map((result) => result!.seed)).toEqual([1, 2, 3, 4, 9]);
    expect([...resultsOf('repeat')[4]!.rows]).toEqual([...alone(9).rows]);
  });

  it('of another kind stands beside it', async () => {
    await beginStudy(wish(projectId), plan);
    await finished();
    await beginStudy(wish(projectId, { kind: 'vary', name: 'Vary', seeds: [1, 2], factors: [{ parameter: 'pace', values: [0, 7, 14] }] }), plan);
    await finished('vary');
    expect([resultsOf('repeat').length, resultsOf('vary').length]).toEqual([4, 6]);
    expect([...resultsOf('vary')[3]!.rows]).toEqual([...alone(2, [1, 1]).rows]);
  });

  it('that a run stops says why, and keeps the runs before', async () => {
    const text = TEXT.replace('    age += pace', '    age += 1 / (3 - now / (1 day)) * 0 + pace');
    const failing = loadModel(text).loaded!.plan;
    await beginStudy(wish(projectId, { text }), failing);
    await vi.waitFor(() => expect(statusOf().failure).toBeDefined());
    expect(statusOf().failure).toMatch(/division/);
    expect(statusOf()).toMatchObject({ running: false, study: { status: 'stopped' } });
  });

  it('says when a worker breaks down or is given a text with errors', async () => {
    WorkerInPlay.isHeld = true;
    await beginStudy(wish(projectId), plan);
    WorkerInPlay.all[0]!.onerror!({ message: 'out of memory' });
    await vi.waitFor(() => expect(statusOf().failure).toContain('out of memory'));
    await beginStudy(wish(projectId, { text: 'model Broken\nagent\n' }), plan);
    await vi.waitFor(() => expect(statusOf().failure).toMatch(/name/));
  });
});
