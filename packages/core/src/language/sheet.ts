import Papa from 'papaparse';

/** A row of a table as it stands in a file. */
export interface SheetRow {
  readonly cells: readonly string[];
  /** The line of the file on which it begins, from 1. */
  readonly line: number;
}

/** Rows of a table with something in them; lines that begin with # are remarks and left out. What parts the cells is found out. */
export function sheetRows(text: string): SheetRow[] {
  const rows: SheetRow[] = [];
  const plain = text.replace(/^\uFEFF/, '').replace(/^#.*$/gm, '');
  // What parts the cells is found without the empty lines, which then are read too, so that lines can be counted.
  const { delimiter } = Papa.parse(plain, { skipEmptyLines: 'greedy', preview: 10 }).meta;
  let line = 1;
  for (const cells of Papa.parse<string[]>(plain, { delimiter }).data) {
    if (cells.some((cell) => cell.trim() !== '')) rows.push({ cells, line });
    line += 1 + cells.reduce((breaks, cell) => breaks + (cell.match(/\r?\n/g)?.length ?? 0), 0);
  }
  return rows;
}

const NUMBER = /^[+-]?(?:\d+\.?\d*|\.\d+)(?:e[+-]?\d+)?$/i;

/** The number in a cell, written with digits, sign, point and power of ten; nothing else is taken for one. */
export function cellNumber(cell: string): number | undefined {
  const text = cell.trim();
  const value = NUMBER.test(text) ? Number(text) : NaN;
  return Number.isFinite(value) ? value : undefined;
}
