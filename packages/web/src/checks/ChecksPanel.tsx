import type { CheckOutcome, FailedRun, Plan } from '@vole/core';
import { expectationWords } from '@vole/core';
import { useState } from 'react';
import { useNavigate } from 'react-router';
import { Bars } from '../charts/Bars.tsx';
import { changeText } from '../session/session.ts';
import { openRun } from '../simulation/open-run.ts';
import { useTextRead } from '../studies/use-study-plan.ts';
import { useAppSelector } from '../store/store.ts';
import { checkTemplates, withCheck } from './check-templates.ts';
import { areChecksOf, useChecksRun } from './checks-run.ts';

/** The checks of the model: simple cases with a known answer, run over their seeds. */
export function ChecksPanel() {
  const read = useTextRead();
  // While a text is read, the checks of the one before stay on show.
  const [last, setLast] = useState(read);
  if (read && read !== last) setLast(read);
  const plan = (read ?? last)?.loaded?.plan;
  const { id = '', text, files } = useAppSelector((state) => state.project);
  const { state, run } = useChecksRun();
  if (!read && !last) return null;
  if (!plan) return <p className="text-faint">The checks run when the text has no errors.</p>;
  const { checks } = plan;
  if (checks.length === 0)
    return (
      <div>
        <p className="text-faint">This model has no checks: simple cases whose answer is known.</p>
        <Templates plan={plan} text={text} />
      </div>
    );
  const isOfText = state !== undefined && areChecksOf(state, text, files);
  const runs = checks.reduce((sum, check) => sum + check.seeds, 0);
  return (
    <div>
      <p className="flex flex-wrap items-baseline gap-x-4">
        {state?.isRunning ? (
          <button type="button" className="btn" onClick={() => run.stop()}>
            Stop
          </button>
        ) : (
          <button type="button" className="btn" onClick={() => run.start(id, text)}>
            Run the checks
          </button>
        )}
        <span className="text-sm text-faint" data-testid="checks-progress">
          {state?.isRunning
            ? `${state.outcomes.length} of ${checks.length} done`
            : `${checks.length} ${checks.length === 1 ? 'check' : 'checks'}, ${runs} runs`}
        </span>
      </p>
      {state && !isOfText && (
        <p className="mt-2 text-doubt">
          What follows is of{' '}
          {state.text === text ? 'files beside the model that have changed since' : 'an earlier text'}.
        </p>
      )}
      {state?.problem && (
        <p role="alert" className="mt-2 text-problem">
          {state.problem}
        </p>
      )}
      <ul aria-label="Checks" className="mt-2">
        {(state ? state.outcomes : []).map((outcome, i) => (
          <Outcome key={i} outcome={outcome} plan={plan} text={state!.text} />
        ))}
        {(!state || isOfText ? checks.slice(state?.outcomes.length ?? 0) : []).map(({ title, seeds }, i) => (
          <li key={`open ${i}`} className="mb-2 text-faint">
            {title}, {seedsWords(seeds)}
          </li>
        ))}
      </ul>
      <Templates plan={plan} text={text} />
    </div>
  );
}

/** Checks to begin with, in the words of the model; a click writes one at the end of the text. */
function Templates({ plan, text }: { readonly plan: Plan; readonly text: string }) {
  const templates = checkTemplates(plan);
  if (templates.length === 0) return null;
  return (
    <p className="mt-2 text-sm text-faint">
      begin one:{' '}
      {templates.map(({ name, text: check }, i) => (
        <span key={name}>
          {i > 0 && ', '}
          <button type="button" className="link" onClick={() => changeText(withCheck(text, check))}>
            {name}
          </button>
        </span>
      ))}
    </p>
  );
}

interface OutcomeProps {
  readonly outcome: CheckOutcome;
  readonly plan: Plan;
  /** The text whose check it is. */
  readonly text: string;
}

function Outcome({ outcome, plan, text }: OutcomeProps) {
  const { title, holds, seeds, parameters, expectations, failure } = outcome;
  const id = useAppSelector((state) => state.project.id);
  const navigate = useNavigate();
  const open = ({ seed, step = 0 }: FailedRun): void => {
    const values = Object.fromEntries(plan.parameters.map(({ name }, i) => [name, parameters[i]!]));
    openRun({ text, parameters: values }, plan, { seed, steps: step }, step);
    void navigate(`/project/${id}/watch`);
  };
  return (
    <li className="mb-2">
      <b className={holds ? 'text-moss' : 'text-problem'}>{holds ? 'holds' : 'does not hold'}</b> {title},{' '}
      {seedsWords(seeds)}
      {failure && (
        <p className="text-problem">
          The run with seed {failure.seed} stopped: {failure.diagnostic.message}{' '}
          <button type="button" className="link" onClick={() => open({ seed: failure.seed })}>
            watch it
          </button>
        </p>
      )}
      <ul className="list-disc pl-5 text-sm">
        {expectations.map((expectation) => (
          <li key={expectation.text} className={expectation.holds ? 'text-faint' : ''}>
            {expectationWords(expectation)}
            {expectation.against.length > 0 && (
              <span className="flex flex-wrap gap-x-2">
                {expectation.against
                  .filter(({ step }) => step !== undefined)
                  .map((run) => (
                    <button key={run.seed} type="button" className="link" onClick={() => open(run)}>
                      seed {run.seed} at step {run.step}
                    </button>
                  ))}
              </span>
            )}
            {expectation.bounds && new Set(expectation.values).size > 1 && (
              <Bars
                title="over the runs; dark: the bounds"
                values={expectation.values.filter((value) => !Number.isNaN(value))}
                unit=""
                marks={[expectation.bounds.low, expectation.bounds.high].filter(Number.isFinite)}
                width={280}
              />
            )}
          </li>
        ))}
      </ul>
    </li>
  );
}

function seedsWords(seeds: number): string {
  return `over ${seeds} ${seeds === 1 ? 'seed' : 'seeds'}`;
}
