import type { CompiledPlan, RunResult } from '@vole/core';
import { pilot, simulate, StudiedPlans } from '@vole/core';
import { filesBeside, takingFiles } from '../simulation/beside.ts';
import { loadText } from '../simulation/load-text.ts';
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

function buffersOf({ rows, summaries, records = [] }: RunResult): Transferable[] {
  return [rows, summaries, ...records.map(({ data }) => data)].map(({ buffer }) => buffer as ArrayBuffer);
}

/** Measures the beginning of a run; a first go warms the code up. */
function piloted(compiled: CompiledPlan, { job, milliseconds }: Extract<StudyRequest, { is: 'pilot' }>): StudyReply {
  const began = performance.now();
  pilot(compiled, job, () => performance.now() - began < milliseconds / 4);
  const from = performance.now();
  const run = pilot(compiled, job, () => performance.now() - from < milliseconds);
  return { is: 'piloted', run, seconds: (performance.now() - from) / 1000 };
}

self.onmessage = takingFiles(({ data }: MessageEvent<StudyRequest>) => {
  if (data.is === 'model') {
    plans = new StudiedPlans(data.text, filesBeside(), data.outcomes);
    reply(plans.of() ? { is: 'ready' } : { is: 'refused', diagnostics: loadText(data.text).diagnostics });
    return;
  }
  const compiled = plans?.of(data.job.timeline);
  if (data.is === 'pilot') {
    if (compiled) reply(piloted(compiled, data));
    return;
  }
  const outcome = compiled && simulate(compiled, data.job, sayAlive);
  if (!outcome) return;
  reply({ is: 'finished', outcome }, 'result' in outcome ? buffersOf(outcome.result) : []);
});
