import { Meaning } from '../manual/Meaning.tsx';
import type { AnswerTo, RunKey } from '@vole/core';
import { useState } from 'react';
import { useAnswerList } from '../studies/use-answer.ts';
import { shownNumber } from '../words/numbers.ts';

type Outcome = AnswerTo<{ readonly is: 'outcome'; readonly condition: string }>;

interface Props {
  readonly onOpen: (run: RunKey) => void;
  /** Shows the courses of the runs in which a condition holds apart from the others. */
  readonly onSplit: (condition: string) => void;
}

/** Conditions over a run that the modeler asks for, each with its chance and the first runs in which it holds. */
export function OutcomesAsked({ onOpen, onSplit }: Props) {
  const [conditions, setConditions] = useState<readonly string[]>([]);
  const [draft, setDraft] = useState('');
  const answers = useAnswerList(
    'repeat',
    conditions.map((condition) => ({ is: 'outcome' as const, condition })),
  );
  const ask = (): void => {
    const condition = draft.trim();
    if (condition !== '' && !conditions.includes(condition)) setConditions([...conditions, condition]);
    setDraft('');
  };
  return (
    <section aria-label="Outcomes" className="card p-4">
      <h2 className="mb-1 text-[16px]">
        How often does it happen? <Meaning of="shares-of-runs" />
      </h2>
      <form
        className="flex items-baseline gap-2"
        onSubmit={(event) => {
          event.preventDefault();
          ask();
        }}
      >
        <input
          aria-label="Condition"
          className="word min-w-0 flex-1 font-mono text-[13px]"
          placeholder="max of voles > 900"
          value={draft}
          onChange={(event) => setDraft(event.target.value)}
        />
        <button type="submit" className="btn" disabled={draft.trim() === ''}>
          Ask
        </button>
      </form>
      {conditions.map((condition, i) => (
        <div key={condition} className="mt-2 border-t border-line pt-1">
          <p className="flex justify-between gap-2">
            <code className="min-w-0 text-[13px] break-words">{condition}</code>
            <button
              type="button"
              className="link text-sm whitespace-nowrap"
              aria-label={`Leave out ${condition}`}
              onClick={() => setConditions(conditions.filter((other) => other !== condition))}
            >
              leave out
            </button>
          </p>
          {answers[i] && <OutcomeWords outcome={answers[i]} onOpen={onOpen} />}
          {answers[i] && 'yes' in answers[i] && answers[i].yes > 0 && answers[i].yes < answers[i].share.runs && (
            <button type="button" className="link text-sm" onClick={() => onSplit(condition)}>
              show both kinds of runs apart
            </button>
          )}
        </div>
      ))}
    </section>
  );
}

function OutcomeWords({ outcome, onOpen }: { readonly outcome: Outcome; readonly onOpen: (run: RunKey) => void }) {
  if ('problem' in outcome)
    return (
      <p role="alert" className="text-problem">
        {outcome.problem}
      </p>
    );
  const { share, yes, never, every, first } = outcome;
  const percent = (x: number): string => shownNumber(100 * x, 2);
  return (
    <p>
      <b>
        {yes} of {share.runs}
      </b>
      {share.runs > 0 && (
        <span className="text-sm text-faint">
          , chance {percent(share.low)} to {percent(share.high)} %
        </span>
      )}
      {never > 0 && <span className="text-sm text-doubt">; neither yes nor no in {never}</span>}
      {every > 1 && <span className="text-sm text-doubt">; of the rows kept every {every} steps</span>}
      {first.length > 0 && (
        <span className="block text-sm text-faint">
          in Watch, by seed:{' '}
          {first.map((run) => (
            <button key={run.seed} type="button" className="link mr-2" onClick={() => onOpen(run)}>
              {run.seed}
            </button>
          ))}
        </span>
      )}
    </p>
  );
}
