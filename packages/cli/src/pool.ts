import { availableParallelism } from 'node:os';
import { fileURLToPath } from 'node:url';
import type { RunJob, RunOutcome } from '@vole/core';
import { Piscina } from 'piscina';
import type { ModelFile } from './model-file.ts';
import type { WorkerModel } from './worker.ts';

/** Runs in flight for each thread: enough that none waits, few enough that results do not pile up. */
const AHEAD = 3;

/** The outcomes of jobs in their order, computed on all cores; never in this thread, which has to hear signals meanwhile. */
export async function* outcomesOf({ text, files }: ModelFile, jobs: readonly RunJob[]): AsyncGenerator<RunOutcome> {
  const threads = Math.min(availableParallelism(), jobs.length);
  // The model goes to a thread once, when it begins; threads that have nothing to do are kept, with their compiled model.
  const pool = new Piscina<RunJob, RunOutcome>({
    filename: fileURLToPath(new URL('./worker.mjs', import.meta.url)),
    minThreads: threads,
    maxThreads: threads,
    workerData: { text, files } satisfies WorkerModel,
  });
  const pending: Promise<RunOutcome>[] = [];
  let next = 0;
  try {
    while (next < jobs.length || pending.length > 0) {
      while (next < jobs.length && pending.length < threads * AHEAD) {
        const running = pool.run(jobs[next++]!);
        // A failure is met when its turn comes; until then it is not unhandled.
        running.catch(() => undefined);
        pending.push(running);
      }
      yield await pending.shift()!;
    }
  } finally {
    await pool.destroy();
  }
}
