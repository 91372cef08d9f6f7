import { Run } from '../../engine/run.ts';
import type { CompiledPlan } from '../../javascript/compiled-plan.ts';
import { ModelError } from '../../diagnostics.ts';
import type { RunJob } from './simulate.ts';

/** How far a run came that was only begun, to see what a whole one takes. */
export interface PilotRun {
  readonly steps: number;
  /** Whether it came to its end, or stopped with an error. */
  readonly hasEnded: boolean;
  /** Numbers that it recorded. */
  readonly recorded: number;
}

/** Begins a run and goes on as long as it is told to; its records are on. */
export function pilot(compiled: CompiledPlan, job: RunJob, goesOn: () => boolean): PilotRun {
  const executable = compiled.shared();
  executable.recording = true;
  const limit = job.steps ?? Infinity;
  let run: Run | undefined;
  const state = (hasEnded: boolean): PilotRun => ({
    steps: run?.step ?? 0,
    hasEnded,
    recorded: executable.records.reduce((sum, { data }) => sum + data.length, 0),
  });
  try {
    run = new Run(executable, job.parameters, job.seed);
    while (!run.hasEnded && run.step < limit) {
      if (!goesOn()) return state(false);
      run.runTo(run.step + 1);
    }
    return state(true);
  } catch (error) {
    if (error instanceof ModelError) return state(true);
    throw error;
  }
}
