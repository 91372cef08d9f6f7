import type { Plan, RunResult } from '@vole/core';
import { repository, storageProblem } from '../storage/repository.ts';
import type { RunRow, StudyRow } from '../storage/schema.ts';
import type { StudyStatus } from '../store/study-slice.ts';
import type { StudyReply, StudyRequest } from '../simulation/protocol.ts';
import { jobAt, jobCount } from './study-jobs.ts';

const SHOWN_EVERY = 250;
const LOOK_EVERY = 1000;
/** A worker that says nothing for so long is taken for dead; its run is begun again in a new one, with more patience. */
const PATIENCE = 90_000;
const MORE_PATIENCE = 4;
/** A study in which more than this share of at least so many runs failed is stopped, to be looked at. */
const MOST_FAILED = 0.2;
const LEAST_DONE = 10;

/** A worker and the run it is at. */
interface Hand {
  readonly worker: Worker;
  readonly name: string;
  job: number | undefined;
  /** Whether it has something to do: to take up the model, or a run. */
  isBusy: boolean;
  heardAt: number;
}

/** Who hears of a study: what the page shows of it, and whether what is finished could be stored. */
export interface StudyHooks {
  readonly changed: (change: Partial<Omit<StudyStatus, 'version'>>) => void;
  readonly stored: (problem: string | undefined) => void;
}

/** One study with its results at hand, running or not. What is finished is stored at once; what could not be stored is kept to be stored again. */
export class StudyRun {
  /** By place; those still to come, and those that failed, are undefined. */
  readonly results: (RunResult | undefined)[] = [];
  readonly failures = new Map<number, string>();
  private unstored: RunRow[] = [];
  private wasRefused = false;
  private writing: Promise<void> = Promise.resolve();
  private hands: Hand[] = [];
  private plan: Plan | undefined;
  private next = 0;
  private again: number[] = [];
  private readonly tried = new Set<number>();
  private doneNow = 0;
  private startedAt = 0;
  private shownAt = 0;
  private watching: ReturnType<typeof setInterval> | undefined;
  private toleratesFailures = false;

  constructor(
    private row: StudyRow,
    private readonly hooks: StudyHooks,
    private readonly patience = PATIENCE,
  ) {}

  get study(): StudyRow {
    return this.row;
  }

  get isRunning(): boolean {
    return this.hands.length > 0;
  }

  /** Whether there are runs that storage did not take; what is only on its way there is not meant. */
  get isRefused(): boolean {
    return this.wasRefused && this.unstored.length > 0;
  }

  /** Takes up runs that were stored before. */
  takeUp(rows: readonly RunRow[]): void {
    for (const row of rows) {
      if (row.failure !== undefined) this.failures.set(row.index, row.failure);
      else
        this.results[row.index] = {
          seed: row.seed,
          steps: row.steps,
          rows: new Float64Array(row.rows),
          every: this.row.every,
          summaries: new Float64Array(row.summaries),
          refused: row.refused,
        };
    }
  }

  /** The numbers of the study as they stand. */
  numbers(): Pick<StudyStatus, 'done' | 'total' | 'failed' | 'unstored'> {
    return {
      done: this.doneCount(),
      total: jobCount(this.row),
      failed: this.failures.size,
      unstored: this.unstored.length,
    };
  }

  private doneCount(): number {
    return this.results.reduce((n, result) => (result ? n + 1 : n), this.failures.size);
  }

  /** Runs what is missing. Further seeds may be given where the study has no factors, as runs are found by their place. */
  start(plan: Plan, seeds: readonly number[] = this.row.seeds): void {
    if (this.isRunning) return;
    this.row = { ...this.row, seeds: [...seeds], status: 'running' };
    this.plan = plan;
    this.next = 0;
    this.again = [];
    this.doneNow = 0;
    this.startedAt = Date.now();
    this.toleratesFailures = this.failures.size > 0;
    const left = jobCount(this.row) - this.doneCount();
    const cores = navigator.hardwareConcurrency || 2;
    const count = Math.max(1, Math.min(left, cores > 2 ? cores - 1 : cores));
    this.hands = Array.from({ length: count }, (_, i) => this.hire(`study ${i + 1}`));
    this.watching = setInterval(() => this.look(), Math.min(LOOK_EVERY, this.patience));
    this.hooks.changed({
      study: this.row,
      running: true,
      secondsLeft: undefined,
      failure: undefined,
      ...this.numbers(),
    });
    void this.store();
    if (left === 0) void this.end('done');
  }

  private hire(name: string): Hand {
    const worker = new Worker(new URL('../workers/study.worker.ts', import.meta.url), { type: 'module', name });
    const hand: Hand = { worker, name, job: undefined, isBusy: true, heardAt: Date.now() };
    worker.onmessage = ({ data }: MessageEvent<StudyReply>) => this.hear(hand, data);
    worker.onerror = (event) => this.replace(hand, `A worker stopped: ${event.message}`);
    this.send(hand, { is: 'model', text: this.row.text });
    return hand;
  }

  private send(hand: Hand, request: StudyRequest): void {
    hand.worker.postMessage(request);
  }

