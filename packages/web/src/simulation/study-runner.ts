import type { Plan, RunResult } from '@vole/core';
import { combinationsOf, digestOf } from '@vole/core';
import { newId, repository, storageProblem } from '../storage/repository.ts';
import type { RunRow, StudyRow } from '../storage/schema.ts';
import { projectActions } from '../store/project-slice.ts';
import type { StudyKind } from '../store/study-slice.ts';
import { studyActions } from '../store/study-slice.ts';
import { store } from '../store/store.ts';
import type { StudyJob, StudyReply, StudyRequest } from './protocol.ts';

const SHOWN_EVERY = 250;

interface Active {
  readonly study: StudyRow;
  readonly workers: readonly Worker[];
  readonly queue: StudyJob[];
  readonly startedAt: number;
  readonly results: (RunResult | undefined)[];
  readonly pending: RunRow[];
  doneNow: number;
  shownAt: number;
}

const active: Partial<Record<StudyKind, Active>> = {};
const held: Record<StudyKind, readonly (RunResult | undefined)[]> = { repeat: [], vary: [] };

/** Results of the study on show, by place; those that are still to come are undefined. */
export function resultsOf(kind: StudyKind): readonly (RunResult | undefined)[] {
  return held[kind];
}

/** Jobs of a study: combination by combination, seeds within. */
export function jobsOf(study: StudyRow, plan: Plan): StudyJob[] {
  const base = plan.parameters.map((parameter) => study.parameters[parameter.name] ?? parameter.value);
  return combinationsOf(study.factors).flatMap((combination, c) => {
    const parameters = [...base];
    study.factors.forEach((factor, f) => {
      const index = plan.parameters.findIndex((parameter) => parameter.name === factor.parameter);
      if (index >= 0) parameters[index] = combination[f]! * plan.parameters[index]!.unitFactor;
    });
    return study.seeds.map((seed, s) => ({ id: c * study.seeds.length + s, parameters, seed, steps: study.steps, every: study.every }));
  });
}

function status(kind: StudyKind, change: Parameters<typeof studyActions.changed>[0]['status']): void {
  store.dispatch(studyActions.changed({ kind, status: change }));
}

function resultOf(row: RunRow, every: number): RunResult {
  return { seed: row.seed, steps: row.steps, rows: new Float64Array(row.rows), every, summaries: new Float64Array(row.summaries), refused: row.refused };
}

/** Shows the stored studies of a project; one that was broken off by closing the page can be gone on with. */
export async function showStored(projectId: string): Promise<void> {
  for (const kind of ['repeat', 'vary'] as const) {
    stopWorkers(kind);
    const study = await repository.latestStudy(projectId, kind);
    const rows = study ? await repository.runs(study.id) : [];
    const results: (RunResult | undefined)[] = [];
    for (const row of rows) results[row.index] = resultOf(row, study!.every);
    held[kind] = results;
    const total = study ? study.seeds.length * study.factors.reduce((n, factor) => n * factor.values.length, 1) : 0;
    status(kind, { study, done: rows.length, total, running: false, secondsLeft: undefined, failure: undefined });
  }
}

export interface NewStudy extends Pick<StudyRow, 'kind' | 'name' | 'text' | 'seeds' | 'every' | 'steps' | 'parameters' | 'factors' | 'projectId'> {
  readonly expectedDigest?: string;
}

/** Begins a study; one of the same kind that is on show is replaced. */
export async function beginStudy(wish: NewStudy, plan: Plan): Promise<void> {
  stopWorkers(wish.kind);
  const study: StudyRow = { ...wish, id: newId(), createdAt: Date.now(), status: 'running' };
  held[wish.kind] = [];
  await stored(() => repository.addStudy(study));
  start(study, plan, []);
}

/** Goes on with a study that was stopped, or with more seeds than it had. */
export async function continueStudy(kind: StudyKind, plan: Plan, seeds?: readonly number[]): Promise<void> {
  const { study } = store.getState().studies[kind];
  if (!study) return;
  const extended: StudyRow = { ...study, seeds: seeds ? [...seeds] : study.seeds, status: 'running' };
  await stored(() => repository.extendStudy(study.id, extended.seeds));
  start(extended, plan, [...held[kind]]);
}

