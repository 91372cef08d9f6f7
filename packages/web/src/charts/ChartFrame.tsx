import type { Cell } from '@vole/core';
import { csvOf } from '@vole/core';
import type { ReactNode } from 'react';
import { useRef, useState } from 'react';
import { Meaning } from '../manual/Meaning.tsx';
import { interfaceActions } from '../store/interface-slice.ts';
import type { Provenance } from '../studies/provenance.ts';
import { useAppDispatch } from '../store/store.ts';
import { remarks } from './take-table.ts';
import { download, downloadText, fileName, pngOf, svgOf } from './export-chart.ts';

interface Props {
  readonly title: string;
  /** What lines and bands are, and of how many runs. */
  readonly note: string;
  /** What in the manual explains its numbers. @see Meaning */
  readonly means?: string;
  /** Of which text, values and seeds the numbers are. */
  readonly of?: Provenance;
  /** The numbers of the chart, row by row, header first. */
  readonly table: () => readonly (readonly Cell[])[];
  readonly children: ReactNode;
  readonly className?: string;
}

/** A chart with its title, its note, and ways to take it along. */
export function ChartFrame({ title, note, means, of, table, children, className = '' }: Props) {
  const frame = useRef<HTMLElement>(null);
  const [asTable, setAsTable] = useState(false);
  const dispatch = useAppDispatch();
  const exporting = (make: () => Promise<void> | void): void => {
    Promise.resolve()
      .then(make)
      .catch((error: Error) => dispatch(interfaceActions.noticed({ text: error.message, tone: 'problem' })));
  };
  const svg = () =>
    svgOf(frame.current!, title, [note, of?.words, of?.stale].filter(Boolean).join('; '), of?.lines ?? []);
  return (
    <section ref={frame} aria-label={title} className={`card flex min-h-0 min-w-0 flex-col p-4 ${className}`}>
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
        {!asTable && (
          <>
            <button
              type="button"
              className="link"
              onClick={() => exporting(async () => download(fileName(title, 'png'), await pngOf(svg())))}
            >
              PNG
            </button>
            <button
              type="button"
              className="link"
              onClick={() => exporting(() => downloadText(fileName(title, 'svg'), svg().text, 'image/svg+xml'))}
            >
              SVG
            </button>
          </>
        )}
        <button
          type="button"
          className="link"
          onClick={() =>
            downloadText(fileName(title, 'csv'), `${remarks(of?.lines ?? [])}${csvOf(table())}\n`, 'text/csv')
          }
        >
          CSV
        </button>
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
        <p className="p-2 text-faint">{rows.length - MOST_LINES} more lines are in the CSV.</p>
      )}
    </div>
  );
}
