import type { Plan, PointAnswer, RunKey } from '@vole/core';
import { categoriesOf, factorWords } from '@vole/core';
import { useMemo, useState } from 'react';
import type { StudyRow } from '../storage/schema.ts';
import { useAnswer } from '../studies/use-answer.ts';
import { ChoiceWord } from '../words/ChoiceWord.tsx';
import { PointsTable } from './PointsTable.tsx';
import { RunButtons } from './RunButtons.tsx';
import { RunsTable } from './RunsTable.tsx';

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

const BY_POINT = 'every point';
const BY_RUN = 'every run';
const byFactor = (parameter: string): string => `each value of ${parameter}`;

/** The results of a study as a table: a row a point, a value of one factor, or a run. A row of points leads to those points, a point to its runs. */
export function StudyTable({ plan, study, points, group, summary, picked, onPick }: Props) {
  const { name, yesNo, unitLabel } = plan.summaries[summary]!;
  const [each, setEach] = useState(BY_POINT);
  const [filter, setFilter] = useState('');
  const all = useMemo(() => study.factors.map(({ parameter }) => parameter), [study]);
  const by = all.map(byFactor).indexOf(each);
  const groups = useAnswer('vary', by >= 0 ? { is: 'groups', by: [by] } : undefined);
  const factors = useMemo(() => (by < 0 ? all : [all[by]!]), [all, by]);
  const rows = by < 0 ? points : groups && groups.question.by[0] === by ? groups.answer : [];
  const lead = (place: number): void => {
    const [value] = rows[place]!.values;
    const parameter = all[by]!;
    const isWord = categoriesOf(plan, parameter) !== undefined;
    setFilter(`${parameter} ${isWord ? factorWords(plan, parameter, value!) : `is ${value}`}`);
    setEach(BY_POINT);
  };
  return (
    <section aria-label="Combinations" className="card flex min-h-0 min-w-0 flex-[2] flex-col p-4">
      <header className="flex flex-wrap items-baseline justify-between gap-x-3">
        <h2 className="text-[17px]">
          {each === BY_RUN ? 'summaries' : name}
          {each === BY_RUN ? '' : `, ${yesNo ? 'share of runs' : `mean${unitLabel ? `, ${unitLabel}` : ''}`}`}
        </h2>
        <label className="text-sm">
          a row for{' '}
          <ChoiceWord
            label="A row for"
            value={each}
            options={[BY_POINT, ...(all.length > 1 ? all.map(byFactor) : []), BY_RUN]}
            onChange={setEach}
          />
        </label>
        {points.length > 1 && (
          <input
            aria-label="Filter"
            className="word w-40 text-sm"
            placeholder={all.length > 0 ? `filter: ${all[0]!} > 2` : 'filter: words'}
            value={filter}
            onChange={(event) => setFilter(event.target.value)}
          />
        )}
      </header>
      {each === BY_RUN ? (
        <RunsTable key={study.id} plan={plan} study={study} filter={filter} />
      ) : (
        <>
          <PointsTable
            key={each}
            plan={plan}
            study={study}
            points={rows}
            factors={factors}
            summary={summary}
            filter={filter}
            picked={by < 0 ? picked : undefined}
            onPick={by < 0 ? onPick : lead}
          />
          <RunButtons plan={plan} study={study} point={points[picked]} runs={group} />
        </>
      )}
    </section>
  );
}
