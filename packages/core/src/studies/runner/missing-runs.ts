import type { Plan } from '../../plan/plan.ts';
import type { StudySetting } from '../design/design.ts';
import { jobsOf } from '../design/design.ts';
import type { Proposer } from './run-study.ts';

/** What a run is found by, whatever the order of a design. */
export function keyOfRun(point: string, seed: number): string {
  return `${seed} ${point}`;
}

/** The runs of a fixed design that are not finished yet, in its order. */
export function missingRuns(
  setting: StudySetting,
  plan: Plan,
  isFinished: (point: string, seed: number) => boolean,
): Proposer {
  const jobs = jobsOf(setting, plan);
  return {
    next() {
      for (;;) {
        const { value: job } = jobs.next();
        if (!job || !isFinished(job.point, job.seed)) return job;
      }
    },
  };
}
