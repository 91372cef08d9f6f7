import type { LoadedModel, StudyInModel } from '@vole/core';
import { scenariosInText, studiesInText } from '@vole/core';

/** The studies that stand in a text, and its scenarios as one if no study of it has them. */
export function studiesOfText(text: string, { checked: { tree } }: LoadedModel): readonly StudyInModel[] {
  const scenarios = scenariosInText(text, tree);
  const studies = studiesInText(text, tree);
  const areCompared = studies.some((study) => /^\s*scenario\b/im.test(study.text));
  return scenarios && !areCompared ? [...studies, scenarios] : studies;
}
