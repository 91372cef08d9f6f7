import type { ModelOfNow, Plan, ResultTable } from '@vole/core';
import { provenanceOf } from '@vole/core';
import type { StudyRow } from '../storage/schema.ts';
import { askStudy } from '../studies/answers.ts';
import type { TableForm } from './table-file.ts';
import { csvFile, factsOf, parquetFile } from './table-file.ts';

/** A whole table of a study as a file, made where its results are held. @param now the model as it is now */
export async function studyTableFile(
  study: StudyRow,
  plan: Plan,
  now: ModelOfNow,
  what: ResultTable,
  form: TableForm,
): Promise<Blob> {
  const { lines } = provenanceOf(study, plan, now);
  return form === 'csv'
    ? csvFile(await askStudy(study.id, { is: 'table', what }), lines)
    : parquetFile(await askStudy(study.id, { is: 'parquet', what, facts: factsOf(lines) }));
}
