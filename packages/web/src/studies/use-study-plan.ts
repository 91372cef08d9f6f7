import type { LoadedModel, Plan, RunResult } from '@vole/core';
import { loadModel } from '@vole/core';
import { useMemo } from 'react';
import { resultsOf } from './study-runner.ts';
import type { StudyKind } from '../store/study-slice.ts';
import { useAppSelector } from '../store/store.ts';

/** The text as it stands, checked and lowered, if it is right. */
export function useTextModel(): LoadedModel | undefined {
  const text = useAppSelector((state) => state.project.text);
  return useMemo(() => loadModel(text).loaded, [text]);
}

/** The plan of the text as it stands, if it is right. */
export function useTextPlan(): Plan | undefined {
  return useTextModel()?.plan;
}

/** The results of a study with the plan they were made by. */
export function useStudyResults(kind: StudyKind): {
  plan: Plan | undefined;
  results: RunResult[];
  all: readonly (RunResult | undefined)[];
} {
  const { study, version } = useAppSelector((state) => state.studies[kind]);
  const text = study?.text;
  const plan = useMemo(() => (text === undefined ? undefined : loadModel(text).loaded?.plan), [text]);
  return useMemo(() => {
    // The version says that the results, which are kept outside the store, have changed.
    void version;
    const all = [...resultsOf(kind)];
    return { plan, all, results: all.filter((result) => result !== undefined) };
  }, [kind, plan, version]);
}
