/** Cells of a field as they are held: row by row from below. */
interface RasterCells {
  readonly columns: number;
  readonly rows: number;
  /** Length of the side of a cell. */
  readonly cell: number;
  readonly values: ArrayLike<number>;
  /** The words that its values count, from 0 on. */
  readonly options?: readonly string[] | undefined;
}

/** The sign for a cell that has no value. */
const NO_VALUE = -9999;

/**
 * A field as the open text raster that models read: lines `ncols`, `nrows` and others of that form, then a line a row of cells, from the top.
 * Numbers have the shortest digits that give them back, choices are written as their words; what is no number is written as the sign for no value.
 */
export function rasterText({ columns, rows, cell, values, options }: RasterCells): string {
  const lines = Array.from({ length: rows }, (_, row) => {
    const from = (rows - 1 - row) * columns;
    return Array.from({ length: columns }, (_, column) => {
      const value = values[from + column]!;
      if (!Number.isFinite(value)) return String(NO_VALUE);
      return options?.[value] ?? String(value);
    }).join(' ');
  });
  return [
    `ncols ${columns}`,
    `nrows ${rows}`,
    'xllcorner 0',
    'yllcorner 0',
    `cellsize ${cell}`,
    `NODATA_value ${NO_VALUE}`,
    ...lines,
    '',
  ].join('\n');
}
