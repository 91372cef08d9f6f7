import { availableParallelism } from 'node:os';
import { fileURLToPath } from 'node:url';
import type { Executor, Outcome, RunJob, RunOutcome } from '@vole/core';
import { WorkerLost } from '@vole/core';
import { helpersFor } from '@vole/core/helping';
import { Piscina } from 'piscina';
import type { ReadModel } from './model-file.ts';
import type { WorkerModel } from './worker.ts';

/** The one under way and one that waits, so that no thread does. */
const RUNS_A_THREAD = 2;

/** Does runs of one model in threads on all cores; never in this thread, which has to hear signals meanwhile. */
export class ThreadExecutor implements Executor {
  readonly width: number;
  private readonly pool: Piscina<RunJob, RunOutcome>;

  /**
   * @param jobs how many there will be
   * @param outcomes what a study asks beside the summaries of the model
   */
  constructor(
    { text, files }: Pick<ReadModel, 'text' | 'files'>,
    jobs: number,
    outcomes: readonly Outcome[] = [],
    workers?: number,
  ) {
    const cores = availableParallelism();
    const threads = Math.max(1, Math.min(workers ?? cores, jobs));
    // Cores that have no run of their own help with those that are large, unless the number of threads was asked for.
    const helpers = workers === undefined ? helpersFor(cores, threads) : 0;
    this.width = threads * RUNS_A_THREAD;
    // The model goes to a thread once, when it begins; threads that have nothing to do are kept, with their compiled model.
    this.pool = new Piscina<RunJob, RunOutcome>({
      filename: fileURLToPath(new URL('./worker.mjs', import.meta.url)),
      minThreads: threads,
      maxThreads: threads,
      workerData: { text, files, outcomes, helpers } satisfies WorkerModel,
    });
  }

  async run(job: RunJob): Promise<RunOutcome> {
    try {
      return await this.pool.run(job);
    } catch (error) {
      throw new WorkerLost(`A thread stopped: ${(error as Error).message}`);
    }
  }

  close(): Promise<void> {
    // Threads may still send what they have done when they are stopped half way; nobody waits for it any more.
    this.pool.on('error', () => undefined);
    return this.pool.destroy();
  }
}
