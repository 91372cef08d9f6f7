import { loadModel, simulate, StudiedPlans } from '@vole/core';
import type { StudyReply, StudyRequest } from '../studies/worker-executor.ts';

/** Runs the jobs of studies, one after another, for the model it was given last. */

const ALIVE_EVERY = 1000;
let plans: StudiedPlans | undefined;
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
    plans = new StudiedPlans(data.text, undefined, data.outcomes);
    reply(plans.of() ? { is: 'ready' } : { is: 'refused', diagnostics: loadModel(data.text).diagnostics });
    return;
  }
  const compiled = plans?.of(data.job.timeline);
  const outcome = compiled && simulate(compiled, data.job, sayAlive);
  if (!outcome) return;
  reply(
    { is: 'finished', outcome },
    'result' in outcome
      ? [outcome.result.rows.buffer as ArrayBuffer, outcome.result.summaries.buffer as ArrayBuffer]
      : [],
  );
};
