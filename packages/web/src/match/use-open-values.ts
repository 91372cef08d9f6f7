import type { Plan } from '@vole/core';
import { useNavigate } from 'react-router';
import { openRun } from '../simulation/open-run.ts';
import type { StudyRow } from '../storage/schema.ts';
import { baseValues } from './save-scenarios.ts';

/** Opens a run of the model with some values of the unknowns in Watch, with the first seed. */
export function useOpenValues(
  plan: Plan,
  study: StudyRow,
): (parameters: readonly string[], values: readonly number[]) => void {
  const navigate = useNavigate();
  return (parameters, values) => {
    openRun(study, plan, { seed: 1, steps: 0 }, 0, { ...study.parameters, ...baseValues(plan, parameters, values) });
    void navigate(`/project/${study.projectId}/watch`);
  };
}
