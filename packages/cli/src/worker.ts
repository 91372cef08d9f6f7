import type { ModelFile, Outcome, RunJob, RunOutcome } from '@vole/core';
import { simulate, StudiedPlans } from '@vole/core';
import { HelpingCrew } from '@vole/core/helping';
import { workerData } from 'piscina';
import { Worker } from 'node:worker_threads';

/** What a thread is given when it begins. */
export interface WorkerModel {
  readonly text: string;
  readonly files: ReadonlyMap<string, ModelFile>;
  /** What a study asks beside the summaries. */
  readonly outcomes: readonly Outcome[];
  /** How many more threads may help each run, where it is large. */
  readonly helpers: number;
}

function startHelpers(): readonly Worker[] {
  const { helpers } = workerData as WorkerModel;
  return Array.from({ length: helpers }, () => {
    const helper = new Worker(new URL('./helper.mjs', import.meta.url));
    helper.unref();
    return helper;
  });
}

const crew = (workerData as WorkerModel).helpers > 0 ? new HelpingCrew(startHelpers) : undefined;

let plans: StudiedPlans | undefined;

/** One run in a thread of its own; the model is compiled once a thread, and once more for each scenario with timeline lines. */
export default function runTask(job: RunJob): RunOutcome | undefined {
  const { text, files, outcomes } = workerData as WorkerModel;
  plans ??= new StudiedPlans(text, files, outcomes);
  const compiled = plans.of(job.timeline);
  if (!compiled) throw new Error('The model was right a moment ago');
  compiled.crew = crew;
  return simulate(compiled, job);
}
