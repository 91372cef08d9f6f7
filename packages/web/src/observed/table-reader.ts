import type { MatchReading, TableLook } from '@vole/core';
import { withFiles } from '../simulation/beside.ts';
import { checkSize } from '@vole/core';
import { AskedWorker } from '../simulation/asked-worker.ts';
import type { TableRequest, TakenTable } from './match-desk.ts';

const reader = new AskedWorker<TableRequest>(
  () =>
    withFiles(new Worker(new URL('../workers/table.worker.ts', import.meta.url), { type: 'module', name: 'table' })),
  'The table could not be read',
);

/** Reads a file apart from the page. @throws Error that says what is wrong with the file */
export async function takeFile(file: Blob): Promise<TakenTable> {
  checkSize(file.size);
  return (await reader.ask({ is: 'take', bytes: await file.arrayBuffer() })) as TakenTable;
}

/** How a table looks. @throws Error that says what is wrong with it */
export async function lookAt(csv: string): Promise<TableLook> {
  return (await reader.ask({ is: 'look', csv })) as TableLook;
}

/** Reads the text of a match; nothing where the model has errors. @throws Error that says what is wrong with a table */
export async function askMatch(
  text: string,
  model: string,
  tables: Readonly<Record<string, string>>,
): Promise<MatchReading | undefined> {
  return (await reader.ask({ is: 'match', text, model, tables })) as MatchReading | undefined;
}
