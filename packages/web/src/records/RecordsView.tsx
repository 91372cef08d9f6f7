import type { Plan, RunKey } from '@vole/core';
import { agentPairs } from '@vole/core';
import { useState } from 'react';
import type { StudyRow } from '../storage/schema.ts';
import type { RecordOfRun } from '../studies/answers.ts';
import { ChoiceWord } from '../words/ChoiceWord.tsx';
import { NetworkOfRecord } from './NetworkOfRecord.tsx';
import { RecordOverTime } from './RecordOverTime.tsx';
import { RecordTable } from './RecordTable.tsx';

interface Props {
  readonly plan: Plan;
  readonly study: StudyRow;
  /** Runs that are finished, in the order of their seeds. */
  readonly runs: readonly RunKey[];
  readonly point: string;
}

/** What every part of the view looks at. */
export interface RecordPart {
  readonly plan: Plan;
  readonly record: number;
  readonly run: RecordOfRun;
  readonly steps: number;
  readonly title: string;
}

/** What the runs of a study recorded of single agents and meetings: as a table, over time, as a network. */
export function RecordsView({ plan, study, runs, point }: Props) {
  const names = plan.records.map(({ name }, i) =>
    plan.records.findIndex((other) => other.name === name) === i ? name : `${name} ${i + 1}`,
  );
  const [name, setName] = useState(names[0]!);
  const [seed, setSeed] = useState(runs[0]!.seed);
  const record = Math.max(0, names.indexOf(name));
  const pairs = agentPairs(plan, plan.records[record]!);
  const forms = [...(pairs.length > 0 ? ['network'] : []), 'over time', 'table'];
  const [wish, setForm] = useState('network');
  const form = forms.includes(wish) ? wish : forms[0]!;
  const run = runs.find((each) => each.seed === seed) ?? runs[0]!;
  const part: RecordPart = {
    plan,
    record,
    run: { study: study.id, record, point, seed: run.seed },
    steps: run.steps,
    title: `${names[record]!}, seed ${run.seed}`,
  };
  return (
    <div className="flex min-h-0 min-w-0 flex-1 flex-col gap-2">
      <p className="flex flex-wrap gap-x-6">
        <label>
          record <ChoiceWord label="Record" value={names[record]!} options={names} onChange={setName} />
        </label>
        <label>
          as <ChoiceWord label="Form of the record" value={form} options={forms} onChange={setForm} />
        </label>
        <label>
          of seed{' '}
          <ChoiceWord
            label="Seed of the record"
            value={String(run.seed)}
            options={runs.map((each) => String(each.seed))}
            onChange={(chosen) => setSeed(Number(chosen))}
          />
        </label>
      </p>
      {form === 'network' ? (
        <NetworkOfRecord key={record} {...part} pairs={pairs} others={runs} />
      ) : form === 'over time' ? (
        <RecordOverTime key={record} {...part} />
      ) : (
        <RecordTable key={record} {...part} />
      )}
    </div>
  );
}