function start(study: StudyRow, plan: Plan, results: (RunResult | undefined)[]): void {
  const { kind } = study;
  const jobs = jobsOf(study, plan);
  const queue = jobs.filter((job) => results[job.id] === undefined).reverse();
  const count = Math.max(1, Math.min(queue.length, (navigator.hardwareConcurrency || 2) - (navigator.hardwareConcurrency > 2 ? 1 : 0)));
  const workers = Array.from({ length: count }, (_, i) => new Worker(new URL('../workers/study.worker.ts', import.meta.url), { type: 'module', name: `study ${i + 1}` }));
  const run: Active = { study, workers, queue, results, startedAt: Date.now(), pending: [], doneNow: 0, shownAt: 0 };
  active[kind] = run;
  held[kind] = results;
  status(kind, { study, done: jobs.length - queue.length, total: jobs.length, running: true, secondsLeft: undefined, failure: undefined });
  if (queue.length === 0) return void finish(run, 'done');
  for (const worker of workers) {
    worker.onmessage = ({ data }: MessageEvent<StudyReply>) => take(run, worker, data);
    worker.onerror = (event) => fail(run, `A worker stopped: ${event.message}`);
    send(worker, { is: 'model', text: study.text });
  }
}

function send(worker: Worker, request: StudyRequest): void {
  worker.postMessage(request);
}

function take(run: Active, worker: Worker, reply: StudyReply): void {
  if (active[run.study.kind] !== run) return;
  switch (reply.is) {
    case 'refused':
      return fail(run, reply.diagnostics[0]?.message ?? 'The model has errors.');
    case 'failed':
      return fail(run, `${reply.failure.message} ${reply.failure.hint ?? ''}`);
    case 'done':
      keep(run, reply.id, reply.result);
      break;
    case 'ready':
  }
  const job = run.queue.pop();
  if (job) send(worker, { is: 'job', job });
  else if (run.doneNow + storedBefore(run) === totalOf(run)) void finish(run, 'done');
}

function totalOf(run: Active): number {
  return store.getState().studies[run.study.kind].total;
}

function storedBefore(run: Active): number {
  return run.results.filter((result) => result !== undefined).length - run.doneNow;
}

function keep(run: Active, index: number, result: RunResult): void {
  const { study } = run;
  run.results[index] = result;
  run.doneNow++;
  run.pending.push({
    id: `${study.id}:${index}`, studyId: study.id, index, seed: result.seed, steps: result.steps, refused: result.refused,
    rows: result.rows.slice().buffer as ArrayBuffer, summaries: result.summaries.slice().buffer as ArrayBuffer,
  });
  if (Date.now() - run.shownAt >= SHOWN_EVERY) show(run);
}

function show(run: Active): void {
  run.shownAt = Date.now();
  const done = run.results.filter((result) => result !== undefined).length;
  const seconds = (run.shownAt - run.startedAt) / 1000;
  const left = (seconds / Math.max(1, run.doneNow)) * (totalOf(run) - done);
  held[run.study.kind] = [...run.results];
  status(run.study.kind, { done, secondsLeft: run.doneNow >= 2 ? left : undefined });
  const rows = run.pending.splice(0);
  void stored(() => repository.addRuns(rows));
}

async function stored(write: () => Promise<void>): Promise<void> {
  try {
    await write();
  } catch (error) {
    store.dispatch(projectActions.storageFailed(storageProblem(error)));
  }
}

async function finish(run: Active, end: 'done' | 'stopped'): Promise<void> {
  const { kind, id } = run.study;
  show(run);
  for (const worker of run.workers) worker.terminate();
  delete active[kind];
  await stored(() => repository.setStudyStatus(id, end));
  status(kind, { study: { ...run.study, status: end }, running: false, secondsLeft: undefined });
}

function fail(run: Active, failure: string): void {
  void finish(run, 'stopped').then(() => status(run.study.kind, { failure }));
}

/** Stops a study; what is finished stays and is stored. */
export function stopStudy(kind: StudyKind): void {
  const run = active[kind];
  if (run) void finish(run, 'stopped');
}

function stopWorkers(kind: StudyKind): void {
  const run = active[kind];
  if (!run) return;
  for (const worker of run.workers) worker.terminate();
  delete active[kind];
}

/** A checksum over all results of a study; the same on every machine. */
export function digestOfResults(results: readonly (RunResult | undefined)[]): string {
  return digestOf(results.flatMap((result) => (result ? [result.rows, result.summaries] : [])));
}
