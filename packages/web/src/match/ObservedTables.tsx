import { notesOf } from '@vole/core';
import { useRef, useState } from 'react';
import { lookAt } from '../observed/table-reader.ts';
import { draftMatch, removeObserved } from '../session/session.ts';
import { useAppSelector } from '../store/store.ts';
import { withoutTable } from './match-edits.ts';
import type { ShownTable } from './TablePreview.tsx';

interface Props {
  /** Why the last file was not taken. */
  readonly refused: string | undefined;
  readonly onFile: (file: File) => void;
  readonly onLook: (table: ShownTable) => void;
}

/** The tables of the project, and ways to a further one. */
export function ObservedTables({ refused, onFile, onLook }: Props) {
  const rows = useAppSelector((state) => state.observed.tables);
  const text = useAppSelector((state) => state.project.matchDraft);
  const [problem, setProblem] = useState<string>();
  const chooser = useRef<HTMLInputElement>(null);
  const look = (name: string, csv: string): void => {
    lookAt(csv).then(
      (found) => onLook({ name, csv, look: found }),
      (error: unknown) => setProblem(error instanceof Error ? error.message : String(error)),
    );
  };
  return (
    <section aria-label="Tables" className="card p-4 text-sm">
      {rows.length > 0 && <h2 className="mb-1 text-[16px]">What was observed</h2>}
      {rows.map(({ name, csv }) => (
        <div key={name}>
          <b className="break-words">{name}</b>{' '}
          <button type="button" className="link" onClick={() => look(name, csv)}>
            read anew
          </button>{' '}
          <button
            type="button"
            className="link"
            onClick={() => {
              draftMatch(withoutTable(text, name));
              void removeObserved(name);
            }}
          >
            remove
          </button>
          <TableNotes csv={csv} />
        </div>
      ))}
      {problem && (
        <p role="alert" className="text-problem">
          {problem}
        </p>
      )}
      {refused && (
        <p key={refused} ref={bringIntoView} role="alert" className="mt-2 text-problem">
          {refused}
        </p>
      )}
      <button
        type="button"
        className={rows.length > 0 ? 'btn mt-2' : 'btn-strong'}
        onClick={() => chooser.current?.click()}
      >
        {rows.length > 0 ? 'Another table' : 'Import a table'}
      </button>
      <p className="mt-1 text-faint">or drop a file here, or paste cells</p>
      <input
        ref={chooser}
        type="file"
        aria-label="Observed data as CSV"
        accept=".csv,.tsv,.txt,text/csv"
        className="hidden"
        onChange={(event) => {
          const file = event.target.files?.[0];
          event.target.value = '';
          if (file) onFile(file);
        }}
      />
    </section>
  );
}

/** What is said of a file is seen wherever it was dropped. */
function bringIntoView(said: HTMLElement | null): void {
  said?.scrollIntoView({ block: 'nearest' });
}

/** The remarks at the head of a table, folded where there are many words. */
function TableNotes({ csv }: { readonly csv: string }) {
  const words = notesOf(csv).join(' ');
  if (words === '') return null;
  return (
    <details className="text-faint">
      <summary className="cursor-pointer">{words.length > 60 ? `${words.slice(0, 58)} ...` : words}</summary>
      {words.length > 60 && words}
    </details>
  );
}
