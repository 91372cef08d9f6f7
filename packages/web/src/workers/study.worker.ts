import type { CompiledPlan } from '@vole/core';
import { compilePlan, loadModel, simulate, withOutcomes } from '@vole/core';
import type { StudyReply, StudyRequest } from '../studies/worker-executor.ts';

/** Runs the jobs of studies, one after another, for the model it was given last. */

const ALIVE_EVERY = 1000;
let compiled: CompiledPlan | undefined;
let heardAt = 0;

function reply(message: StudyReply, transfer: Transferable[] = []): void {
  self.postMessage(message, { transfer });
  heardAt = performance.now();
}

function sayAlive(): boolean {
  if (performance.now() - heardAt > ALIVE_EVERY) reply({ is: 'alive' });
  return true;
}

self.onmessage = ({ data }: MessageEvent<StudyRequest>) => {
  if (data.is === 'model') {
    const loaded = withOutcomes(data.text, undefined, data.outcomes);
    compiled = loaded && compilePlan(loaded.plan);
    reply(compiled ? { is: 'ready' } : { is: 'refused', diagnostics: loadModel(data.text).diagnostics });
    return;
  }
  const outcome = compiled && simulate(compiled, data.job, sayAlive);
  if (!outcome) return;
  reply(
    { is: 'finished', outcome },
    'result' in outcome
      ? [outcome.result.rows.buffer as ArrayBuffer, outcome.result.summaries.buffer as ArrayBuffer]
      : [],
  );
};
