import type { CompiledPlan, RunJob, RunOutcome } from '@vole/core';
import { compilePlan, loadModel, simulate } from '@vole/core';

export interface WorkerTask {
  readonly text: string;
  readonly files: ReadonlyMap<string, string>;
  readonly job: RunJob;
}

let held: { text: string; compiled: CompiledPlan } | undefined;

/** One run in a thread of its own; the model is compiled once a thread. */
export default function runTask({ text, files, job }: WorkerTask): RunOutcome | undefined {
  if (held?.text !== text) {
    const { loaded } = loadModel(text, files);
    if (!loaded) throw new Error('The model was right a moment ago');
    held = { text, compiled: compilePlan(loaded.plan) };
  }
  return simulate(held.compiled, job);
}
