import type { LoadedModel, Plan } from '@vole/core';
import { useReadText } from '../simulation/read-texts.ts';
import type { ReadText } from '../simulation/text-desk.ts';
import type { StudyRow } from '../storage/schema.ts';
import { useAppSelector } from '../store/store.ts';
import type { StudyKind } from '../store/study-slice.ts';

/** The text as it stands, checked and lowered; nothing until it is read. */
export function useTextRead(): ReadText | undefined {
  return useReadText(useAppSelector((state) => state.project.text));
}

/** The model of the text as it stands, if it is right and read. */
export function useTextModel(): LoadedModel | undefined {
  return useTextRead()?.loaded;
}

/** The plan that the study on show was made by, and how many of its runs came to their end. */
export function useShownStudy(kind: StudyKind): { plan: Plan | undefined; runs: number } {
  const study = useAppSelector((state) => state.studies[kind].study);
  const runs = useAppSelector(({ studies }) => studies[kind].done - studies[kind].failed);
  return { plan: useStudyPlan(study), runs };
}

/** The plan that a study was made by, if its text is right and read. */
export function useStudyPlan(study: Pick<StudyRow, 'text' | 'outcomes'> | undefined): Plan | undefined {
  return useReadText(study?.text, study?.outcomes)?.loaded?.plan;
}
