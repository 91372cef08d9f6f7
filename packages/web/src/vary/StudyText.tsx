import type { LoadedModel, StudyDefinition } from '@vole/core';
import { applyEdits, keptDefinition, pointCount, readStudy, runCount, variesNothing } from '@vole/core';
import { filesBeside } from '../simulation/beside.ts';
import { useDeferredValue, useMemo } from 'react';
import { downloadText, fileName } from '../files/download.ts';
import { draftStudy } from '../session/session.ts';
import { useAppSelector } from '../store/store.ts';
import { ownValue } from '../store/own-value.ts';
import { pilotWords, usePilot } from '../studies/pilot.ts';
import { beginStudy } from '../studies/study-runner.ts';
import { TextFindings } from '../studies/TextFindings.tsx';
import { sizeWords, StaleNote, StudyProgress } from '../studies/study-views.tsx';
import { studyBytes, tooLarge } from '../studies/study-design.ts';
import { useWatchValues } from '../studies/StudyValues.tsx';
import { shownBytes } from '../words/numbers.ts';
import { withScenario } from '../studies/scenario-wording.ts';
import { StudiesOfText } from './StudiesOfText.tsx';
import { BEGINNINGS, beginningOf } from './study-wording.ts';

interface Props {
  readonly model: LoadedModel;
  /** Goes back to the sentence. */
  readonly onSentence: () => void;
}

/** A study as a text that is written here, checked as it is typed, and run. */
export function StudyText({ model, onSentence }: Props) {
  const { plan } = model;
  const { study, running } = useAppSelector((state) => state.studies.vary);
  const { id, text } = useAppSelector((state) => state.project);
  const stepLimit = useAppSelector((state) => state.model.stepLimit);
  const draft = useAppSelector((state) => state.project.studyDraft);
  const ofWatch = useWatchValues(plan);
  // What is typed goes first; the text is read when there is time.
  const settled = useDeferredValue(draft);
  const { study: read, diagnostics } = useMemo(
    () => readStudy(settled, { text, files: filesBeside(), loaded: model }),
    [settled, text, model],
  );
  const values = plan.parameters.map(({ name, value }) => ownValue(read?.setting.parameters ?? {}, name) ?? value);
  const steps = Math.min(read?.setting.steps ?? Infinity, stepLimit);
  const pilot = usePilot(text, values, steps, read !== undefined && !running);
  const recordBytes = read?.setting.records ? (pilot?.recordBytes ?? 0) : 0;
  const problem = read && problemOf(read, stepLimit, plan.measures.length, recordBytes);
  const begin = (): void =>
    read &&
    beginStudy(
      {
        ...keptDefinition(read, plan.parameters),
        projectId: id!,
        kind: 'vary',
        text,
        wording: settled,
      },
      plan,
    );
  return (
    <section aria-label="Study" className="card p-4">
      <textarea
        aria-label="Text of the study"
        className="h-56 w-full resize-y rounded border border-line bg-ground p-2 font-mono text-[13px] leading-5 whitespace-pre-wrap"
        spellCheck={false}
        value={draft}
        // Emptied it is still a text: only the link below goes back to the sentence.
        onChange={(event) => draftStudy(event.target.value || '\n')}
      />
      <p className="flex flex-wrap gap-x-3 text-sm">
        <button type="button" className="link" onClick={onSentence}>
          as a sentence
        </button>
        <button
          type="button"
          className="link"
          onClick={() => downloadText(fileName(read?.name ?? 'study', 'study'), draft, 'text/plain')}
        >
          as a file
        </button>
        {study?.wording !== undefined && study.wording !== draft && (
          <button type="button" className="link" onClick={() => draftStudy(study.wording!)}>
            text of “{study.name}”
          </button>
        )}
        {Object.keys(ofWatch).length > 0 && (
          <button
            type="button"
            className="link"
            onClick={() => draftStudy(withScenario(draft, plan, 'As in Watch', ofWatch))}
          >
            values of Watch as a scenario
          </button>
        )}
      </p>
      <p className="mt-1 text-sm text-faint">
        begin with{' '}
        {BEGINNINGS.map((beginning, i) => (
          <span key={beginning}>
            {i > 0 && ', '}
            <button type="button" className="link" onClick={() => draftStudy(beginningOf(plan, beginning))}>
              {beginning}
            </button>
          </span>
        ))}
      </p>
      <StudiesOfText model={model} written={read && settled} />
      {diagnostics.length > 0 ? (
        <TextFindings
          text={settled}
          diagnostics={diagnostics}
          onFix={(fix) => draftStudy(applyEdits(settled, fix.edits))}
        />
      ) : problem ? (
        <p role="alert" className="mt-1 text-problem">
          {problem}
        </p>
      ) : (
        read && (
          <p className="mt-1 text-sm text-faint" data-testid="study-size">
            {pointCount(read.setting.design).toLocaleString('en-GB')} points, {read.until && 'at most '}
            {sizeWords(runCount(read.setting.design), rowsOf(read, stepLimit), plan.measures.length)}
            {read.setting.records &&
              pilot &&
              `, records about ${shownBytes(recordBytes * runCount(read.setting.design))}`}
            {read.setting.design.ownSeeds ? '; each point has seeds of its own' : '; the same seeds at each point'}
            {pilot && <span data-testid="pilot">; {pilotWords(pilot, runCount(read.setting.design))}</span>}
          </p>
        )
      )}
      <button
        type="button"
        className="btn-strong mt-2"
        disabled={running || !read || problem !== undefined || (read.setting.records === true && pilot === undefined)}
        onClick={begin}
      >
        {read && !problem ? `Run ${runCount(read.setting.design).toLocaleString('en-GB')} runs` : 'Run'}
      </button>
      <StudyProgress kind="vary" plan={plan} />
      <StaleNote kind="vary" />
    </section>
  );
}

function rowsOf({ setting }: StudyDefinition, stepLimit: number): number {
  return Math.min(setting.steps ?? Infinity, stepLimit) / setting.every + 1;
}

/** Why a study cannot run on the page, if it cannot. */
function problemOf(
  read: StudyDefinition,
  stepLimit: number,
  measures: number,
  recordBytes: number,
): string | undefined {
  const { design } = read.setting;
  if (variesNothing(design))
    return 'It varies nothing: write “vary” with a parameter, or scenarios; Repeat runs the model with many seeds.';
  const runs = runCount(design);
  return tooLarge(runs, studyBytes(runs, rowsOf(read, stepLimit), measures) + runs * recordBytes);
}
