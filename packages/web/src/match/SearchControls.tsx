import type { MatchDefinition, Plan, PosteriorAnswer } from '@vole/core';
import { otherFiles, searchWords } from '@vole/core';
import { store, useAppSelector } from '../store/store.ts';
import { pilotWords, usePilot } from '../studies/pilot.ts';
import { studyBytes, tooLarge } from '../studies/study-design.ts';
import { beginStudy, searchOn } from '../studies/study-runner.ts';
import { sizeWords, StaleNote, StudyProgress } from '../studies/study-views.tsx';
import { ownValue } from '../store/own-value.ts';
import type { StudyRow } from '../storage/schema.ts';
import { shownNumber } from '../words/numbers.ts';
import type { ReadText } from './use-match.ts';

interface Props {
  readonly plan: Plan;
  readonly read: ReadText;
  readonly match: MatchDefinition;
  readonly posterior: PosteriorAnswer | undefined;
}

/** Begins a search for what agrees, pauses it, goes on, or goes on by another text with the runs that are there. */
export function SearchControls({ plan, read, match, posterior }: Props) {
  const { id, text } = useAppSelector((state) => state.project);
  const { study, running, done } = useAppSelector((state) => state.studies.match);
  const stepLimit = useAppSelector((state) => state.model.stepLimit);
  const { search } = match;
  const values = plan.parameters.map(({ name, value }) => ownValue(match.parameters, name) ?? value);
  const steps = Math.min(match.steps ?? Infinity, stepLimit);
  const pilot = usePilot(text, values, steps, search !== undefined && !running);
  if (!search) return study ? <StudyProgress kind="match" plan={plan} /> : null;
  const parts = {
    name: match.name,
    wording: read.text,
    observed: { ...read.tables },
    factors: match.unknowns.map(({ parameter }) => ({ parameter, values: [] })),
    seeds: [search.luck],
    mostRuns: search.mostRuns,
    ...(match.note ? { notes: match.note } : {}),
  };
  const parameters = Object.fromEntries(plan.parameters.map(({ name }, i) => [name, values[i]!]));
  const isSame = study?.wording === read.text && sameTables(study.observed, read.tables);
  const canGoOn = study !== undefined && goesOnWith(study, text, parameters, match.steps);
  const problem = tooLarge(search.mostRuns, studyBytes(search.mostRuns, steps + 1, plan.measures.length));
  const begin = (): void => {
    // A second click that comes before the page is drawn anew begins nothing.
    if (store.getState().studies.match.running) return;
    beginStudy({ projectId: id!, kind: 'match', text, every: 1, steps: match.steps, parameters, ...parts }, plan);
  };
  return (
    <div className="mt-2">
      {problem ? (
        <p role="alert" className="text-problem">
          {problem}
        </p>
      ) : (
        !running &&
        !(isSame && canGoOn) && (
          <p className="text-sm text-faint" data-testid="search-size">
            at most {sizeWords(search.mostRuns, steps + 1, plan.measures.length)}
            {pilot && `; ${pilotWords(pilot, search.mostRuns)}`}
          </p>
        )
      )}
      {!running && !(isSame && canGoOn) && (
        <div className="mt-2 flex flex-wrap gap-2">
          {canGoOn && (
            <button
              type="button"
              className="btn-strong"
              disabled={problem !== undefined}
              onClick={() => searchOn(parts, plan)}
            >
              Go on by this text
            </button>
          )}
          <button
            type="button"
            className={canGoOn ? 'btn' : 'btn-strong'}
            disabled={problem !== undefined}
            onClick={begin}
          >
            {study ? 'Search anew' : 'Search'}
          </button>
        </div>
      )}
      {!running && !isSame && canGoOn && done > 0 && (
        <p className="mt-1 text-sm text-doubt">
          The text has changed since this search; going on uses its {done.toLocaleString('en-GB')} runs again where it
          asks for them.
        </p>
      )}
      {study && <StudyProgress kind="match" plan={plan} />}
      {posterior?.found && (
        <p className="text-sm text-faint" data-testid="search-state">
          {posterior.isDone ? '' : 'so far: '}
          {searchWords(posterior.found)}
        </p>
      )}
      {posterior?.best && (
        <p className="text-sm text-faint" data-testid="search-state">
          {posterior.isDone ? '' : 'so far: '}
          {posterior.best.generations} {posterior.best.generations === 1 ? 'generation' : 'generations'}; it looks{' '}
          {shownNumber(posterior.best.reach, 2)} standard deviations of the priors around its best point
        </p>
      )}
      {posterior && posterior.runs < done && (
        <p className="text-sm text-faint">
          {posterior.runs.toLocaleString('en-GB')} of the runs serve this text, the others one that was there before
        </p>
      )}
      {posterior?.problem && (
        <p role="alert" className="mt-1 text-problem">
          Nothing was found: {posterior.problem}.
        </p>
      )}
      <StaleNote kind="match" />
    </div>
  );
}

/** Whether runs of a search serve another one: those of the same model with the same values beside what is sought. */
function goesOnWith(
  study: StudyRow,
  text: string,
  parameters: Readonly<Record<string, number>>,
  steps: number | undefined,
): boolean {
  const names = Object.keys(parameters);
  return (
    study.text === text &&
    otherFiles(study, store.getState().project.files).length === 0 &&
    study.steps === steps &&
    names.every((name) => ownValue(study.parameters, name) === parameters[name])
  );
}

function sameTables(a: Readonly<Record<string, string>> | undefined, b: Readonly<Record<string, string>>): boolean {
  const names = Object.keys(b);
  return names.length === Object.keys(a ?? {}).length && names.every((name) => a?.[name] === b[name]);
}
