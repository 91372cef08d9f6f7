import { availableParallelism } from 'node:os';
import { fileURLToPath } from 'node:url';
import type { RunJob, RunOutcome } from '@vole/core';
import { compilePlan, loadModel, simulate } from '@vole/core';
import { Piscina } from 'piscina';
import type { WorkerTask } from './worker.ts';

/** Runs in flight for each thread: enough that none waits, few enough that results do not pile up. */
const AHEAD = 3;

/** The outcomes of jobs in their order, computed on all cores. One job alone is run here, without a thread. */
export async function* outcomesOf(text: string, files: ReadonlyMap<string, string>, jobs: readonly RunJob[]): AsyncGenerator<RunOutcome> {
  const threads = Math.min(availableParallelism(), jobs.length);
  if (threads <= 1) {
    const { loaded } = loadModel(text, files);
    const compiled = loaded && compilePlan(loaded.plan);
    for (const job of jobs) {
      const outcome = compiled && simulate(compiled, job);
      if (outcome) yield outcome;
    }
    return;
  }
  const pool = new Piscina<WorkerTask, RunOutcome>({ filename: fileURLToPath(new URL('./worker.mjs', import.meta.url)), maxThreads: threads });
  const pending: Promise<RunOutcome>[] = [];
  let next = 0;
  try {
    while (next < jobs.length || pending.length > 0) {
      while (next < jobs.length && pending.length < threads * AHEAD) {
        const running = pool.run({ text, files, job: jobs[next++]! });
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
