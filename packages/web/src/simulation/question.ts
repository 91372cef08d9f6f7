import { compileLightly } from '@vole/core';
import { loadText } from './load-text.ts';
import type { RunChapter } from './run-chapter.ts';

/** A condition of the language, compiled with the model of a run, to be asked of the run as it stands; or why it cannot be. */
export function questionOf(
  { text, executable }: RunChapter,
  condition: string,
): { readonly ask: () => number } | { readonly why: string } {
  const before = `${text.trimEnd()}\nmeasure condition_to_run_to = if `;
  const { loaded, diagnostics } = loadText(`${before}${condition} then 1 else 0\n`);
  if (loaded) {
    const { plan } = loaded;
    return { ask: executable.askOf(compileLightly(plan), plan.measures[plan.measures.length - 1]!.body) };
  }
  const error = diagnostics.find((d) => d.severity === 'error');
  if (error === undefined || error.span.start >= before.length + condition.trimEnd().length)
    return { why: 'the condition is not complete' };
  return { why: error.code === 'type/draw' ? 'a condition to run to may not draw luck' : error.message };
}
