import type { Diagnostic, LoadedModel, StudyInModel } from '@vole/core';
import { findingsInStudies, scenariosInText, studiesInText } from '@vole/core';
import { filesBeside } from '../simulation/beside.ts';
import { loadedModel } from '../simulation/model-cache.ts';

/** What is wrong with the scenarios and studies that stand in a text; nothing while its model is wrong. */
export function findingsOfText(text: string): readonly Diagnostic[] {
  const { loaded, check } = loadedModel(text);
  return loaded ? findingsInStudies({ text, files: filesBeside(), loaded }, check.tree) : [];
}

/** The studies that stand in a text, and its scenarios as one if no study of it has them. */
export function studiesOfText(text: string, { checked: { tree } }: LoadedModel): readonly StudyInModel[] {
  const scenarios = scenariosInText(text, tree);
  const studies = studiesInText(text, tree);
  const areCompared = studies.some((study) => /^\s*scenario\b/im.test(study.text));
  return scenarios && !areCompared ? [...studies, scenarios] : studies;
}
