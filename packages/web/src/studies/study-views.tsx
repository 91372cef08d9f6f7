import type { Plan } from '@vole/core';
import { otherFiles, quotedNames, withoutStudies } from '@vole/core';
import { useReadText } from '../simulation/read-texts.ts';
import type { StudyRow } from '../storage/schema.ts';
import { shownBytes, shownSeconds } from '../words/numbers.ts';
import { runsOfStudy, studyBytes, tooLarge } from './study-design.ts';
import { continueStudy, runAgain, stopStudy, storeAgain } from './study-runner.ts';
import type { StudyKind } from '../store/study-slice.ts';
import { useAppSelector } from '../store/store.ts';

/** In place of a study of a model that measures nothing, which could not be compared with anything. */
export function NothingMeasured({ plan }: { readonly plan: Plan }) {
  const kind = plan.kinds[0]?.name;
  return (
    <div className="card p-4">
      The model measures nothing, so there is nothing to compare between runs.{' '}
      {kind && (
        <>
          Add a line in Build: “measure all_{kind.toLowerCase()} = count {kind}”.
        </>
      )}
    </div>
  );
}

/** How many runs a study has and how much they take up. */
export function sizeWords(runs: number, rowsARun: number, measures: number): string {
  return `${runs.toLocaleString('en-GB')} ${runs === 1 ? 'run' : 'runs'}, ${shownBytes(studyBytes(runs, rowsARun, measures))}`;
}

/** Progress, time left, cancel; going on with what was stopped. */
export function StudyProgress({ kind, plan }: { readonly kind: StudyKind; readonly plan: Plan }) {
  const { study, done, total, failed, unstored, running, secondsLeft, failure } = useAppSelector(
    (state) => state.studies[kind],
  );
  if (!study) return null;
  const problem = tooLarge(runsOfStudy(study), 0);
  return (
    <div className="mt-3" aria-live="polite">
      <div
        role="progressbar"
        aria-label="Runs done"
        aria-valuenow={done}
        aria-valuemin={0}
        aria-valuemax={total}
        className="mb-1 h-1.5 w-full overflow-hidden rounded-full bg-line"
      >
        <div className="h-full rounded-full bg-moss" style={{ width: `${(100 * done) / Math.max(1, total)}%` }} />
      </div>
      <div className="flex items-center justify-between gap-2">
        <span data-testid={`${kind}-progress`}>
          {done} of {study.mostRuns !== undefined && done < total && 'at most '}
          {total} done{failed > 0 ? `, ${failed} of them stopped before their end` : ''}
          {running && secondsLeft !== undefined ? `, ${shownSeconds(secondsLeft)} left` : ''}
        </span>
        {running && (
          <button type="button" className="btn" onClick={() => stopStudy(kind)}>
            {kind === 'match' ? 'Pause' : 'Cancel'}
          </button>
        )}
        {!running && done < total && (
          <button
            type="button"
            className="btn"
            disabled={problem !== undefined}
            title={problem}
            onClick={() => continueStudy(kind, plan)}
          >
            Go on
          </button>
        )}
      </div>
      {failure && (
        <p role="alert" className="mt-2 text-problem">
          {failure} The runs that were finished are kept.
        </p>
      )}
      {!running && unstored > 0 && (
        <p role="alert" className="mt-2 text-problem">
          {unstored} of them are on this page only, as they could not be stored.{' '}
          <button type="button" className="link" onClick={() => storeAgain(kind)}>
            Try again
          </button>
        </p>
      )}
    </div>
  );
}

/** Said where results were made with another text than the one in Build, with a way to run the study again. */
export function StaleNote({ kind }: { readonly kind: StudyKind }) {
  const { study, running } = useAppSelector((state) => state.studies[kind]);
  const { text, files } = useAppSelector((state) => state.project);
  const others = study ? otherFiles(study, files) : [];
  const isOther = study !== undefined && withoutStudies(study.text) !== withoutStudies(text);
  const isStale = isOther || others.length > 0;
  const now = useReadText(isStale ? text : undefined, study?.outcomes)?.loaded?.plan;
  const before = useReadText(isStale && study?.until ? study.text : undefined, study?.outcomes)?.loaded?.plan;
  if (!study || !isStale) return null;
  const plan = now && fits(study, now, before) ? now : undefined;
  return (
    <p className="mt-2 text-doubt">
      {isOther
        ? 'The text has changed since; these runs are of the earlier one.'
        : `${quotedNames(others)} beside the model ${others.length === 1 ? 'has' : 'have'} changed since; these runs are of what was there before.`}{' '}
      {plan && !running && (
        <button type="button" className="link" onClick={() => runAgain(study, text, plan)}>
          run it again with {isOther ? 'the text' : others.length === 1 ? 'the file' : 'the files'} of now
        </button>
      )}
    </p>
  );
}

/** Whether a study can run by the plan of another text: whether its factors, and the summary that tells when it stops, are still there. */
function fits({ factors, until }: StudyRow, now: Plan, before: Plan | undefined): boolean {
  if (!factors.every(({ parameter }) => now.parameters.some(({ name }) => name === parameter))) return false;
  const known = until && before?.summaries[until.summary];
  return !until || known?.name === now.summaries[until.summary]?.name;
}
