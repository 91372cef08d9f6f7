import type { Cell } from '@vole/core';
import type { ReactNode } from 'react';
import { useContext, useState } from 'react';
import { TakeFiles } from '../files/TakeFiles.tsx';
import { Meaning } from '../manual/Meaning.tsx';
import { TakenOf } from '../files/taken-of.ts';

interface Props {
  readonly title: string;
  /** What lines and bands are, and of how many runs. */
  readonly note: string;
  /** What in the manual explains its numbers. @see Meaning */
  readonly means?: string;
  /** The numbers of the chart, row by row, header first. */
  readonly table: () => readonly (readonly Cell[])[];
  readonly children: ReactNode;
  readonly className?: string;
}

/** A chart with its title, its note, and ways to take it along. */
export function ChartFrame({ title, note, means, table, children, className = '' }: Props) {
  const of = useContext(TakenOf);
  const [asTable, setAsTable] = useState(false);
  return (
    <section aria-label={title} className={`card flex min-h-0 min-w-0 flex-col p-4 ${className}`}>
      <header className="mb-1 flex flex-wrap items-baseline justify-between gap-x-4">
        <h2 className="text-[17px]">
          {title}
          {means && <Meaning of={means} />}
        </h2>
        <span className="text-sm text-faint">{note}</span>
      </header>
      <div className="min-h-0 flex-1">{asTable ? <Table rows={table()} /> : children}</div>
      <footer className="mt-1 flex flex-wrap items-baseline gap-x-3 text-sm">
        <button type="button" className="link" onClick={() => setAsTable(!asTable)}>
          {asTable ? 'as chart' : 'as table'}
        </button>
        <TakeFiles title={title} note={note} hasFigure={!asTable} table={table} />
        {of && (
          <span className="ml-auto min-w-0 text-right text-faint" data-testid="provenance">
            {of.words}
            {of.stale && <b className="text-doubt">; {of.stale}</b>}
          </span>
        )}
      </footer>
    </section>
  );
}

const MOST_LINES = 500;

function Table({ rows: [header = [], ...rows] }: { readonly rows: readonly (readonly Cell[])[] }) {
  return (
    <div className="h-full overflow-auto">
      <table className="w-full text-right text-sm">
        <thead className="sticky top-0 bg-sheet">
          <tr>
            {header.map((cell) => (
              <th key={cell} className="px-2 py-1 font-semibold">
                {cell}
              </th>
            ))}
          </tr>
        </thead>
        <tbody>
          {rows.slice(0, MOST_LINES).map((row, i) => (
            <tr key={i} className="border-t border-line">
              {row.map((cell, c) => (
                <td key={c} className="px-2">
                  {Number.isNaN(cell) ? '' : cell}
                </td>
              ))}
            </tr>
          ))}
        </tbody>
      </table>
      {rows.length > MOST_LINES && (
        <p className="p-2 text-faint">{rows.length - MOST_LINES} more lines are in the files.</p>
      )}
    </div>
  );
}
