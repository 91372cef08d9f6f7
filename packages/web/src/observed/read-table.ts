import type { CsvTable, ObservedReading, Plan } from '@vole/core';
import { readCsv, readObserved } from '@vole/core';
import type { ObservedRow } from '../storage/schema.ts';
import { guessMapping } from './guess-mapping.ts';

/** What the page needs of a table; its rows stay with the worker. */
export type TableHead = Pick<CsvTable, 'header' | 'notes'>;

export interface TakenTable {
  readonly csv: string;
  readonly mapping: ObservedRow['mapping'];
}

export interface ReadTable {
  readonly table: TableHead;
  readonly reading: ObservedReading;
}

/** A file as text, and a first guess at what its columns hold. Bytes that are no UTF-8 are read as Windows Latin-1, as spreadsheets write it. @throws Error that says what is wrong with the file */
export function takeTable(bytes: ArrayBuffer, measures: readonly string[], hasCalendar: boolean): TakenTable {
  const csv = textOf(bytes);
  return { csv, mapping: guessMapping(readCsv(csv), measures, hasCalendar) };
}

function textOf(bytes: ArrayBuffer): string {
  try {
    return new TextDecoder('utf-8', { fatal: true }).decode(bytes);
  } catch {
    return new TextDecoder('windows-1252').decode(bytes);
  }
}

/** The observed series of a table by a mapping. @throws Error that says what is wrong with the table */
export function readTable(csv: string, mapping: ObservedRow['mapping'], plan: Plan): ReadTable {
  const { header, notes, rows } = readCsv(csv);
  return { table: { header, notes }, reading: readObserved(header, rows, mapping, plan) };
}
