import { parquetWriteFile } from 'hyparquet-writer';
import type { Cell } from '@vole/core';

/**
 * Rows of runs as a Parquet file: a column of doubles each, whole numbers among them, with what a reader should know as key-value metadata.
 * @param rowsOf the rows of a run; runs are gone through twice, so that their rows never lie in memory together
 */
export function writeParquet<T>(
  path: string,
  columns: readonly Cell[],
  runs: readonly T[],
  rowsOf: (run: T) => readonly (readonly Cell[])[],
  facts: Readonly<Record<string, string>>,
): void {
  const count = runs.reduce((sum, run) => sum + rowsOf(run).length, 0);
  const data = columns.map(() => new Float64Array(count));
  let at = 0;
  for (const run of runs)
    for (const row of rowsOf(run)) {
      data.forEach((column, c) => (column[at] = Number(row[c])));
      at++;
    }
  parquetWriteFile({
    filename: path,
    columnData: columns.map((name, c) => ({ name: String(name), data: data[c]!, type: 'DOUBLE' as const })),
    kvMetadata: Object.entries(facts).map(([key, value]) => ({ key, value })),
  });
}
