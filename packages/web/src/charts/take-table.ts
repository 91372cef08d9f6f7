import type { Plan, ResultTable } from '@vole/core';
import type { StudyRow } from '../storage/schema.ts';
import { interfaceActions } from '../store/interface-slice.ts';
import { useAppDispatch, useAppSelector } from '../store/store.ts';
import { askStudy } from '../studies/answers.ts';
import { provenanceOf } from '../studies/provenance.ts';
import { downloadText, fileName } from './export-chart.ts';

/** Takes a table of a study as a file of its own: what it is of stands in its first lines. */
export function useTakeTable(study: StudyRow, plan: Plan): (what: ResultTable, name: string) => void {
  const text = useAppSelector((state) => state.project.text);
  const dispatch = useAppDispatch();
  return (what, name) => {
    const head = provenanceOf(study, plan, text).lines.map((line) => `# ${line}\n`);
    askStudy(study.id, { is: 'table', what }).then(
      (table) => downloadText(fileName(name, 'csv'), `${head.join('')}${table}`, 'text/csv'),
      (error: Error) => dispatch(interfaceActions.noticed({ text: error.message, tone: 'problem' })),
    );
  };
}