  private hear(hand: Hand, reply: StudyReply): void {
    if (!this.hands.includes(hand)) return;
    hand.heardAt = Date.now();
    switch (reply.is) {
      case 'alive':
        return;
      case 'refused':
        void this.end('stopped', reply.diagnostics[0]?.message ?? 'The model has errors.');
        return;
      case 'failed':
        this.fail(reply.id, `${reply.failure.message} ${reply.failure.hint ?? ''}`.trim());
        break;
      case 'done':
        this.keep(reply.id, reply.result);
        break;
      case 'ready':
    }
    this.giveWork(hand);
  }

  private giveWork(hand: Hand): void {
    hand.job = this.again.pop() ?? this.nextJob();
    hand.isBusy = hand.job !== undefined;
    if (hand.job !== undefined) this.send(hand, { is: 'job', job: jobAt(this.row, this.plan!, hand.job) });
    else if (this.hands.every(({ job }) => job === undefined)) void this.end('done');
    this.stopIfMostFail();
  }

  private nextJob(): number | undefined {
    const total = jobCount(this.row);
    while (this.next < total) {
      const job = this.next++;
      if (this.results[job] === undefined && !this.failures.has(job)) return job;
    }
    return undefined;
  }

  /** Looks after workers that have gone silent. */
  private look(): void {
    const now = Date.now();
    for (const hand of this.hands) {
      const patience =
        hand.job !== undefined && this.tried.has(hand.job) ? this.patience * MORE_PATIENCE : this.patience;
      if (hand.isBusy && now - hand.heardAt > patience)
        this.replace(
          hand,
          `A worker has not answered for ${Math.round((now - hand.heardAt) / 1000)} s: a step of this run does not come to an end, or the memory is used up.`,
        );
    }
  }

  /** Puts a new worker in the place of one that is gone. A run that ends two of them counts as failed. */
  private replace(hand: Hand, why: string): void {
    const at = this.hands.indexOf(hand);
    if (at < 0) return;
    hand.worker.terminate();
    const { job } = hand;
    if (job === undefined && this.tried.has(-1)) return void this.end('stopped', why);
    if (job !== undefined && this.tried.has(job)) this.fail(job, why);
    else if (job !== undefined) this.again.push(job);
    this.tried.add(job ?? -1);
    this.hands[at] = this.hire(hand.name);
  }

  private keep(index: number, result: RunResult): void {
    this.results[index] = result;
    this.finished({
      index,
      seed: result.seed,
      steps: result.steps,
      refused: result.refused,
      rows: result.rows.slice().buffer,
      summaries: result.summaries.slice().buffer,
    });
  }

  private fail(index: number, failure: string): void {
    this.failures.set(index, failure);
    this.finished({
      index,
      seed: this.row.seeds[index % this.row.seeds.length]!,
      steps: 0,
      refused: 0,
      rows: new ArrayBuffer(0),
      summaries: new ArrayBuffer(0),
      failure,
    });
  }

  private finished(row: Omit<RunRow, 'id' | 'studyId'>): void {
    const { id } = this.row;
    this.unstored.push({ ...row, id: `${id}:${row.index}`, studyId: id });
    this.doneNow++;
    if (Date.now() - this.shownAt >= SHOWN_EVERY) this.show();
  }

  /** Stores what is finished and then says so: what is said to be done is there after a reload, unless storage takes nothing. */
  private show(): void {
    this.shownAt = Date.now();
    void this.store().then(() => {
      if (!this.isRunning) return;
      const { done, total, failed } = this.numbers();
      const seconds = (Date.now() - this.startedAt) / 1000;
      const kept = this.wasRefused ? done : done - this.unstored.length;
      this.hooks.changed({
        done: kept,
        failed,
        secondsLeft: this.doneNow >= 2 ? (seconds / this.doneNow) * (total - done) : undefined,
      });
    });
  }

  private stopIfMostFail(): void {
    const { done, failed } = this.numbers();
    if (this.toleratesFailures || done < LEAST_DONE || failed <= MOST_FAILED * done || !this.isRunning) return;
    const [first] = this.failures.values();
    void this.end(
      'stopped',
      `${failed} of ${done} runs stopped before their end, so the study waits. The first of them: ${first}`,
    );
  }

  /** Stores what is finished, with the study itself, one after another. What cannot be stored now is tried again with the next. */
  store(): Promise<void> {
    this.writing = this.writing.then(async () => {
      const rows = this.unstored.slice();
      try {
        await repository.keepStudy(this.row, rows);
        this.unstored.splice(0, rows.length);
        this.wasRefused = false;
        this.hooks.stored(undefined);
      } catch (error) {
        this.wasRefused = true;
        this.hooks.stored(storageProblem(error));
      }
      this.hooks.changed({ unstored: this.unstored.length });
    });
    return this.writing;
  }

  /** Stops; what is finished stays and is stored. */
  stop(): Promise<void> {
    return this.isRunning ? this.end('stopped') : this.writing;
  }

  /** Ends the workers at once; the study says that it is over when everything is stored, or could not be. */
  private async end(status: 'done' | 'stopped', failure?: string): Promise<void> {
    for (const hand of this.hands) hand.worker.terminate();
    this.hands = [];
    clearInterval(this.watching);
    this.row = { ...this.row, status };
    await this.store();
    if (!this.isRunning)
      this.hooks.changed({ study: this.row, running: false, secondsLeft: undefined, failure, ...this.numbers() });
  }
}
