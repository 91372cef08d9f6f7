import type { Plan } from '@vole/core';
import { useEffect, useState } from 'react';
import type { ObservedRow } from '../storage/schema.ts';
import { checkSize } from './read-csv.ts';
import type { ReadTable, TakenTable } from './read-table.ts';

export type TableRequest = { readonly id: number } & (
  | {
      readonly is: 'take';
      readonly bytes: ArrayBuffer;
      readonly measures: readonly string[];
      readonly hasCalendar: boolean;
    }
  | { readonly is: 'read'; readonly csv: string; readonly mapping: ObservedRow['mapping']; readonly plan: Plan }
);
export type TableReply = { readonly id: number } & (
  { readonly answer: TakenTable | ReadTable } | { readonly problem: string }
);

interface Waiting {
  readonly resolve: (answer: TakenTable | ReadTable) => void;
  readonly reject: (error: Error) => void;
}

let worker: Worker | undefined;
let asked = 0;
const waiting = new Map<number, Waiting>();

/** Puts a question to the worker that reads tables. One that breaks, for want of memory perhaps, is replaced for the next question. */
function ask(request: (id: number) => TableRequest): Promise<TakenTable | ReadTable> {
  if (!worker) {
    worker = new Worker(new URL('../workers/table.worker.ts', import.meta.url), { type: 'module', name: 'table' });
    worker.onmessage = ({ data }: MessageEvent<TableReply>) => {
      const asker = waiting.get(data.id);
      waiting.delete(data.id);
      if ('problem' in data) asker?.reject(new Error(data.problem));
      else asker?.resolve(data.answer);
    };
    worker.onerror = ({ message }) => {
      for (const { reject } of waiting.values())
        reject(new Error(`The table could not be read (${message || 'its reader has stopped'}).`));
      waiting.clear();
      worker?.terminate();
      worker = undefined;
    };
  }
  const id = ++asked;
  return new Promise((resolve, reject) => {
    waiting.set(id, { resolve, reject });
    worker!.postMessage(request(id));
  });
}

/** Reads a file apart from the page. @throws Error that says what is wrong with the file */
export async function takeFile(file: File, measures: readonly string[], hasCalendar: boolean): Promise<TakenTable> {
  checkSize(file.size);
  const bytes = await file.arrayBuffer();
  return (await ask((id) => ({ id, is: 'take', bytes, measures, hasCalendar }))) as TakenTable;
}

export type TableState = Partial<ReadTable> & { readonly problem?: string };

/** The observed series, read apart from the page; those read before stay on show until they are there. */
export function useReadTable(observed: ObservedRow | undefined, plan: Plan | undefined): TableState {
  const [state, setState] = useState<{ readonly of: string; readonly read: TableState }>();
  useEffect(() => {
    if (!observed || !plan) return;
    let isAsked = true;
    const show = (read: TableState): void => {
      if (isAsked) setState({ of: observed.projectId, read });
    };
    ask((id) => ({ id, is: 'read', csv: observed.csv, mapping: observed.mapping, plan })).then(
      (read) => show(read as ReadTable),
      (error: unknown) => show({ problem: error instanceof Error ? error.message : String(error) }),
    );
    return () => {
      isAsked = false;
    };
  }, [observed, plan]);
  return observed && state?.of === observed.projectId ? state.read : {};
}
