import type { Plan } from '@vole/core';
import { recordColumns } from '@vole/core';
import { useContext, useState } from 'react';
import { TakenOf } from '../files/taken-of.ts';
import type { TableForm } from '../files/table-file.ts';
import { csvFile, factsOf, parquetFile } from '../files/table-file.ts';
import { TakeFiles } from '../files/TakeFiles.tsx';
import { askRecord } from '../studies/answers.ts';
import { SortHeader } from '../tables/SortHeader.tsx';
import { useWindow } from '../tables/use-window.ts';
import { TABLE_ROW, VirtualTable } from '../tables/VirtualTable.tsx';
import { shownNumber } from '../words/numbers.ts';
import type { RecordPart } from './RecordsView.tsx';
import { useRecord } from './use-record.ts';

/** Every row of a record of one run, sorted by any column; only rows near those in sight come to the page. */
export function RecordTable({ plan, record, run, title }: RecordPart) {
  const of = useContext(TakenOf);
  const [sort, setSort] = useState<{ readonly by: number; readonly down: boolean }>();
  const { from, count, miss } = useWindow();
  const answered = useRecord(run, {
    is: 'rows',
    ...(sort ? { sort: { column: sort.by, down: sort.down } } : {}),
    from,
    count,
  });
  const columns = recordColumns(plan, plan.records[record]!);
  if (!answered) return <p className="card p-4 text-faint">The record is being read.</p>;
  if ('problem' in answered)
    return (
      <p role="alert" className="card p-4 text-problem">
        {answered.problem}
      </p>
    );
  const { answer, question } = answered;
  const about = [...(of?.lines ?? []), title];
  const file = async (form: TableForm): Promise<Blob> =>
    form === 'csv'
      ? csvFile(await askRecord(run, { is: 'csv', seed: run.seed }), about)
      : parquetFile(await askRecord(run, { is: 'parquet', seed: run.seed, facts: factsOf(about) }));
  const header = (name: string, column: number) => (
    <SortHeader key={column} name={name} by={column} sort={sort} onSort={setSort} />
  );
  return (
    <section aria-label={title} className="card flex min-h-0 flex-1 flex-col p-4">
      <header className="flex flex-wrap items-baseline justify-between gap-x-3">
        <h2 className="text-[17px]">{title}</h2>
        <span className="text-sm text-faint">
          {answer.count.toLocaleString('en-GB')} rows <TakeFiles title={title} table={file} />
        </span>
      </header>
      <VirtualTable
        label="Rows of the record"
        count={answer.count}
        head={
          <tr>
            {header('step', -1)}
            {columns.map(({ name, unitLabel }, c) => header(unitLabel ? `${name}, ${unitLabel}` : name, c))}
          </tr>
        }
        row={(index) => {
          const row = answer.rows[index - question.from];
          if (!row) miss(index);
          return (
            <tr key={index} style={{ height: TABLE_ROW }} className="border-t border-line hover:bg-wash">
              {row?.map((value, c) => (
                <td key={c} className="px-2 whitespace-nowrap">
                  {cellWords(plan, record, c - 1, value)}
                </td>
              ))}
            </tr>
          );
        }}
      />
    </section>
  );
}

function cellWords(plan: Plan, record: number, column: number, value: number): string {
  if (column < 0) return String(value);
  const { options, agentOf } = recordColumns(plan, plan.records[record]!)[column]!;
  if (agentOf !== undefined) return value > 0 ? String(value) : 'nobody';
  return options?.[value] ?? shownNumber(value);
}
