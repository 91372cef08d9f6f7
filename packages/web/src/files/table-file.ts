import type { Cell } from '@vole/core';
import { csvOf } from '@vole/core';

/** Forms in which a table leaves the application. */
export type TableForm = 'csv' | 'parquet';

/** Rows of a table, its header first. */
export type TableRows = readonly (readonly Cell[])[];

const TYPES: Record<TableForm, string> = {
  csv: 'text/csv;charset=utf-8',
  parquet: 'application/vnd.apache.parquet',
};

/** A table as a file. What it is of stands in its first lines, or in the metadata of a Parquet file. */
export async function tableFile(form: TableForm, rows: TableRows, about: readonly string[]): Promise<Blob> {
  if (form === 'csv') return csvFile(`${csvOf(rows)}\n`, about);
  const { parquetOf } = await import('./parquet-writer.ts');
  const [header = [], ...cells] = rows;
  return parquetFile(parquetOf(header, () => cells, factsOf(about)));
}

/** A table that stands as CSV already. */
export function csvFile(csv: string, about: readonly string[]): Blob {
  return new Blob(
    [
      about
        .flatMap((line) => line.split('\n'))
        .map((line) => `# ${line}\n`)
        .join(''),
      csv,
    ],
    { type: TYPES.csv },
  );
}

/** A table that was written as Parquet already, with its facts. */
export function parquetFile(bytes: ArrayBuffer): Blob {
  return new Blob([bytes], { type: TYPES.parquet });
}

/** What a table is of, as metadata of Parquet. */
export function factsOf(about: readonly string[]): Record<string, string> {
  return { description: about.join('\n') };
}
