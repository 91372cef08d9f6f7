import type { Plan, PointAnswer, RunKey } from '@vole/core';
import type { ColumnDef, SortingState } from '@tanstack/react-table';
import { flexRender, getCoreRowModel, getSortedRowModel, useReactTable } from '@tanstack/react-table';
import { useVirtualizer } from '@tanstack/react-virtual';
import { useMemo, useRef, useState } from 'react';
import type { StudyRow } from '../storage/schema.ts';
import { shownNumber } from '../words/numbers.ts';
import { pointFilter } from './point-filter.ts';
import { factorWords } from './responses.ts';
import { RunButtons } from './RunButtons.tsx';

interface Props {
  readonly plan: Plan;
  readonly study: StudyRow;
  readonly points: readonly PointAnswer[];
  /** Runs of the point that is picked. */
  readonly group: readonly RunKey[];
  readonly summary: number;
  readonly picked: number;
  readonly onPick: (place: number) => void;
}

interface PointRow {
  readonly place: number;
  readonly point: PointAnswer;
  readonly value: number;
}

const ROW = 22;

/** Each point of a study with its estimate, to be sorted by any column and filtered; the chosen one with its runs, to open in Watch. */
export function PointsTable({ plan, study, points, group, summary, picked, onPick }: Props) {
  const { name, yesNo, unitLabel } = plan.summaries[summary]!;
  const [sorting, setSorting] = useState<SortingState>([]);
  const [filter, setFilter] = useState('');
  const rows = useMemo(() => rowsOf(plan, study, points, summary, filter), [plan, study, points, summary, filter]);
  const columns = useMemo(() => columnsOf(plan, study, summary), [plan, study, summary]);
  const table = useReactTable({
    data: rows,
    columns,
    state: { sorting },
    onSortingChange: setSorting,
    getCoreRowModel: getCoreRowModel(),
    getSortedRowModel: getSortedRowModel(),
  });
  const sortedRows = table.getRowModel().rows;
  const scroller = useRef<HTMLDivElement>(null);
  const shown = useVirtualizer({
    count: sortedRows.length,
    getScrollElement: () => scroller.current,
    estimateSize: () => ROW,
    overscan: 20,
  });
  const items = shown.getVirtualItems();
  const above = items[0]?.start ?? 0;
  const below = shown.getTotalSize() - (items.at(-1)?.end ?? 0);
  return (
    <section aria-label="Combinations" className="card flex min-h-0 flex-[2] flex-col p-4">
      <header className="flex flex-wrap items-baseline justify-between gap-x-3">
        <h2 className="text-[17px]">
          {name}, {yesNo ? 'share of runs' : `mean${unitLabel ? `, ${unitLabel}` : ''}`}
        </h2>
        {points.length > 1 && (
          <input
            aria-label="Filter"
            className="word w-40 text-sm"
            placeholder={`filter: ${study.factors[0]!.parameter} > 2`}
            value={filter}
            onChange={(event) => setFilter(event.target.value)}
          />
        )}
      </header>
      <div ref={scroller} className="min-h-0 flex-1 overflow-auto">
        <table className="w-full text-right">
          <thead className="sticky top-0 bg-sheet text-sm text-faint">
            {table.getHeaderGroups().map((headers) => (
              <tr key={headers.id}>
                {headers.headers.map((header) => (
                  <th key={header.id} className="px-1 font-normal" aria-sort={sortWord(header.column.getIsSorted())}>
                    <button type="button" onClick={header.column.getToggleSortingHandler()}>
                      {flexRender(header.column.columnDef.header, header.getContext())}
                      {header.column.getIsSorted() === 'asc' ? ' ↑' : header.column.getIsSorted() ? ' ↓' : ''}
                    </button>
                  </th>
                ))}
              </tr>
            ))}
          </thead>
          <tbody>
            {above > 0 && <tr style={{ height: above }} aria-hidden />}
            {items.map((item) => {
              const row = sortedRows[item.index]!;
              const { place } = row.original;
              return (
                <tr
                  key={row.id}
                  style={{ height: ROW }}
                  className={`cursor-pointer border-t border-line ${place === picked ? 'bg-wash font-semibold' : 'hover:bg-wash'}`}
                  onClick={() => onPick(place)}
                >
                  {row.getVisibleCells().map((cell, c) => (
                    <td key={cell.id} className="px-1 whitespace-nowrap">
                      {c === 0 ? (
                        <button type="button" onClick={() => onPick(place)}>
                          {flexRender(cell.column.columnDef.cell, cell.getContext())}
                        </button>
                      ) : (
                        flexRender(cell.column.columnDef.cell, cell.getContext())
                      )}
                    </td>
                  ))}
                </tr>
              );
            })}
            {below > 0 && <tr style={{ height: below }} aria-hidden />}
          </tbody>
        </table>
      </div>
      {filter.trim() !== '' && (
        <p className="text-sm text-faint" data-testid="filtered">
          {rows.length.toLocaleString('en-GB')} of {points.length.toLocaleString('en-GB')} points
        </p>
      )}
      <RunButtons plan={plan} study={study} point={points[picked]} runs={group} />
    </section>
  );
}

