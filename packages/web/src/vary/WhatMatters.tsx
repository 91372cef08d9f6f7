import type { Plan, Sensitivity } from '@vole/core';
import { pairOf, ranked, seedsEach, sensitivitySentences, sensitivityTable } from '@vole/core';
import { ChartFrame } from '../charts/ChartFrame.tsx';
import { IndexBars } from '../charts/IndexBars.tsx';
import { ScreeningChart } from '../charts/ScreeningChart.tsx';
import type { StudyRow } from '../storage/schema.ts';
import { ChoiceWord } from '../words/ChoiceWord.tsx';

interface Props {
  readonly plan: Plan;
  readonly study: StudyRow;
  /** Of the summary, once it is known. */
  readonly answer: Sensitivity | undefined;
  readonly summary: number;
  readonly onSummary: (name: string) => void;
}

/** What the factors of a sampled design do to a summary: bars with intervals, in words, and where they were screened how evenly they act. */
export function WhatMatters({ plan, study, answer, summary, onSummary }: Props) {
  const pair = answer && pairOf(answer);
  const { name } = plan.summaries[summary]!;
  if (!answer || !pair)
    return (
      <div className="card flex flex-[3] items-center justify-center p-6 text-center text-faint">
        What matters is told here once runs of several points are there.
      </div>
    );
  const lights = new Map(pair.light ? ranked(answer, pair.light).map((index) => [index.factor, index]) : []);
  const bars = ranked(answer, pair.dark).map((dark) => ({ name: dark.factor, dark, light: lights.get(dark.factor) }));
  const spreads = new Map(ranked(answer, 'spread of effects').map(({ factor, value }) => [factor, value]));
  return (
    <div className="flex min-h-0 min-w-0 flex-[3] flex-col gap-4">
      <ChartFrame
        className="flex-[3]"
        title={pair.title(name)}
        means={pair.means}
        note={`90 % intervals; of ${answer.points.toLocaleString('en-GB')} points, means of ${seedsEach(study)} ${study.seeds.length === 1 ? 'seed' : 'seeds'}`}
        table={() => sensitivityTable(answer, name)}
      >
        <div className="flex h-full flex-col">
          <label className="text-sm">
            summary{' '}
            <ChoiceWord
              label="Summary"
              value={name}
              options={plan.summaries.map((each) => each.name)}
              onChange={onSummary}
            />
          </label>
          <div className="min-h-0 flex-1">
            <IndexBars bars={bars} darkName={pair.dark} lightName={pair.light} />
          </div>
          <p className="text-sm text-faint">{pair.key}</p>
        </div>
      </ChartFrame>
      <div className="flex min-h-0 flex-[2] gap-4">
        <section aria-label="In words" className="card flex-1 overflow-auto p-4">
          <h2 className="mb-1 text-[16px]">In words</h2>
          {sensitivitySentences(answer, name).map((sentence) => (
            <p key={sentence} className="mb-1">
              {sentence}
            </p>
          ))}
        </section>
        {spreads.size > 0 && (
          <section aria-label="Screening" className="card flex min-h-0 flex-1 flex-col p-4">
            <h2 className="text-[16px]">Screening</h2>
            <div className="min-h-0 flex-1">
              <ScreeningChart
                factors={bars.map(({ name, dark }) => ({ name, size: dark.value, spread: spreads.get(name)! }))}
              />
            </div>
          </section>
        )}
      </div>
    </div>
  );
}
