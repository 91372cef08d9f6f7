import type { ModelFile, Outcome, RunJob, RunOutcome } from '@vole/core';
import { simulate, StudiedPlans } from '@vole/core';
import { workerData } from 'piscina';

/** What a thread is given when it begins. */
export interface WorkerModel {
  readonly text: string;
  readonly files: ReadonlyMap<string, ModelFile>;
  /** What a study asks beside the summaries. */
  readonly outcomes: readonly Outcome[];
}

let plans: StudiedPlans | undefined;

/** One run in a thread of its own; the model is compiled once a thread, and once more for each scenario with timeline lines. */
export default function runTask(job: RunJob): RunOutcome | undefined {
  const { text, files, outcomes } = workerData as WorkerModel;
  plans ??= new StudiedPlans(text, files, outcomes);
  const compiled = plans.of(job.timeline);
  if (!compiled) throw new Error('The model was right a moment ago');
  return simulate(compiled, job);
}