function sortWord(sorted: false | 'asc' | 'desc'): 'ascending' | 'descending' | 'none' {
  return sorted === false ? 'none' : sorted === 'asc' ? 'ascending' : 'descending';
}

function rowsOf(
  plan: Plan,
  study: StudyRow,
  points: readonly PointAnswer[],
  summary: number,
  filter: string,
): PointRow[] {
  const passes = pointFilter(filter);
  const summaryName = plan.summaries[summary]!.name;
  return points.flatMap((point, place) => {
    const value = point.runs > 0 ? point.estimates[summary]!.value : NaN;
    const values = Object.fromEntries(study.factors.map(({ parameter }, f) => [parameter, point.values[f]!]));
    const words = study.factors
      .map(({ parameter }, f) => `${parameter} ${factorWords(plan, parameter, point.values[f]!)}`)
      .join(' ');
    const row = { values: { ...values, runs: point.runs, [summaryName]: value }, words };
    return passes(row) ? [{ place, point, value }] : [];
  });
}

function columnsOf(plan: Plan, study: StudyRow, summary: number): ColumnDef<PointRow, number>[] {
  const { yesNo } = plan.summaries[summary]!;
  const estimateOf = ({ point }: PointRow) => (point.runs > 0 ? point.estimates[summary]! : undefined);
  return [
    ...study.factors.map(({ parameter }, f): ColumnDef<PointRow, number> => ({
      id: `factor ${parameter}`,
      header: parameter,
      accessorFn: ({ point }) => point.values[f]!,
      cell: ({ getValue }) => factorWords(plan, parameter, getValue()),
    })),
    {
      id: 'estimate',
      header: yesNo ? 'share' : 'mean',
      accessorFn: ({ value }) => value,
      cell: ({ row }) => {
        const estimate = estimateOf(row.original);
        return estimate ? (estimate.runs === 0 ? 'never' : shownNumber(estimate.value)) : '';
      },
    },
    {
      id: 'interval',
      header: '90 %',
      accessorFn: (row) => {
        const estimate = estimateOf(row);
        return estimate ? estimate.high - estimate.low : NaN;
      },
      cell: ({ row }) => {
        const estimate = estimateOf(row.original);
        return (
          <span className="text-sm font-normal text-faint">
            {estimate && Number.isFinite(estimate.low)
              ? `${shownNumber(estimate.low)} to ${shownNumber(estimate.high)}`
              : ''}
          </span>
        );
      },
    },
    {
      id: 'runs',
      header: 'runs',
      accessorFn: ({ point }) => point.runs,
      cell: ({ row }) => {
        const estimate = estimateOf(row.original);
        const { runs } = row.original.point;
        return estimate && estimate.never > 0 ? (
          <span title={`never in ${estimate.never} more`}>{`${estimate.runs} of ${runs}`}</span>
        ) : (
          runs
        );
      },
    },
  ];
}
