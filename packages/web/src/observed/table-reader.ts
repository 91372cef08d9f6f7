import type { Plan } from '@vole/core';
import { useEffect, useState } from 'react';
import type { ObservedRow } from '../storage/schema.ts';
import { AskedWorker } from '../simulation/asked-worker.ts';
import { checkSize } from '@vole/core';
import type { ReadTable, TakenTable } from './read-table.ts';

export type TableRequest =
  | {
      readonly is: 'take';
      readonly bytes: ArrayBuffer;
      readonly measures: readonly string[];
      readonly hasCalendar: boolean;
    }
  | { readonly is: 'read'; readonly csv: string; readonly mapping: ObservedRow['mapping']; readonly plan: Plan };

const reader = new AskedWorker<TableRequest>(
  () => new Worker(new URL('../workers/table.worker.ts', import.meta.url), { type: 'module', name: 'table' }),
  'The table could not be read',
);

/** Reads a file apart from the page. @throws Error that says what is wrong with the file */
export async function takeFile(file: File, measures: readonly string[], hasCalendar: boolean): Promise<TakenTable> {
  checkSize(file.size);
  const bytes = await file.arrayBuffer();
  return (await reader.ask({ is: 'take', bytes, measures, hasCalendar })) as TakenTable;
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
    reader.ask({ is: 'read', csv: observed.csv, mapping: observed.mapping, plan }).then(
      (read) => show(read as ReadTable),
      (error: unknown) => show({ problem: error instanceof Error ? error.message : String(error) }),
    );
    return () => {
      isAsked = false;
    };
  }, [observed, plan]);
  return observed && state?.of === observed.projectId ? state.read : {};
}
