import type { Cell, Plan } from '@vole/core';
import { heading, measuredPlace, valueWords } from '@vole/core';
import { useEffect, useMemo, useState } from 'react';
import { Bars } from '../charts/Bars.tsx';
import { TakeFiles } from '../files/TakeFiles.tsx';
import { shownNumber } from '../words/numbers.ts';
import type { AgentTable } from '../simulation/protocol.ts';
import { live, useLive } from '../simulation/live-handle.ts';
import { readFilter } from './table-filter.ts';
import type { Column, Sorting } from './AgentRows.tsx';
import { AgentRows } from './AgentRows.tsx';

const MOST_POINTS = 3000;
/** More trails than this hide one another. */
const MOST_TRAILS = 300;

function columnsOf(plan: Plan, table: AgentTable): Column[] {
  const kind = plan.kinds[table.kind]!;
  const list = (i: number): Float64Array => table.columns[i] ?? new Float64Array(0);
  const number: Column = {
    name: 'number',
    value: (row) => table.numbers[row]!,
    words: (row) => String(table.numbers[row]!),
  };
  const attributes = kind.columns.map((column, i): Column => ({
    name: column.name,
    unit: column.unitLabel,
    options: column.options ?? (column.type === 'yes or no' ? ['no', 'yes'] : undefined),
    value: (row) => (column.options ? list(i)[row]! : list(i)[row]! / column.unitFactor),
    words: (row) => valueWords({ ...column, unitLabel: '' }, list(i)[row]!),
  }));
  const machines = kind.machines.map((machine, m): Column => ({
    name: machine.name,
    options: machine.states,
    value: (row) => list(kind.columns.length + m)[row]!,
    words: (row) => machine.states[list(kind.columns.length + m)[row]!] ?? '',
  }));
  const first = kind.columns.length + kind.machines.length;
  const placeIn = (row: number): { readonly x: number; readonly y: number } =>
    measuredPlace(list(first)[row]!, list(first + 1)[row]!, plan.spaces[kind.space]!);
  const places =
    kind.space >= 0
      ? (['x', 'y'] as const).map((name): Column => ({
          name,
          value: (row) => placeIn(row)[name],
          words: (row) => shownNumber(placeIn(row)[name]),
        }))
      : [];
  const riding = table.riding.map(({ name, values }): Column => ({
    name,
    value: (row) => values[row]!,
    words: (row) => (name === 'riders' || values[row]! > 0 ? shownNumber(values[row]!) : 'nobody'),
  }));
  return [number, ...machines, ...riding, ...attributes, ...places];
}

