import type { Plan, PointAnswer, RunKey } from '@vole/core';
import { combinationWords } from '@vole/core';
import type { StudyRow } from '../storage/schema.ts';
import { useOpenPointRun } from './open-point-run.ts';

interface Props {
  readonly plan: Plan;
  readonly study: StudyRow;
  readonly point: PointAnswer | undefined;
  /** What the point is called, if it has a name. */
  readonly name?: string;
  /** Its runs. */
  readonly runs: readonly RunKey[];
}

/** The runs of a point, by their seeds, to open in Watch at their end. */
export function RunButtons({ plan, study, point, name, runs }: Props) {
  const open = useOpenPointRun(plan, study);
  return (
    <div className="mt-2 border-t border-line pt-2">
      <p className="mb-1 text-sm text-faint">
        open a run of {point ? (name ?? combinationWords(plan, study, point.values)) : 'the chosen combination'} in
        Watch, by its seed
      </p>
      <p className="flex max-h-20 flex-wrap gap-1.5 overflow-auto">
        {runs.map((run) => (
          <button key={run.seed} type="button" className="btn px-2 py-0" onClick={() => point && open(point, run)}>
            {run.seed}
          </button>
        ))}
      </p>
    </div>
  );
}
