import type { LoadedModel, Plan } from '@vole/core';
import { withOutcomes } from '@vole/core';
import { filesBeside } from '../simulation/beside.ts';
import { useMemo } from 'react';
import { loadedModel } from '../simulation/model-cache.ts';
import { useAppSelector } from '../store/store.ts';
import type { StudyRow } from '../storage/schema.ts';
import type { StudyKind } from '../store/study-slice.ts';

/** The text as it stands, checked and lowered, if it is right. */
export function useTextModel(): LoadedModel | undefined {
  const { text, files } = useAppSelector((state) => state.project);
  // Read anew where another file lies beside it.
  // eslint-disable-next-line react-hooks/exhaustive-deps
  return useMemo(() => loadedModel(text).loaded, [text, files]);
}

/** The plan of the text as it stands, if it is right. */
export function useTextPlan(): Plan | undefined {
  return useTextModel()?.plan;
}

/** The plan that the study on show was made by, and how many of its runs came to their end. */
export function useShownStudy(kind: StudyKind): { plan: Plan | undefined; runs: number } {
  const text = useAppSelector((state) => state.studies[kind].study?.text);
  const outcomes = useAppSelector((state) => state.studies[kind].study?.outcomes);
  const runs = useAppSelector(({ studies }) => studies[kind].done - studies[kind].failed);
  return { plan: useMemo(() => planOfStudy(text, outcomes), [text, outcomes]), runs };
}

/** The plan that a study was made by, if its text is right. */
export function planOfStudy(text: string | undefined, outcomes: StudyRow['outcomes']): Plan | undefined {
  if (text === undefined) return undefined;
  return outcomes?.length ? withOutcomes(text, filesBeside(), outcomes)?.plan : loadedModel(text).loaded?.plan;
}