/** All agents of a kind as they are now: sorted, filtered, opened by a click; one column as a histogram, two as a scatter. */
export function AgentTableCard({
  kind,
  onKind,
}: {
  readonly kind: number;
  readonly onKind: (kind: number | undefined) => void;
}) {
  const plan = useLive((state) => state.plan);
  const frame = useLive((state) => state.frame);
  const trailed = useLive((state) => state.trailed);
  const [sorting, setSorting] = useState<Sorting>({
    name: 'number',
    down: false,
  });
  const [words, setWords] = useState('');
  const [drawn, setDrawn] = useState('');
  const [against, setAgainst] = useState('');
  useEffect(() => {
    live.listAgents(kind);
    return () => live.listAgents(undefined);
  }, [kind, plan]);
  const table = frame?.table?.kind === kind ? frame.table : undefined;
  const columns = useMemo(() => (plan && table ? columnsOf(plan, table) : []), [plan, table]);
  if (!plan || !table) return null;
  const filter = readFilter(words, columns);
  const by = columns.find((column) => column.name === sorting.name) ?? columns[0]!;
  const rows = Array.from({ length: table.numbers.length }, (_, row) => row).filter(filter.fits);
  rows.sort((a, b) => (by.value(a) - by.value(b)) * (sorting.down ? -1 : 1) || a - b);
  const [one, two] = [drawn, against].map((name) => columns.find((column) => column.name === name));
  const opened = frame?.agent;
  const cells = (): Cell[][] => [
    columns.map((column) => heading(column.name, column.unit ?? '')),
    ...rows.map((row) => columns.map((column) => (column.options ? column.words(row) : column.value(row)))),
  ];
  return (
    <section
      aria-label="Table of agents"
      className="card absolute bottom-16 left-[304px] flex max-h-[62%] w-[min(640px,calc(100%-662px))] min-w-[440px] flex-col px-3.5 py-2.5"
    >
      <div className="flex flex-wrap items-baseline gap-x-3">
        <select
          aria-label="Kind in the table"
          className="word"
          value={kind}
          onChange={(event) => onKind(Number(event.target.value))}
        >
          {plan.kinds.map((other, k) => (
            <option key={other.name} value={k}>
              {other.name}
            </option>
          ))}
        </select>
        <label className="flex min-w-0 flex-1 items-baseline gap-1.5">
          where{' '}
          <input
            aria-label="Which agents"
            className="word min-w-0 flex-1 font-mono text-sm"
            placeholder="energy > 1"
            value={words}
            onChange={(event) => setWords(event.target.value)}
          />
        </label>
        <span className="text-faint">
          {shownNumber(rows.length)} of {shownNumber(table.numbers.length)}
        </span>
        {trailed.length > 0 && (
          <button type="button" className="link" onClick={() => live.setTrails([])}>
            no trails
          </button>
        )}
        <button
          type="button"
          className="link"
          disabled={rows.length === 0}
          title={rows.length > MOST_TRAILS ? `Of the first ${MOST_TRAILS}, in the order of the table.` : undefined}
          onClick={() =>
            live.setTrails(rows.slice(0, MOST_TRAILS).map((row) => ({ kind, number: table.numbers[row]! })))
          }
        >
          trails of {rows.length > MOST_TRAILS ? `the first ${MOST_TRAILS}` : 'these'}
        </button>
        <TakeFiles title={`${plan.kinds[kind]!.name} step ${frame!.step}`} table={cells} />
        <button type="button" className="link" onClick={() => onKind(undefined)}>
          close
        </button>
      </div>
      {filter.problem && (
        <p role="alert" className="text-problem">
          {filter.problem}
        </p>
      )}
      <AgentRows
        kind={kind}
        name={plan.kinds[kind]!.name}
        table={table}
        columns={columns}
        rows={rows}
        sorting={{ name: by.name, down: sorting.down }}
        onSort={setSorting}
        opened={opened?.kind === kind ? opened.number : undefined}
      />
      <p className="mt-1">
        draw <Names label="Column to draw" columns={columns} value={drawn} onChange={setDrawn} /> against{' '}
        <Names label="Column to draw against" columns={columns} value={against} onChange={setAgainst} />
      </p>
      {one && !two && (
        <Bars
          title={`${one.name} of ${rows.length}`}
          values={rows.map((row) => one.value(row))}
          unit=""
          options={one.options}
        />
      )}
      {one && two && (
        <figure aria-label={`${one.name} against ${two.name}`}>
          <Scatter x={two} y={one} rows={rows} />
          <TakeFiles
            title={`${one.name} against ${two.name}`}
            note={`${rows.length} agents`}
            hasFigure
            table={() => [
              [heading(two.name, two.unit ?? ''), heading(one.name, one.unit ?? '')],
              ...rows.map((row) => [two.value(row), one.value(row)]),
            ]}
          />
        </figure>
      )}
    </section>
  );
}

function Names({
  label,
  columns,
  value,
  onChange,
}: {
  readonly label: string;
  readonly columns: readonly Column[];
  readonly value: string;
  readonly onChange: (name: string) => void;
}) {
  return (
    <select aria-label={label} className="word" value={value} onChange={(event) => onChange(event.target.value)}>
      <option value="">nothing</option>
      {columns.slice(1).map((column) => (
        <option key={column.name}>{column.name}</option>
      ))}
    </select>
  );
}

function Scatter({ x, y, rows }: { readonly x: Column; readonly y: Column; readonly rows: readonly number[] }) {
  const shown = rows.slice(0, MOST_POINTS);
  const range = (column: Column): readonly [number, number] => {
    const values = shown.map((row) => column.value(row)).filter(Number.isFinite);
    return [Math.min(...values), Math.max(...values)];
  };
  const [[x0, x1], [y0, y1]] = [range(x), range(y)];
  return (
    <svg
      viewBox="0 0 360 150"
      className="mt-1 w-full max-w-[440px]"
      role="img"
      aria-label={`${y.name} against ${x.name}`}
    >
      <path d="M30 4V132H356" fill="none" stroke="var(--line)" />
      {shown.map((row) => (
        <circle
          key={row}
          cx={34 + ((x.value(row) - x0) / (x1 - x0 || 1)) * 316}
          cy={128 - ((y.value(row) - y0) / (y1 - y0 || 1)) * 118}
          r={1.8}
          fill="var(--color-slate)"
          opacity={0.6}
        />
      ))}
      <text x={30} y={146} fontSize={10.5} fill="var(--faint)">
        {shownNumber(x0)}
      </text>
      <text x={356} y={146} fontSize={10.5} textAnchor="end" fill="var(--faint)">
        {shownNumber(x1)} {x.name}
      </text>
      <text x={26} y={12} fontSize={10.5} textAnchor="end" fill="var(--faint)">
        {shownNumber(y1)}
      </text>
      <text x={26} y={132} fontSize={10.5} textAnchor="end" fill="var(--faint)">
        {shownNumber(y0)}
      </text>
    </svg>
  );
}
