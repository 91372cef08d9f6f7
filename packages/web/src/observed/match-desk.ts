import type { LoadedModel, MatchReading, ObservedTable, TableLook } from '@vole/core';
import { lookAtTable, readCsv, readMatch } from '@vole/core';
import { filesBeside } from '../simulation/beside.ts';
import { loadText } from '../simulation/load-text.ts';
import { textOf } from './text-of.ts';

export type TableRequest =
  /** Reads a file. */
  | { readonly is: 'take'; readonly bytes: ArrayBuffer }
  | { readonly is: 'look'; readonly csv: string }
  /** Reads the text of a match with the tables of the project, for a model. */
  | {
      readonly is: 'match';
      readonly text: string;
      readonly model: string;
      readonly tables: Readonly<Record<string, string>>;
    };

/** A file that was read. */
export interface TakenTable {
  readonly csv: string;
  readonly look: TableLook;
}

/** Reads tables and matches; it works apart from the page, so that long ones never hold it up. What was read last is kept. */
export class MatchDesk {
  private model: { readonly text: string; readonly loaded: LoadedModel | undefined } | undefined;
  private tables = new Map<string, ObservedTable>();

  /** @throws Error that says what is wrong with a table */
  answer(request: TableRequest): unknown {
    switch (request.is) {
      case 'take': {
        const csv = textOf(request.bytes);
        return { csv, look: lookAtTable(csv) } satisfies TakenTable;
      }
      case 'look':
        return lookAtTable(request.csv);
      case 'match':
        return this.read(request);
    }
  }

  private read({ text, model, tables }: Extract<TableRequest, { is: 'match' }>): MatchReading | undefined {
    if (this.model?.text !== model) this.model = { text: model, loaded: loadText(model).loaded };
    const { loaded } = this.model;
    if (!loaded) return undefined;
    const before = this.tables;
    this.tables = new Map(Object.values(tables).map((csv) => [csv, before.get(csv) ?? readCsv(csv)]));
    const named = new Map(Object.entries(tables).map(([name, csv]) => [name, this.tables.get(csv)!]));
    return readMatch(text, { text: model, files: filesBeside(), loaded }, named);
  }
}
