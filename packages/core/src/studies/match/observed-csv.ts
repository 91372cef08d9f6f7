import type { SheetRow } from '../../language/sheet.ts';
import { SheetProblem, sheetRows } from '../../language/sheet.ts';
import type { ObservedTable } from './observations.ts';

/** A table of what was observed, with the remarks before its head. */
export interface CsvTable extends ObservedTable {
  /** Lines of remark (with #) before the header. */
  readonly notes: readonly string[];
}

const MAX_CSV_BYTES = 20_000_000;

/** Refuses a table that is too large to be read. @throws Error that says how large it may be */
export function checkSize(bytes: number): void {
  if (bytes > MAX_CSV_BYTES)
    throw new Error(`This file has ${(bytes / 1e6).toFixed(0)} MB; at most ${MAX_CSV_BYTES / 1e6} MB are read.`);
}

/** Reads a CSV with a header line; lines that begin with # are remarks. @throws Error that says what is wrong with the file */
export function readCsv(text: string): CsvTable {
  checkSize(text.length);
  if (text.includes('\0')) throw new Error('This is no text file. Save the table as CSV and import that.');
  const [header, ...rows] = rowsOf(text);
  if (!header) throw new Error('This file holds no table: no line with names of columns was found.');
  const names = header.cells.map((name) => name.trim());
  if (names.length < 2)
    throw new Error(
      'This table has one column only. A column of times and one of values are needed, with commas or semicolons between them.',
    );
  if (names.every((name) => name !== '' && Number.isFinite(Number(name))))
    throw new Error('The first line holds numbers. It must hold the names of the columns.');
  const twice = names.find((name, i) => names.indexOf(name) !== i);
  if (twice !== undefined)
    throw new Error(`Two columns have the name “${twice}”. Give each its own, so that it is clear which is meant.`);
  if (rows.length === 0) throw new Error('This table has names of columns, but no rows.');
  return { header: names, rows, notes: notesOf(text) };
}

function rowsOf(text: string): readonly SheetRow[] {
  try {
    return sheetRows(text);
  } catch (error) {
    if (error instanceof SheetProblem) throw new Error(`Line ${error.line}: ${error.message}`);
    throw error;
  }
}

/** The lines of remark before the header of a table. */
export function notesOf(text: string): string[] {
  const notes: string[] = [];
  for (let from = 0; from < text.length;) {
    const newline = text.indexOf('\n', from);
    const end = newline < 0 ? text.length : newline;
    const line = text.slice(from, end).replace(/\r$/, '');
    if (line.startsWith('#')) notes.push(line.replace(/^#\s?/, ''));
    else if (line.trim() !== '') break;
    from = end + 1;
  }
  return notes;
}
