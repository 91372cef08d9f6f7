import { parquetWriteBuffer } from 'hyparquet-writer/src/index.js';
import type { Cell } from './csv.ts';

/**
 * A table as a Parquet file: a column of doubles each, whole numbers among them, or of words where any cell is one; what a reader should
 * know of it stands inside as key-value metadata.
 * @param rows gone through twice, so that the rows of a long table never lie in memory together
 */
export function parquetOf(
  header: readonly Cell[],
  rows: () => Iterable<readonly Cell[]>,
  facts: Readonly<Record<string, string>>,
): ArrayBuffer {
  let count = 0;
  const areWords = header.map(() => false);
  for (const row of rows()) {
    count++;
    row.forEach((cell, c) => (areWords[c] ||= typeof cell === 'string'));
  }
  const columns = areWords.map((isWords) => (isWords ? ([] as string[]) : new Float64Array(count)));
  let at = 0;
  for (const row of rows()) {
    columns.forEach((column, c) => {
      if (column instanceof Float64Array) column[at] = Number(row[c]);
      else column.push(String(row[c]));
    });
    at++;
  }
  return parquetWriteBuffer({
    columnData: header.map((name, c) => ({
      name: String(name),
      data: columns[c]!,
      type: areWords[c] ? ('STRING' as const) : ('DOUBLE' as const),
    })),
    kvMetadata: Object.entries(facts).map(([key, value]) => ({ key, value })),
  });
}
