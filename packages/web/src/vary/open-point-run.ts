import type { DesignPoint, Plan, RunKey } from '@vole/core';
import { useNavigate } from 'react-router';
import { openRun } from '../simulation/open-run.ts';
import type { StudyRow } from '../storage/schema.ts';

/** Opens a run of a point of a study in Watch, at a step or at its end. */
export function useOpenPointRun(
  plan: Plan,
  study: StudyRow,
): (point: Pick<DesignPoint, 'values' | 'timeline'>, run: RunKey, step?: number) => void {
  const navigate = useNavigate();
  return (point, run, step = run.steps) => {
    const values = { ...study.parameters };
    study.factors.forEach((factor, f) => {
      const parameter = plan.parameters.find((p) => p.name === factor.parameter);
      values[factor.parameter] = point.values[f]! * (parameter?.unitFactor ?? 1);
    });
    openRun(study, plan, run, step, values, point.timeline);
    void navigate(`/project/${study.projectId}/watch`);
  };
}
