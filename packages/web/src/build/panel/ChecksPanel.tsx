import type { CheckOutcome } from '@vole/core';
import { expectationWords } from '@vole/core';
import { useTextPlan } from '../../studies/use-study-plan.ts';
import { useAppSelector } from '../../store/store.ts';
import { useChecksRun } from './checks-run.ts';

/** The checks of the model: simple cases with a known answer, run over their seeds. */
export function ChecksPanel() {
  const plan = useTextPlan();
  const { id = '', text } = useAppSelector((state) => state.project);
  const { state: last, run } = useChecksRun();
  const state = last?.projectId === id ? last : undefined;
  if (!plan) return <p className="text-faint">The checks run when the text has no errors.</p>;
  const { checks } = plan;
  if (checks.length === 0)
    return (
      <p className="text-faint">
        This model has no checks. “check Nobody is lost” with a line “expect always voles is 100 in every run” makes
        one.
      </p>
    );
  const isOfText = state?.text === text;
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
      {state && !isOfText && <p className="mt-2 text-doubt">What follows is of an earlier text.</p>}
      {state?.problem && (
        <p role="alert" className="mt-2 text-problem">
          {state.problem}
        </p>
      )}
      <ul aria-label="Checks" className="mt-2">
        {(state ? state.outcomes : []).map((outcome, i) => (
          <Outcome key={i} outcome={outcome} />
        ))}
        {(!state || isOfText ? checks.slice(state?.outcomes.length ?? 0) : []).map(({ title, seeds }, i) => (
          <li key={`open ${i}`} className="mb-2 text-faint">
            {title}, {seedsWords(seeds)}
          </li>
        ))}
      </ul>
    </div>
  );
}

function Outcome({ outcome: { title, holds, seeds, expectations, failure } }: { readonly outcome: CheckOutcome }) {
  return (
    <li className="mb-2">
      <b className={holds ? 'text-moss' : 'text-problem'}>{holds ? 'holds' : 'does not hold'}</b> {title},{' '}
      {seedsWords(seeds)}
      {failure && (
        <p className="text-problem">
          The run with seed {failure.seed} stopped: {failure.diagnostic.message}
        </p>
      )}
      <ul className="list-disc pl-5 text-sm">
        {expectations.map((expectation) => (
          <li key={expectation.text} className={expectation.holds ? 'text-faint' : ''}>
            {expectationWords(expectation)}
          </li>
        ))}
      </ul>
    </li>
  );
}

function seedsWords(seeds: number): string {
  return `over ${seeds} ${seeds === 1 ? 'seed' : 'seeds'}`;
}
