import type { Plan, ResultTable } from '@vole/core';
import type { StudyRow } from '../storage/schema.ts';
import { interfaceActions } from '../store/interface-slice.ts';
import { useAppDispatch, useAppSelector } from '../store/store.ts';
import { askStudy } from '../studies/answers.ts';
import { provenanceOf } from '../studies/provenance.ts';
import { download, downloadText, fileName } from './export-chart.ts';

/** Takes a table of a study as a file of its own: what it is of stands in its first lines, or in the metadata of a Parquet file. */
export function useTakeTable(
  study: StudyRow,
  plan: Plan,
): (what: ResultTable, name: string, form: 'csv' | 'parquet') => void {
  const text = useAppSelector((state) => state.project.text);
  const dispatch = useAppDispatch();
  return (what, name, form) => {
    const { lines } = provenanceOf(study, plan, text);
    const take = async (): Promise<void> => {
      if (form === 'csv') {
        const table = await askStudy(study.id, { is: 'table', what });
        downloadText(fileName(name, 'csv'), `${remarks(lines)}${table}`, 'text/csv');
      } else {
        const bytes = await askStudy(study.id, { is: 'parquet', what, facts: factsOf(lines) });
        download(fileName(name, 'parquet'), new Blob([bytes], { type: 'application/vnd.apache.parquet' }));
      }
    };
    take().catch((error: Error) => dispatch(interfaceActions.noticed({ text: error.message, tone: 'problem' })));
  };
}

/** What a table is of, as the first lines of a CSV. */
export function remarks(lines: readonly string[]): string {
  return lines.map((line) => `# ${line}\n`).join('');
}

/** The same as key-value metadata. */
export function factsOf(lines: readonly string[]): Record<string, string> {
  return { description: lines.join('\n') };
}
