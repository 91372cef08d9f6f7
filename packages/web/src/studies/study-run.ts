import type { FinishedKeys, FinishedRun, Plan, Proposer, StoppingRule, ValueOfRun } from '@vole/core';
import { missingRuns, runStudy, SeedsUntil, settingOf, textDigest } from '@vole/core';
import { repository, storageProblem } from '../storage/repository.ts';
import type { StudyRow } from '../storage/schema.ts';
import type { StudyStatus } from '../store/study-slice.ts';
import { BlockSink } from './block-sink.ts';
import { AskedProposer } from './asked-proposer.ts';
import { runsOfStudy } from './study-design.ts';
import { PATIENCE, WorkerExecutor } from './worker-executor.ts';

/** Who hears of a study: what the page shows of it, its new results, and whether what is finished could be stored. */
export interface StudyHooks {
  readonly changed: (change: Partial<Omit<StudyStatus, 'version'>>) => void;
  readonly came: (bytes: ArrayBuffer) => void;
  readonly stored: (problem: string | undefined) => void;
}

/** One study, running or not: what of it is finished, stored and to be done. Its results are not here, see `answers.ts`. */
export class StudyRun {
  private readonly sink: BlockSink;
  /** Seeds that are finished, of each point, with what they came to in the summary that says when there are enough. */
  private readonly finished = new Map<string, Map<number, number>>();
  private done = 0;
  private failed = 0;
  private current: { readonly stopping: AbortController; readonly startedAt: number; doneNow: number } | undefined;
  private ending: Promise<void> = Promise.resolve();

  constructor(
    private row: StudyRow,
    private readonly hooks: StudyHooks,
    private readonly patience = PATIENCE,
  ) {
    this.sink = new BlockSink(row.id, textDigest(row.text), {
      store: (blocks, records) => repository.keepStudy(this.row, blocks, records),
      came: hooks.came,
      tried: (error) => this.hear(error),
    });
  }

  get study(): StudyRow {
    return this.row;
  }

  get isRunning(): boolean {
    return this.current !== undefined;
  }

  /** Whether there are runs that storage did not take; what is only on its way there is not meant. */
  get isRefused(): boolean {
    return this.sink.isRefused;
  }

  unstoredBytes(): ArrayBuffer | undefined {
    return this.sink.unstoredBytes();
  }

  /** Takes note of runs that were stored before. */
  takeUp({ points, seeds, failed, values }: FinishedKeys): void {
    points.forEach((point, i) => this.note(point, seeds[i]!, values[i] ?? NaN));
    this.failed += failed;
  }

  private note(point: string, seed: number, value: number): void {
    let seeds = this.finished.get(point);
    if (!seeds) this.finished.set(point, (seeds = new Map<number, number>()));
    if (!seeds.has(seed)) this.done++;
    seeds.set(seed, value);
  }

  /** The numbers of the study as they stand. */
  numbers(): Pick<StudyStatus, 'done' | 'total' | 'failed' | 'unstored'> {
    const { until, mostRuns, status } = this.row;
    // Where a study takes as many runs as it needs, those that were run are all.
    const takesAsNeeded = until !== undefined || mostRuns !== undefined;
    const total = takesAsNeeded && status === 'done' ? this.done : Math.max(this.done, runsOfStudy(this.row));
    return { done: this.done, total, failed: this.failed, unstored: this.sink.unstored };
  }

  /** Gives a study that looks for what agrees another text of its match; the runs it has are used as far as it asks for them. */
  look(search: SearchParts): void {
    if (!this.isRunning) this.row = { ...ofItsOwn(this.row), ...search };
  }

  /** Runs what is missing. Further seeds may be given. */
  start(plan: Plan, seeds: readonly number[] = this.row.seeds): void {
    if (this.isRunning) return;
    const row = seeds.length === this.row.seeds.length ? this.row : ofItsOwn(this.row);
    this.row = { ...row, seeds: [...seeds], status: 'running' };
    const current = { stopping: new AbortController(), startedAt: Date.now(), doneNow: 0 };
    this.current = current;
    const left = Math.max(1, runsOfStudy(this.row) - this.done);
    const cores = navigator.hardwareConcurrency || 2;
    const width = Math.max(1, Math.min(left, cores > 2 ? cores - 1 : cores));
    this.hooks.changed({
      study: this.row,
      running: true,
      secondsLeft: undefined,
      failure: undefined,
      ...this.numbers(),
    });
    void this.store();
    const { done, failed } = this;
    this.ending = runStudy({
      proposer: this.proposer(plan),
      executor: new WorkerExecutor(this.row.text, this.row.outcomes ?? [], width, this.patience),
      sink: {
        take: (run) => {
          this.note(run.point, run.seed, valueIn(run, this.row.until));
          if ('failure' in run.outcome) this.failed++;
          current.doneNow++;
          this.sink.take(run);
        },
        flush: () => this.sink.flush(),
      },
      signal: current.stopping.signal,
      before: { done, failed },
      toleratesFailures: failed > 0,
    })
      .catch((error: unknown) => ({
        status: 'stopped' as const,
        problem: error instanceof Error ? error.message : String(error),
      }))
      .then(async ({ status, problem }) => {
        this.row = { ...this.row, status };
        this.current = undefined;
        await this.store();
        if (!this.isRunning)
          this.hooks.changed({
            study: this.row,
            running: false,
            secondsLeft: undefined,
            failure: problem,
            ...this.numbers(),
          });
      });
  }

  /** The runs that are not finished, in the order of the design. */
  private proposer(plan: Plan): Proposer {
    if (this.row.kind === 'match') return new AskedProposer(this.row.id, () => void this.sink.flush());
    if (this.row.until) return new SeedsUntil(settingOf(this.row), plan, this.row.until, this.finishedValues());
    return missingRuns(settingOf(this.row), plan, (point, seed) => this.finished.get(point)?.has(seed) === true);
  }

  private *finishedValues(): Generator<ValueOfRun> {
    for (const [point, seeds] of this.finished) for (const [seed, value] of seeds) yield { point, seed, value };
  }

  /** Says how far it is, once that is stored: what is said to be done is there after a reload, unless storage takes nothing. */
  private hear(error: unknown): void {
    this.hooks.stored(error === undefined ? undefined : storageProblem(error));
    const { done, total, failed, unstored } = this.numbers();
    if (!this.current) return this.hooks.changed({ unstored });
    const { startedAt, doneNow } = this.current;
    const seconds = (Date.now() - startedAt) / 1000;
    this.hooks.changed({
      done: this.isRefused ? done : done - unstored,
      failed,
      unstored,
      secondsLeft: doneNow >= 2 ? (seconds / doneNow) * (total - done) : undefined,
    });
  }

  /** Stores what is finished, with the study itself. */
  store(): Promise<void> {
    return this.sink.flush();
  }

  /** Stops; what is finished stays and is stored. */
  stop(): Promise<void> {
    this.current?.stopping.abort();
    return this.ending;
  }
}

/** A study that came with a bundle and is another one from now on: nothing of the sender can be held against it. */
function ofItsOwn(row: StudyRow): StudyRow {
  return { ...row, expectedDigest: undefined, isReceived: undefined };
}

/** What is said of a search: the text of its match with its tables, what is sought, and how many runs at most. */
export type SearchParts = Pick<StudyRow, 'name' | 'wording' | 'observed' | 'factors' | 'seeds' | 'mostRuns' | 'notes'>;

/** What a run came to in the summary of a rule. */
function valueIn({ outcome }: FinishedRun, rule: StoppingRule | undefined): number {
  return rule && 'result' in outcome ? outcome.result.summaries[rule.summary]! : NaN;
}
