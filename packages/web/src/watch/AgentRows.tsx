import { useVirtualizer } from '@tanstack/react-virtual';
import { useRef } from 'react';
import { live } from '../simulation/live-handle.ts';
import type { AgentTable } from '../simulation/protocol.ts';
import type { FilterColumn } from './table-filter.ts';

export interface Column extends FilterColumn {
  readonly words: (row: number) => string;
  readonly unit?: string;
}

export interface Sorting {
  readonly name: string;
  readonly down: boolean;
}

/** Height of a row in pixels, until it was measured; and rows that are made beyond those in sight. */
const ROW_HEIGHT = 22;
const BEYOND = 12;

interface Props {
  readonly kind: number;
  /** Of the kind. */
  readonly name: string;
  readonly table: AgentTable;
  readonly columns: readonly Column[];
  /** Rows of the table that are listed, in their order. */
  readonly rows: readonly number[];
  readonly sorting: Sorting;
  readonly onSort: (sorting: Sorting) => void;
  /** Number of the agent that is open. */
  readonly opened: number | undefined;
}

/** The agents, row by row, however many; only those in sight are made. */
export function AgentRows({ kind, name, table, columns, rows, sorting, onSort, opened }: Props) {
  const scroller = useRef<HTMLDivElement>(null);
  const virtual = useVirtualizer({
    count: rows.length,
    getScrollElement: () => scroller.current,
    estimateSize: () => ROW_HEIGHT,
    overscan: BEYOND,
  });
  const inSight = virtual.getVirtualItems();
  return (
    <div ref={scroller} className="mt-1 min-h-24 overflow-auto" tabIndex={0} role="region" aria-label="Rows">
      <table className="w-full text-right text-sm" aria-rowcount={rows.length + 1}>
        <thead className="sticky top-0 bg-sheet">
          <tr>
            {columns.map((column) => (
              <th
                key={column.name}
                aria-sort={column.name === sorting.name ? (sorting.down ? 'descending' : 'ascending') : 'none'}
                className="px-1.5"
              >
                <button
                  type="button"
                  className="font-semibold"
                  onClick={() => onSort({ name: column.name, down: column.name === sorting.name && !sorting.down })}
                >
                  {column.name}
                  {column.name === sorting.name ? (sorting.down ? ' ↓' : ' ↑') : ''}
                </button>
              </th>
            ))}
          </tr>
        </thead>
        <tbody>
          <Spacer height={inSight[0]?.start ?? 0} />
          {inSight.map(({ index }) => {
            const row = rows[index]!;
            const number = table.numbers[row]!;
            return (
              <tr
                key={number}
                aria-rowindex={index + 2}
                data-index={index}
                ref={virtual.measureElement}
                className={`cursor-pointer border-t border-line hover:bg-wash ${opened === number ? 'bg-wash font-semibold' : ''}`}
                onClick={() => live.openAgent(kind, number)}
              >
                {columns.map((column, c) => (
                  <td key={column.name} className="px-1.5">
                    {c === 0 ? (
                      <button type="button" className="link" aria-label={`Open ${name} ${number}`}>
                        {column.words(row)}
                      </button>
                    ) : (
                      column.words(row)
                    )}
                  </td>
                ))}
              </tr>
            );
          })}
          <Spacer height={virtual.getTotalSize() - (inSight.at(-1)?.end ?? 0)} />
        </tbody>
      </table>
    </div>
  );
}

/** Stands for the rows that are out of sight. */
function Spacer({ height }: { readonly height: number }) {
  return height > 0 ? <tr aria-hidden style={{ height }} /> : null;
}
