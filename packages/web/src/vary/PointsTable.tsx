import type { GroupAnswer, Plan } from '@vole/core';
import { factorWords, rowFilter } from '@vole/core';
import type { ColumnDef, SortingState } from '@tanstack/react-table';
import { flexRender, getCoreRowModel, getSortedRowModel, useReactTable } from '@tanstack/react-table';
import { useMemo, useState } from 'react';
import type { StudyRow } from '../storage/schema.ts';
import { TABLE_ROW, VirtualTable } from '../tables/VirtualTable.tsx';
import { shownNumber } from '../words/numbers.ts';

interface Props {
  readonly plan: Plan;
  readonly study: StudyRow;
  /** Points of the design, or groups of them. */
  readonly points: readonly GroupAnswer[];
  /** Factors whose values the points have. */
  readonly factors: readonly string[];
  readonly summary: number;
  readonly filter: string;
  /** Place of the point that is picked, if any is. */
  readonly picked: number | undefined;
  readonly onPick: (place: number) => void;
}

interface PointRow {
  readonly place: number;
  readonly point: GroupAnswer;
  readonly value: number;
}

/** Each point of a study, or each group of points, with its estimate, to be sorted by any column and filtered. */
export function PointsTable({ plan, study, points, factors, summary, filter, picked, onPick }: Props) {
  const [sorting, setSorting] = useState<SortingState>([]);
  const rows = useMemo(
    () => rowsOf(plan, study, points, factors, summary, filter),
    [plan, study, points, factors, summary, filter],
  );
  const columns = useMemo(() => columnsOf(plan, factors, summary), [plan, factors, summary]);
  const table = useReactTable({
    data: rows,
    columns,
    state: { sorting },
    onSortingChange: setSorting,
    getCoreRowModel: getCoreRowModel(),
    getSortedRowModel: getSortedRowModel(),
  });
  const sortedRows = table.getRowModel().rows;
  return (
    <>
      <VirtualTable
        label="Points"
        count={sortedRows.length}
        head={table.getHeaderGroups().map((headers) => (
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
        row={(index) => {
          const row = sortedRows[index]!;
          const { place } = row.original;
          return (
            <tr
              key={row.id}
              style={{ height: TABLE_ROW }}
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
        }}
      />
      {filter.trim() !== '' && (
        <p className="text-sm text-faint" data-testid="filtered">
          {rows.length.toLocaleString('en-GB')} of {points.length.toLocaleString('en-GB')} points
        </p>
      )}
    </>
  );
}

function sortWord(sorted: false | 'asc' | 'desc'): 'ascending' | 'descending' | 'none' {
  return sorted === false ? 'none' : sorted === 'asc' ? 'ascending' : 'descending';
}

function rowsOf(
  plan: Plan,
  study: StudyRow,
  points: readonly GroupAnswer[],
  factors: readonly string[],
  summary: number,
  filter: string,
): PointRow[] {
  const passes = rowFilter(filter, [...factors, 'runs', plan.summaries[summary]!.name]);
  const isAll = factors.length === study.factors.length;
  return points.flatMap((point, place) => {
    const value = point.runs > 0 ? point.estimates[summary]!.value : NaN;
    const values = [...point.values, point.runs, value];
    const words = (): string =>
      [
        ...factors.map((parameter, f) => `${parameter} ${factorWords(plan, parameter, point.values[f]!)}`),
        isAll ? (study.listed?.names?.[place] ?? '') : '',
      ].join(' ');
    return passes({ value: (column) => values[column]!, words }) ? [{ place, point, value }] : [];
  });
}

function columnsOf(plan: Plan, factors: readonly string[], summary: number): ColumnDef<PointRow, number>[] {
  const { yesNo } = plan.summaries[summary]!;
  const estimateOf = ({ point }: PointRow) => (point.runs > 0 ? point.estimates[summary]! : undefined);
  return [
    ...factors.map((parameter, f): ColumnDef<PointRow, number> => ({
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
