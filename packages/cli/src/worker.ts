import type { CompiledPlan, RunJob, RunOutcome } from '@vole/core';
import { compilePlan, loadModel, simulate } from '@vole/core';
import { workerData } from 'piscina';

/** What a thread is given when it begins. */
export interface WorkerModel {
  readonly text: string;
  readonly files: ReadonlyMap<string, string>;
}

let compiled: CompiledPlan | undefined;

/** One run in a thread of its own; the model is compiled once a thread. */
export default function runTask(job: RunJob): RunOutcome | undefined {
  compiled ??= compiledModel(workerData as WorkerModel);
  return simulate(compiled, job);
}

function compiledModel({ text, files }: WorkerModel): CompiledPlan {
  const { loaded } = loadModel(text, files);
  if (!loaded) throw new Error('The model was right a moment ago');
  return compilePlan(loaded.plan);
}
