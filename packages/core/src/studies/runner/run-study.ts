import type { Diagnostic } from '../../diagnostics.ts';
import type { StudyJob } from '../design/design.ts';
import type { RunJob, RunOutcome } from './simulate.ts';

/** A run of a study that came to its end or failed. */
export interface FinishedRun {
  /** Of the point of the design. */
  readonly point: string;
  readonly seed: number;
  readonly outcome: RunOutcome;
}

/** Says which runs a study has: a fixed design, or one that looks at what came out before it asks for more. */
export interface Proposer {
  /** The next run, or nothing as long as nothing new has come out. When nothing runs either, the study is done. */
  next(): StudyJob | undefined;
  took?(run: FinishedRun): void;
  /** Asked when nothing runs any more: whether `next` has something now. Absent where it can have nothing. */
  more?(): Promise<boolean>;
}

/** Does runs somewhere: in workers, threads, on other machines. It knows nothing of studies. */
export interface Executor {
  /** Runs that it does at a time. */
  readonly width: number;
  /**
   * @param attempt 0, or 1 if the worker that had this run before was lost
   * @throws WorkerLost if the worker stopped or fell silent; another one has taken its place
   */
  run(job: RunJob, attempt: number): Promise<RunOutcome>;
  /** Ends everything at once; runs under way are never answered. */
  close(): void | Promise<void>;
}

/** Takes finished runs, in the order in which they come. */
export interface Sink {
  take(run: FinishedRun): void;
  /** Settles when all that was taken is kept, or could not be. */
  flush(): Promise<void>;
}

/** The worker that had a run is gone. */
export class WorkerLost extends Error {}

/** How a study ended. */
export interface StudyEnd {
  readonly status: 'done' | 'stopped';
  /** Why it stopped, unless it was asked to. */
  readonly problem?: string;
}

export interface StudyParts {
  readonly proposer: Proposer;
  readonly executor: Executor;
  readonly sink: Sink;
  /** Stops the study; what is finished is kept. */
  readonly signal?: AbortSignal;
  /** Finished and failed runs of the study from before, for the share of failures. */
  readonly before?: { readonly done: number; readonly failed: number };
  /** Goes on however many runs fail. */
  readonly toleratesFailures?: boolean;
}

/** A study in which more than this share of at least so many runs failed is stopped, to be looked at. */
const MOST_FAILED = 0.2;
const LEAST_DONE = 10;

interface Task {
  readonly job: StudyJob;
  readonly attempt: number;
}

/**
 * Runs a study until its proposer has no more runs. A run that fails is an outcome, never the end; one that loses two workers has failed.
 * The executor is closed in the end.
 * @throws whatever proposer or sink throw
 */
export async function runStudy(parts: StudyParts): Promise<StudyEnd> {
  try {
    return await new Promise<StudyEnd>((resolve, reject) => new StudyInProgress(parts, resolve, reject).begin());
  } finally {
    await parts.executor.close();
    await parts.sink.flush();
  }
}

class StudyInProgress {
  private readonly again: Task[] = [];
  private running = 0;
  private hasEnded = false;
  private done: number;
  private failed: number;
  private firstFailure: Diagnostic | undefined;

  constructor(
    private readonly parts: StudyParts,
    private readonly resolve: (end: StudyEnd) => void,
    private readonly reject: (error: unknown) => void,
  ) {
    this.done = parts.before?.done ?? 0;
    this.failed = parts.before?.failed ?? 0;
    const { signal } = parts;
    if (signal?.aborted) this.end({ status: 'stopped' });
    signal?.addEventListener('abort', () => this.end({ status: 'stopped' }), { once: true });
  }

  begin(): void {
    try {
      this.goOn();
    } catch (error) {
      this.fail(error);
    }
  }

  /** Gives the executor as much as it takes. */
  private goOn(): void {
    const { executor } = this.parts;
    while (!this.hasEnded && this.running < executor.width) {
      const task = this.again.pop() ?? this.proposed();
      if (!task) break;
      this.running++;
      executor
        .run(task.job, task.attempt)
        .then(
          (outcome) => this.finished(task.job, outcome),
          (error: unknown) => this.broken(task, error),
        )
        .catch((error: unknown) => this.fail(error));
    }
    if (this.running === 0 && !this.hasEnded) this.endUnlessMore();
  }

  private endUnlessMore(): void {
    const { proposer } = this.parts;
    if (!proposer.more) return this.end({ status: 'done' });
    proposer
      .more()
      .then((hasMore) => (hasMore ? this.goOn() : this.end({ status: 'done' })))
      .catch((error: unknown) => this.fail(error));
  }

  private proposed(): Task | undefined {
    const job = this.parts.proposer.next();
    return job && { job, attempt: 0 };
  }

  private finished(job: StudyJob, outcome: RunOutcome): void {
    if (this.hasEnded) return;
    this.running--;
    this.done++;
    if ('failure' in outcome) {
      this.failed++;
      this.firstFailure ??= outcome.failure;
    }
    const run: FinishedRun = { point: job.point, seed: job.seed, outcome };
    this.parts.sink.take(run);
    this.parts.proposer.took?.(run);
    this.stopIfMostFail();
    this.goOn();
  }

  private broken({ job, attempt }: Task, error: unknown): void {
    if (this.hasEnded) return;
    const message = error instanceof Error ? error.message : String(error);
    if (!(error instanceof WorkerLost)) return this.end({ status: 'stopped', problem: message });
    if (attempt > 0)
      return this.finished(job, {
        failure: { severity: 'error', code: 'run/worker-lost', message, span: { start: 0, end: 0 } },
        seed: job.seed,
      });
    this.running--;
    this.again.push({ job, attempt: attempt + 1 });
    this.goOn();
  }

  private stopIfMostFail(): void {
    const { done, failed, firstFailure } = this;
    if (this.parts.toleratesFailures || !firstFailure || done < LEAST_DONE || failed <= MOST_FAILED * done) return;
    this.end({
      status: 'stopped',
      problem: `${failed} of ${done} runs stopped before their end, so the study waits. The first of them: ${failureWords(firstFailure)}`,
    });
  }

  /** What comes after this counts no more: the runs that the end of the executor breaks off are not runs that failed. */
  private fail(error: unknown): void {
    if (this.hasEnded) return;
    this.hasEnded = true;
    this.reject(error);
  }

  private end(end: StudyEnd): void {
    if (this.hasEnded) return;
    this.hasEnded = true;
    this.resolve(end);
  }
}

/** Why a run failed, with what to do, in one line. */
export function failureWords({ message, hint }: Diagnostic): string {
  return `${message} ${hint ?? ''}`.trim();
}
