import type { Plan, RunRow } from '@vole/core';
import { factorWords } from '@vole/core';
import { useState } from 'react';
import type { StudyRow } from '../storage/schema.ts';
import { useAnswer } from '../studies/use-answer.ts';
import { SortHeader } from '../tables/SortHeader.tsx';
import { useWindow } from '../tables/use-window.ts';
import { TABLE_ROW, VirtualTable } from '../tables/VirtualTable.tsx';
import { shownNumber } from '../words/numbers.ts';
import { useOpenPointRun } from './open-point-run.ts';

interface Props {
  readonly plan: Plan;
  readonly study: StudyRow;
  readonly filter: string;
}

/** Every run of a study with its summaries, sorted by any column and filtered where the results are held; only rows near those in sight come to the page. A seed opens its run in Watch. */
export function RunsTable({ plan, study, filter }: Props) {
  const [sort, setSort] = useState<{ readonly by: string; readonly down: boolean }>();
  const { from, count, miss } = useWindow();
  const answered = useAnswer('vary', { is: 'run table', filter, sort, from, count });
  const open = useOpenPointRun(plan, study);
  if (!answered) return <p className="flex-1 text-faint">The runs are being put in order.</p>;
  const { answer, question } = answered;
  const names = study.listed?.names;
  const header = (name: string) => <SortHeader key={name} name={name} by={name} sort={sort} onSort={setSort} />;
  return (
    <>
      <VirtualTable
        label="Runs"
        count={answer.matching}
        head={
          <tr>
            {names && <th className="px-1 font-normal">scenario</th>}
            {study.factors.map(({ parameter }) => header(parameter))}
            {header('seed')}
            {header('steps')}
            {plan.summaries.map(({ name }) => header(name))}
          </tr>
        }
        row={(index) => {
          const row = answer.rows[index - question.from];
          if (!row) miss(index);
          return (
            <tr key={index} style={{ height: TABLE_ROW }} className="border-t border-line hover:bg-wash">
              {row && (
                <>
                  {names && <td className="px-1 whitespace-nowrap">{names[row.place]}</td>}
                  {study.factors.map(({ parameter }, f) => (
                    <td key={parameter} className="px-1 whitespace-nowrap">
                      {factorWords(plan, parameter, row.values[f]!)}
                    </td>
                  ))}
                  <td className="px-1">
                    <button
                      type="button"
                      className="link"
                      title="open this run in Watch"
                      onClick={() => open(pointOf(study, row), row)}
                    >
                      {row.seed}
                    </button>
                  </td>
                  <td className="px-1">{row.steps}</td>
                  {plan.summaries.map(({ name, yesNo }, s) => (
                    <td key={name} className="px-1 whitespace-nowrap">
                      {summaryWords(row.summaries[s]!, yesNo)}
                    </td>
                  ))}
                </>
              )}
            </tr>
          );
        }}
      />
      <p className="text-sm text-faint" data-testid="filtered">
        {filter.trim() === '' ? '' : `${answer.matching.toLocaleString('en-GB')} of `}
        {answer.runs.toLocaleString('en-GB')} runs
      </p>
    </>
  );
}

function pointOf(study: StudyRow, { values, place }: RunRow) {
  const timeline = study.listed?.timelines?.[place];
  return timeline ? { values, timeline } : { values };
}

function summaryWords(value: number, yesNo: boolean): string {
  if (Number.isNaN(value)) return 'never';
  return yesNo ? (value === 0 ? 'no' : 'yes') : shownNumber(value);
}
