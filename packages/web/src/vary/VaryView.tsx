import type { Plan } from '@vole/core';
import { combinationWords, designOf, isSampled, plainCourse, pointCount, provenanceOf } from '@vole/core';
import { useMemo, useState } from 'react';
import { FanRibbon } from '../ribbon/FanRibbon.tsx';
import { RecordsView } from '../records/RecordsView.tsx';
import { StudyList } from '../studies/StudyList.tsx';
import { useAnswer } from '../studies/use-answer.ts';
import { useShownStudy, useTextRead } from '../studies/use-study-plan.ts';
import type { StudyRow } from '../storage/schema.ts';
import { draftStudy } from '../session/session.ts';
import { useAppSelector } from '../store/store.ts';
import { studyTableFile } from '../files/study-table.ts';
import { TakeFiles } from '../files/TakeFiles.tsx';
import { TakenOf } from '../files/taken-of.ts';
import { ResponseAnswers } from './ResponseAnswers.tsx';
import { ScenarioAnswers } from './ScenarioAnswers.tsx';
import { StudyTable } from './StudyTable.tsx';
import { VarySentence } from './VarySentence.tsx';
import { StudyText } from './StudyText.tsx';
import { firstWording } from './study-wording.ts';
import { WhatMatters } from './WhatMatters.tsx';

/** Points that are listed at most; the tables have all of them. */
const MOST_SHOWN = 10_000;

