import type { Plan, RunResult } from '@vole/core';
import { combinationAt, rowHeader, rowLines, summaryHeader, summaryLine, textCell } from '@vole/core';
import { categoriesOf } from '../simulation/act-words.ts';
import type { StudyRow } from '../storage/schema.ts';
import { provenanceOf } from './provenance.ts';

/** The results of a study as CSV: every kept row, and the summaries. Values that are no numbers stand as words. */
export function tablesOf(
  study: StudyRow,
  plan: Plan,
  results: readonly (RunResult | undefined)[],
): { rows: string; summaries: string } {
  const names = study.factors.map((factor) => factor.parameter);
  const categories = names.map((name) => categoriesOf(plan, name));
  const extra = (i: number): string[] =>
    combinationAt(study.factors, Math.floor(i / study.seeds.length)).map((value, f) =>
      textCell(categories[f]?.[value] ?? String(value)),
    );
  const present = results.flatMap((result, i) => (result ? [{ result, i }] : []));
  return {
    rows: `${[rowHeader(plan, names), ...present.flatMap(({ result, i }) => rowLines(plan, i + 1, result, extra(i)))].join('\n')}\n`,
    summaries: `${[summaryHeader(plan, names), ...present.map(({ result, i }) => summaryLine(i + 1, result, extra(i)))].join('\n')}\n`,
  };
}

/** A table of a study as a file of its own: what it is of stands in its first lines. */
export function markedTable(
  study: StudyRow,
  plan: Plan,
  results: readonly (RunResult | undefined)[],
  currentText: string,
  what: 'rows' | 'summaries',
): string {
  return `${provenanceOf(study, plan, currentText)
    .lines.map((line) => `# ${line}\n`)
    .join('')}${tablesOf(study, plan, results)[what]}`;
}
