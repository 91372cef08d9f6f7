import type { ModelFile } from '../maps/map-file.ts';
import type { Diagnostic, Fix } from '../diagnostics.ts';
import { applyEdits } from '../diagnostics.ts';
import { checkModel } from './checker.ts';

/** Repairs that are tried on one text; of a text with more findings the later ones are shown without repairs. */
const MOST_TRIED = 40;

/** The findings about a text with those of their repairs that do no harm: each is applied, and the text checked again must not have more errors. */
export function withSoundRepairs(
  text: string,
  diagnostics: readonly Diagnostic[],
  files?: ReadonlyMap<string, ModelFile>,
): Diagnostic[] {
  const errorCount = (all: readonly Diagnostic[]): number => all.filter(({ severity }) => severity === 'error').length;
  const before = errorCount(diagnostics);
  let tried = 0;
  const isSound = ({ edits }: Fix): boolean =>
    tried++ < MOST_TRIED && errorCount(checkModel(applyEdits(text, edits), files).diagnostics) <= before;
  return diagnostics.map((diagnostic) =>
    diagnostic.fixes ? { ...diagnostic, fixes: diagnostic.fixes.filter(isSound) } : diagnostic,
  );
}
