import { Meaning } from '../manual/Meaning.tsx';
import { recordColumns, seriesColour, stepWords } from '@vole/core';
import { useState } from 'react';
import { BandsChart } from '../charts/BandsChart.tsx';
import { Bars } from '../charts/Bars.tsx';
import { tableOfBands } from '../charts/bands-table.ts';
import { ChartFrame } from '../charts/ChartFrame.tsx';
import { useAppSelector } from '../store/store.ts';
import { ChoiceWord } from '../words/ChoiceWord.tsx';
import type { RecordPart } from './RecordsView.tsx';
import { useRecord } from './use-record.ts';

/** The values of a column of a record over time, and as a histogram at any step. */
export function RecordOverTime({ plan, record, run, steps, title }: RecordPart) {
  const theme = useAppSelector((state) => state.interface.theme);
  const all = recordColumns(plan, plan.records[record]!);
  const columns = all.flatMap(({ agentOf }, c) => (agentOf === undefined ? [c] : []));
  // Of cells their value, which stands after where they lie.
  const [wish, setColumn] = useState(columns.at(plan.records[record]!.field === undefined ? 0 : -1));
  const [step, setStep] = useState(steps);
  const column = wish ?? 0;
  const course = useRecord(run, { is: 'over time', column });
  const values = useRecord(run, { is: 'values', column, step });
  if (wish === undefined)
    return <p className="card p-4 text-faint">This record holds nothing but who met, which is shown as a network.</p>;
  if (!course || !values) return <p className="card p-4 text-faint">The record is being read.</p>;
  if ('problem' in course || 'problem' in values)
    return (
      <p role="alert" className="card p-4 text-problem">
        {'problem' in course ? course.problem : (values as { problem: string }).problem}
      </p>
    );
  const { name, unitLabel, options } = all[column]!;
  const bands = course.answer;
  const { kind, field } = plan.records[record]!;
  const who = kind >= 0 ? 'agents' : field === undefined ? 'meetings' : 'cells';
  const found = values.answer;
  return (
    <div className="flex min-h-0 flex-1 gap-4">
      <ChartFrame
        className="flex-[3]"
        title={`${name}, ${title}`}
        note={`line: median; bands: 50 % and 90 % of the ${who} of each recorded step; one run`}
        table={() => tableOfBands(plan, unitLabel, bands)}
      >
        <div className="flex h-full flex-col">
          <label className="text-sm">
            values of{' '}
            <ChoiceWord
              label="Values of"
              value={name}
              options={columns.map((c) => all[c]!.name)}
              onChange={(chosen) => setColumn(columns.find((c) => all[c]!.name === chosen))}
            />
          </label>
          <div className="min-h-0 flex-1">
            {bands && <BandsChart plan={plan} groups={[{ name, colour: seriesColour(0, theme), bands }]} />}
          </div>
        </div>
      </ChartFrame>
      <section aria-label="Values at a step" className="card flex-[2] overflow-auto p-4">
        <h2 className="text-[17px]">
          {name} at a step <Meaning of="values-over-agents" />
        </h2>
        <input
          type="range"
          aria-label="Step of the values"
          className="w-full accent-moss"
          min={0}
          max={steps}
          value={step}
          onChange={(event) => setStep(Number(event.target.value))}
        />
        <p>
          {stepWords(plan, found.step)}, {found.values.length.toLocaleString('en-GB')} {who}
        </p>
        <Bars title={name} values={found.values} unit={unitLabel} {...(options ? { options } : {})} />
      </section>
    </div>
  );
}
