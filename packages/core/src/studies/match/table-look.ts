import type { DateOrder } from '../../calendar/dates.ts';
import { ordersOf } from '../../calendar/dates.ts';
import { isEmptyCell } from '../../language/sheet.ts';
import { writtenNumber } from './observations.ts';
import { readCsv } from './observed-csv.ts';

/** What a column of a table seems to hold. */
export interface ColumnLook {
  readonly name: string;
  readonly holds: 'dates' | 'numbers' | 'words' | 'nothing';
  /** Cells without a value. */
  readonly gaps: number;
  /** Of dates: the orders in which all of them can be read. */
  readonly orders: readonly DateOrder[];
  /** Of words that come again and again: each of them once. */
  readonly words: readonly string[];
}

/** A table as it looks before anything is done with it. */
export interface TableLook {
  readonly columns: readonly ColumnLook[];
  readonly rows: number;
  /** Cells of the first rows. */
  readonly first: readonly (readonly string[])[];
  /** Remarks before its head. */
  readonly notes: readonly string[];
}

const FIRST = 6;
/** A column of words with more of them than this tells no series apart. */
const MOST_WORDS = 30;

/** Looks at a table in a CSV file. @throws Error that says what is wrong with the file */
export function lookAtTable(csv: string): TableLook {
  const { header, rows, notes } = readCsv(csv);
  return {
    columns: header.map((name, column) =>
      columnLook(
        name,
        rows.map(({ cells }) => cells[column] ?? ''),
      ),
    ),
    rows: rows.length,
    first: rows.slice(0, FIRST).map(({ cells }) => header.map((_, column) => cells[column] ?? '')),
    notes,
  };
}

function columnLook(name: string, cells: readonly string[]): ColumnLook {
  const present = cells.filter((cell) => !isEmptyCell(cell)).map((cell) => cell.trim());
  const gaps = cells.length - present.length;
  if (present.length === 0) return { name, holds: 'nothing', gaps, orders: [], words: [] };
  // Odd cells make no column of words: they are told of when the column is read.
  const isMostly = (is: (cell: string) => boolean): boolean => present.filter(is).length >= present.length / 2;
  if (isMostly((cell) => writtenNumber(cell) !== undefined))
    return { name, holds: 'numbers', gaps, orders: [], words: [] };
  const orders = ordersOf(present);
  if (orders.length > 0 || isMostly((cell) => ordersOf([cell]).length > 0))
    return { name, holds: 'dates', gaps, orders, words: [] };
  const words = [...new Set(present)];
  return { name, holds: 'words', gaps, orders: [], words: words.length <= MOST_WORDS ? words : [] };
}
