import type { Diagnostic, LoadResult, Outcome } from '@vole/core';
import { findingsInStudies, withOutcomes } from '@vole/core';
import { filesBeside } from './beside.ts';
import { loadText } from './load-text.ts';

/** A text that is to be read, and what a study asks of its runs beyond it. */
export interface TextRequest {
  readonly text: string;
  readonly outcomes: readonly Outcome[];
}

/** A text, checked and lowered; with outcomes, the plan has them as further summaries. */
export interface ReadText extends LoadResult {
  /** What is wrong with the scenarios and studies that stand in it; nothing while its model is wrong. */
  readonly studyFindings: readonly Diagnostic[];
}

/** Reads a text with the files beside it. */
export function textRead({ text, outcomes }: TextRequest): ReadText {
  const result = loadText(text);
  const files = filesBeside();
  const { loaded } = result;
  const hasStudies = /^(?:study|scenario)\b/im.test(text);
  return {
    ...result,
    loaded: loaded && outcomes.length > 0 ? withOutcomes(text, files, outcomes) : loaded,
    studyFindings: loaded && hasStudies ? findingsInStudies({ text, files, loaded }, result.check.tree) : [],
  };
}