/** Factors over several values, sampled or in every combination, or scenarios, with replicates: what makes the difference? */
export function VaryView() {
  const read = useTextRead();
  const model = read?.loaded;
  const textPlan = model?.plan;
  const { text, files } = useAppSelector((state) => state.project);
  const { plan, runs } = useShownStudy('vary');
  const study = useAppSelector((state) => state.studies.vary.study);
  const [summary, setSummary] = useState<string>();
  const [pick, setPick] = useState({ study: '', place: 0 });
  const picked = pick.study === study?.id ? pick.place : 0;
  const setPicked = (place: number): void => setPick({ study: study?.id ?? '', place });
  const s = Math.max(0, plan?.summaries.findIndex((x) => x.name === summary) ?? 0);
  const hasRuns = runs > 0;
  const measured = hasRuns && plan !== undefined && plan.measures.length > 0;
  const points = useAnswer('vary', hasRuns ? { is: 'points', most: MOST_SHOWN } : undefined)?.answer ?? [];
  const point = points[picked];
  const group = useAnswer('vary', hasRuns && point ? { is: 'runs', point: point.id } : undefined);
  const course = { is: 'fan', course: plainCourse(0), lines: 0 } as const;
  const fan = useAnswer('vary', measured && point ? { ...course, point: point.id } : undefined);
  // Of the point that was picked before nothing is shown.
  const bands = fan?.question.point === point?.id ? fan?.answer?.bands : undefined;
  const everything = useAnswer('vary', measured ? course : undefined)?.answer?.bands;
  const of = useMemo(() => study && plan && provenanceOf(study, plan, { text, files }), [study, plan, text, files]);
  const hasResults = plan && study && points.length > 0;
  const [records, setRecords] = useState('');
  const showsRecords = study?.records === true && records === study.id && (plan?.records.length ?? 0) > 0;
  const keys = group && group.question.point === point?.id ? group.answer : [];
  const hasDraft = useAppSelector((state) => state.project.studyDraft !== '');
  const [asSentence, setAsSentence] = useState(false);
  const goOnAsText = (): void => {
    setAsSentence(false);
    if (!hasDraft && model) draftStudy(firstWording(model.plan, study));
  };
  const method = study?.listed?.method;
  const tellsWhatMatters = method !== undefined && isSampled(method);
  const sensitivity = useAnswer('vary', hasRuns && tellsWhatMatters ? { is: 'sensitivity', summary: s } : undefined);
  const count = study ? pointCount(designOf(study)) : 0;
  return (
    <TakenOf value={of}>
      <div className="flex h-full flex-col">
        <main className="flex min-h-0 flex-1 gap-4 p-4">
          <div className="flex w-[300px] shrink-0 flex-col gap-4 overflow-auto">
            {model && model.plan.parameters.length > 0 && model.plan.measures.length > 0 && hasDraft && !asSentence ? (
              <StudyText model={model} onSentence={() => setAsSentence(true)} />
            ) : (
              read && (
                <VarySentence key={study?.id} model={model} onText={goOnAsText} onTake={() => setAsSentence(false)} />
              )
            )}
            <StudyList kind="vary" />
            {hasResults && <Downloads plan={plan} study={study} />}
            {hasResults && study.records && plan.records.length > 0 && (
              <section aria-label="Records" className="card p-4">
                <button type="button" className="link" onClick={() => setRecords(showsRecords ? '' : study.id)}>
                  {showsRecords ? 'back to the answers' : 'what was recorded at the chosen point'}
                </button>
              </section>
            )}
          </div>
          {hasResults && showsRecords && point && keys.length > 0 ? (
            <RecordsView key={point.id} plan={plan} study={study} runs={keys} point={point.id} />
          ) : hasResults && plan.summaries.length > 0 ? (
            method === 'scenarios' && study.listed?.names && measured ? (
              <ScenarioAnswers
                key={study.id}
                plan={plan}
                study={study}
                names={study.listed.names}
                points={points}
                group={keys}
                picked={picked}
                onPick={setPicked}
              />
            ) : (
              <>
                {tellsWhatMatters ? (
                  <WhatMatters
                    plan={plan}
                    study={study}
                    answer={sensitivity?.question.summary === s ? sensitivity.answer : undefined}
                    summary={s}
                    onSummary={setSummary}
                  />
                ) : study.factors.length === 0 ? null : (
                  <ResponseAnswers
                    key={study.id}
                    plan={plan}
                    study={study}
                    points={points}
                    count={count}
                    summary={s}
                    onSummary={setSummary}
                    picked={picked}
                    onPick={setPicked}
                  />
                )}
                <StudyTable
                  plan={plan}
                  study={study}
                  points={points}
                  group={keys}
                  summary={s}
                  picked={picked}
                  onPick={setPicked}
                />
              </>
            )
          ) : (
            <div className="card flex flex-1 items-center justify-center p-6 text-center text-faint">
              {plan && plan.summaries.length === 0
                ? 'The model has no summary to compare. Add one in Build: “summary peak = max of voles”.'
                : 'The response curve grows here as runs come in.'}
            </div>
          )}
        </main>
        {(plan ?? textPlan) && (
          <FanRibbon
            plan={(plan ?? textPlan)!}
            bands={bands}
            measure={0}
            baseline={everything}
            title={
              study && point ? (
                <>
                  <b className="font-title">
                    {study.listed?.names?.[picked] ?? combinationWords(plan ?? textPlan!, study, point.values)}
                  </b>{' '}
                  {point.runs} seeds, against all runs in grey
                </>
              ) : (
                'nothing run yet'
              )
            }
            note={method === 'scenarios' ? 'the scenario that is chosen' : 'the combination chosen in the table'}
          />
        )}
      </div>
    </TakenOf>
  );
}

/** One tidy table of everything: parameters, seeds, steps, measures; and one of summaries. */
function Downloads({ plan, study }: { readonly plan: Plan; readonly study: StudyRow }) {
  const { text, files } = useAppSelector((state) => state.project);
  return (
    <section aria-label="Tables" className="card p-4">
      <h2 className="mb-1 text-[16px]">Take it along</h2>
      {(['rows', 'summaries'] as const).map((what) => (
        <p key={what} className="flex gap-x-3">
          {what === 'rows' ? 'all rows' : 'summaries'}
          <TakeFiles
            title={`${plan.title} ${what}`}
            table={(form) => studyTableFile(study, plan, { text, files }, what, form)}
          />
        </p>
      ))}
    </section>
  );
}
