import { parquetWriteFile } from 'hyparquet-writer';
import type { Cell } from '@vole/core';

/**
 * Rows of runs as a Parquet file: a column of doubles each, whole numbers among them, with what a reader should know as key-value metadata.
 * @param runs the rows of each run
 */
export function writeParquet(
  path: string,
  columns: readonly Cell[],
  runs: readonly (readonly Cell[][])[],
  facts: Readonly<Record<string, string>>,
): void {
  parquetWriteFile({
    filename: path,
    columnData: columns.map((name, c) => ({
      name: String(name),
      data: Float64Array.from(runs.flatMap((rows) => rows.map((row) => Number(row[c])))),
      type: 'DOUBLE' as const,
    })),
    kvMetadata: Object.entries(facts).map(([key, value]) => ({ key, value })),
  });
}
