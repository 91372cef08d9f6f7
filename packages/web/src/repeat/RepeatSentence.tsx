import type { Plan, StoppingRule } from '@vole/core';
import { otherFiles } from '@vole/core';
import { useState } from 'react';
import { shownBytes, shownNumber } from '../words/numbers.ts';
import { beginStudy, continueStudy } from '../studies/study-runner.ts';
import { ownValue } from '../store/own-value.ts';
import { useAppSelector } from '../store/store.ts';
import { studyBytes, tooLarge } from '../studies/study-design.ts';
import { pilotWords, usePilot } from '../studies/pilot.ts';
import { EditableWord } from '../words/EditableWord.tsx';
import { readCount } from '../words/read-count.ts';
import { NothingMeasured, sizeWords, StaleNote, StudyProgress } from '../studies/study-views.tsx';
import { StudyValues, useStudyValues } from '../studies/StudyValues.tsx';
import { SeedsWanted } from './SeedsWanted.tsx';

/** What is run, as a sentence: how many seeds, what is kept, with which values; its size and time before it starts. */
export function RepeatSentence({ plan }: { readonly plan: Plan | undefined }) {
  const { study, running, done } = useAppSelector((state) => state.studies.repeat);
  const { id, text, files } = useAppSelector((state) => state.project);
  const stepLimit = useAppSelector((state) => state.model.stepLimit);
  const [count, setCount] = useState<number>();
  const [untilWish, setUntil] = useState<StoppingRule | undefined>(study?.until);
  const [every, setEvery] = useState<number>();
  const [wantsRecords, setWantsRecords] = useState(study?.records ?? false);
  const [problem, setProblem] = useState<string>();
  const { all, taken, take } = useStudyValues(plan);
  const pilot = usePilot(
    text,
    plan?.parameters.map(({ name, value }) => ownValue(all, name) ?? value) ?? [],
    stepLimit,
    plan !== undefined && !running,
  );
  if (!plan)
    return <div className="card p-4 text-problem">The text has errors. Mend them in Build, then repeat it.</div>;
  if (plan.measures.length === 0) return <NothingMeasured plan={plan} />;
  // The text may have changed since, and with it its summaries.
  const until = untilWish && plan.summaries[untilWish.summary]?.yesNo === false ? untilWish : undefined;
  const seeds = until ? until.most : (count ?? 40);
  const kept = every ?? study?.every ?? 1;
  const setKept = (text: string): void => {
    const count = readCount(text, 100_000, 'Steps');
    setProblem(typeof count === 'number' ? undefined : count.problem);
    if (typeof count === 'number') setEvery(count);
  };
  const records = wantsRecords && plan.records.length > 0;
  const isSame =
    study?.text === text &&
    otherFiles(study, files).length === 0 &&
    !study.until &&
    !until &&
    study.every === kept &&
    (study.records ?? false) === records &&
    plan.parameters.every(({ name, value }) => (ownValue(study.parameters, name) ?? value) === all[name]);
  const recordBytes = records ? seeds * (pilot?.recordBytes ?? 0) : 0;
  const tooMuch = tooLarge(seeds, studyBytes(seeds, stepLimit / kept + 1, plan.measures.length) + recordBytes);
  const begin = (): void =>
    beginStudy(
      {
        projectId: id!,
        kind: 'repeat',
        name: until
          ? `${plan.summaries[until.summary]!.name} within ${shownNumber(until.share * 100)} %`
          : `${seeds} ${seeds === 1 ? 'seed' : 'seeds'}`,
        text,
        seeds: Array.from({ length: seeds }, (_, i) => i + 1),
        every: kept,
        parameters: all,
        factors: [],
        ...(records ? { records } : {}),
        ...(until ? { until } : {}),
      },
      plan,
    );
  const more = (): void =>
    continueStudy('repeat', plan, [
      ...study!.seeds,
      ...Array.from({ length: seeds }, (_, i) => study!.seeds.reduce((a, b) => Math.max(a, b)) + 1 + i),
    ]);
  return (
    <section aria-label="Study" className="card p-4">
      <p className="font-title text-[17px] leading-8">
        Run{' '}
        <SeedsWanted
          plan={plan}
          seeds={seeds}
          until={until}
          onSeeds={setCount}
          onUntil={setUntil}
          onProblem={setProblem}
        />{' '}
        to their end, keep every{' '}
        <EditableWord label="Keep every" value={kept === 1 ? '1 step' : `${kept} steps`} onChange={setKept} />.
      </p>
      {(problem ?? tooMuch) && (
        <p role="alert" className="text-problem">
          {problem ?? tooMuch}
        </p>
      )}
      <StudyValues plan={plan} taken={taken} onTake={take} />
      <p className="mt-1 mb-3 text-sm text-faint">
        {until && 'at most '}
        {sizeWords(seeds, stepLimit / kept + 1, plan.measures.length)}, seeds from 1 on
        {until && '; looked at with 20 seeds, then every 10 more'}
        {pilot && <span data-testid="pilot">; {pilotWords(pilot, seeds)}</span>}
      </p>
      {plan.records.length > 0 && (
        <p className="mb-3 text-sm">
          <label className="flex items-baseline gap-1">
            <input
              type="checkbox"
              className="accent-moss"
              checked={records}
              onChange={() => setWantsRecords(!wantsRecords)}
            />
            <span>
              keep what is recorded{' '}
              <span className="text-faint" data-testid="record-size">
                {pilot
                  ? `about ${shownBytes(pilot.recordBytes)} a run, ${shownBytes(seeds * pilot.recordBytes)} in all`
                  : pilot === null
                    ? 'its size could not be measured'
                    : 'its size is being measured'}
              </span>
            </span>
          </label>
        </p>
      )}
      <button
        type="button"
        className="btn-strong"
        disabled={running || tooMuch !== undefined || (records && pilot === undefined)}
        onClick={begin}
      >
        {until ? 'Run as many as needed' : `Run ${seeds} seeds`}
      </button>
      {study && isSame && done > 0 && !running && (
        <button type="button" className="btn ml-3" onClick={more}>
          {seeds} more
        </button>
      )}
      <StudyProgress kind="repeat" plan={plan} />
      <StaleNote kind="repeat" />
    </section>
  );
}
