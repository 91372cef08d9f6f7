import Papa from 'papaparse';

/** A cell of a table that leaves the application. */
export type Cell = string | number;

/** A number in a table: shortest digits that give it back, never and empty as an empty cell. */
function cellText(value: number): string {
  return Number.isNaN(value) ? '' : String(Object.is(value, -0) ? 0 : value);
}

/** Rows as CSV (RFC 4180), a line each, without a last line break. */
export function csvOf(rows: readonly (readonly Cell[])[]): string {
  return Papa.unparse(
    rows.map((row) => row.map((cell) => (typeof cell === 'number' ? cellText(cell) : cell))),
    { newline: '\n' },
  );
}
