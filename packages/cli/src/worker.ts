import type { CompiledPlan, Outcome, RunJob, RunOutcome } from '@vole/core';
import { compilePlan, simulate, withOutcomes } from '@vole/core';
import { workerData } from 'piscina';

/** What a thread is given when it begins. */
export interface WorkerModel {
  readonly text: string;
  readonly files: ReadonlyMap<string, string>;
  /** What a study asks beside the summaries. */
  readonly outcomes: readonly Outcome[];
}

let compiled: CompiledPlan | undefined;

/** One run in a thread of its own; the model is compiled once a thread. */
export default function runTask(job: RunJob): RunOutcome | undefined {
  compiled ??= compiledModel(workerData as WorkerModel);
  return simulate(compiled, job);
}

function compiledModel({ text, files, outcomes }: WorkerModel): CompiledPlan {
  const loaded = withOutcomes(text, files, outcomes);
  if (!loaded) throw new Error('The model was right a moment ago');
  return compilePlan(loaded.plan);
}
