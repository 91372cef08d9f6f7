import type { Factor, LoadedModel, ParameterPlan, Plan } from '@vole/core';
import { pointCount, readFactor } from '@vole/core';
import { useMemo, useState } from 'react';
import { FanRibbon } from '../ribbon/FanRibbon.tsx';
import { NothingMeasured, sizeWords, StaleNote, StudyProgress } from '../studies/study-views.tsx';
import { provenanceOf } from '../studies/provenance.ts';
import { ChoiceWord } from '../words/ChoiceWord.tsx';
import { EditableWord } from '../words/EditableWord.tsx';
import { readCount } from '../words/read-count.ts';
import { StudyList } from '../studies/StudyList.tsx';
import { StudyValues, useStudyValues } from '../studies/StudyValues.tsx';
import { useAnswer } from '../studies/use-answer.ts';
import { useShownStudy, useTextModel } from '../studies/use-study-plan.ts';
import { designOf, studyBytes, tooLarge } from '../studies/study-design.ts';
import { beginStudy } from '../studies/study-runner.ts';
import type { StudyRow } from '../storage/schema.ts';
import { draftStudy } from '../session/session.ts';
import { useAppSelector } from '../store/store.ts';
import { useTakeTable } from '../charts/take-table.ts';
import { ResponseAnswers } from './ResponseAnswers.tsx';
import { ScenarioAnswers } from './ScenarioAnswers.tsx';
import { PointsTable } from './PointsTable.tsx';
import { StudyText } from './StudyText.tsx';
import { firstWording } from './study-wording.ts';
import { WhatMatters } from './WhatMatters.tsx';
import { combinationWords, factorWords, usualValues } from './responses.ts';

/** Designs of which is told what matters. */
const SAMPLED: readonly string[] = [
  'random',
  'latin hypercube',
  'sobol sequence',
  'elementary effects',
  'sobol indices',
];
/** Points that are listed at most; the tables have all of them. */
const MOST_SHOWN = 10_000;

/** One or two parameters over several values, with replicates: what makes the difference? */
export function VaryView() {
  const model = useTextModel();
  const textPlan = model?.plan;
  const text = useAppSelector((state) => state.project.text);
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
  const course = { is: 'fan', measure: 0, lines: 0 } as const;
  const fan = useAnswer('vary', measured && point ? { ...course, point: point.id } : undefined);
  // Of the point that was picked before nothing is shown.
  const bands = fan?.question.point === point?.id ? fan?.answer?.bands : undefined;
  const everything = useAnswer('vary', measured ? course : undefined)?.answer?.bands;
  const of = useMemo(() => study && plan && provenanceOf(study, plan, text), [study, plan, text]);
  const hasResults = plan && study && points.length > 0;
  const hasDraft = useAppSelector((state) => state.project.studyDraft !== '');
  const [asSentence, setAsSentence] = useState(false);
  const goOnAsText = (): void => {
    setAsSentence(false);
    if (!hasDraft && model) draftStudy(firstWording(model.plan, study));
  };
  const method = study?.listed?.method;
  const isSampled = method !== undefined && SAMPLED.includes(method);
  const sensitivity = useAnswer('vary', hasRuns && isSampled ? { is: 'sensitivity', summary: s } : undefined);
  const count = study ? pointCount(designOf(study)) : 0;
  return (
    <div className="flex h-full flex-col">
      <main className="flex min-h-0 flex-1 gap-4 p-4">
        <div className="flex w-[300px] shrink-0 flex-col gap-4 overflow-auto">
          {model && model.plan.parameters.length > 0 && hasDraft && !asSentence ? (
            <StudyText model={model} onSentence={() => setAsSentence(true)} />
          ) : (
            <VarySentence key={study?.id} model={model} onText={goOnAsText} />
          )}
          <StudyList kind="vary" />
          {hasResults && <Downloads plan={plan} study={study} />}
        </div>
        {hasResults && plan.summaries.length > 0 ? (
          method === 'scenarios' && study.listed?.names ? (
            <ScenarioAnswers
              plan={plan}
              study={study}
              names={study.listed.names}
              points={points}
              group={group && group.question.point === point?.id ? group.answer : []}
              picked={picked}
              onPick={setPicked}
              of={of}
            />
          ) : (
            <>
              {isSampled ? (
                <WhatMatters
                  plan={plan}
                  study={study}
                  answer={sensitivity?.question.summary === s ? sensitivity.answer : undefined}
                  summary={s}
                  onSummary={setSummary}
                  of={of}
                />
              ) : (
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
                  of={of}
                />
              )}
              <PointsTable
                plan={plan}
                study={study}
                points={points}
                group={group && group.question.point === point?.id ? group.answer : []}
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
  );
}

// The study as a sentence

interface Draft {
  readonly parameter: string;
  readonly text: string;
}

interface SentenceProps {
  readonly model: LoadedModel | undefined;
  /** Goes on with the study as a text. */
  readonly onText: () => void;
}

function VarySentence({ model, onText }: SentenceProps) {
  const plan = model?.plan;
  const { study, running } = useAppSelector((state) => state.studies.vary);
  const { id, text } = useAppSelector((state) => state.project);
  const stepLimit = useAppSelector((state) => state.model.stepLimit);
  const [drafts, setDrafts] = useState<readonly Draft[]>();
  const [seeds, setSeeds] = useState<number>();
  const [wrongSeeds, setWrongSeeds] = useState<string>();
  const { all, taken, take } = useStudyValues(plan, study?.text === text ? study.parameters : {});
  if (!plan) return <div className="card p-4 text-problem">The text has errors. Mend them in Build, then vary it.</div>;
  if (plan.parameters.length === 0)
    return (
      <div className="card p-4">
        The model has no parameter to vary. Add one in Build: “parameter strike = 0.2, from 0 to 1”.
      </div>
    );
  if (plan.measures.length === 0) return <NothingMeasured plan={plan} />;
  const names = plan.parameters.map((p) => p.name);
  const parameterOf = (name: string): ParameterPlan =>
    plan.parameters.find((p) => p.name === name) ?? plan.parameters[0]!;
  const preferred = plan.parameters.find((p) => p.type === 'number' && !p.whole) ?? plan.parameters[0]!;
  const stored = study?.factors.every((factor) => names.includes(factor.parameter) && factor.values.length > 0)
    ? study.factors.map((factor) => ({
        parameter: factor.parameter,
        text: factor.values.map((value) => factorWords(plan, factor.parameter, value)).join(', '),
      }))
    : undefined;
  const used = drafts?.every((draft) => names.includes(draft.parameter))
    ? drafts
    : (stored ?? [{ parameter: preferred.name, text: usualValues(preferred) }]);
  const readings = used.map((draft) =>
    readFactor(
      model.checked,
      model.checked.parameters.find((p) => p.name === draft.parameter)!,
      draft.text,
    ),
  );
  const problem =
    wrongSeeds ??
    readings.map((reading) => ('problem' in reading ? reading.problem : undefined)).find(Boolean) ??
    (used.length === 2 && used[0]!.parameter === used[1]!.parameter ? 'The two parameters must differ.' : undefined);
  const factors: Factor[] = readings.flatMap((reading, i) =>
    'values' in reading ? [{ parameter: used[i]!.parameter, values: reading.values }] : [],
  );
  const count = seeds ?? study?.seeds.length ?? 10;
  const runs = pointCount({ is: 'every combination', factors, seeds: [] }) * count;
  const tooMuch = tooLarge(runs, studyBytes(runs, stepLimit + 1, plan.measures.length));
  const change = (i: number, draft: Partial<Draft>): void =>
    setDrafts(used.map((old, at) => (at === i ? { ...old, ...draft } : old)));
  const begin = (): void =>
    beginStudy(
      {
        projectId: id!,
        kind: 'vary',
        name: factors.map((factor) => factor.parameter).join(' and '),
        text,
        seeds: Array.from({ length: count }, (_, i) => i + 1),
        every: 1,
        parameters: all,
        factors: factors.map(({ parameter, values }) => ({ parameter, values: [...values] })),
      },
      plan,
    );
  return (
    <section aria-label="Study" className="card p-4">
      <p className="font-title text-[17px] leading-8">
        Vary{' '}
        {used.map((draft, i) => (
          <span key={i}>
            {i > 0 && ' and '}
            <ChoiceWord
              label={`Parameter ${i + 1}`}
              value={draft.parameter}
              options={names}
              onChange={(parameter) => change(i, { parameter, text: usualValues(parameterOf(parameter)) })}
            />{' '}
            over{' '}
            <EditableWord
              label={`Values ${i + 1}`}
              value={draft.text}
              onChange={(value) => change(i, { text: value })}
            />
          </span>
        ))}
        ,{' '}
        <EditableWord
          label="Seeds each"
          value={`${count} seeds`}
          onChange={(value) => {
            const read = readCount(value, 10_000, 'A number of seeds');
            setWrongSeeds(typeof read === 'number' ? undefined : read.problem);
            if (typeof read === 'number') setSeeds(read);
          }}
        />{' '}
        each, in every combination.
      </p>
      <p className="text-sm">
        {used.length === 1 && names.length > 1 && (
          <button
            type="button"
            className="link"
            onClick={() => {
              const other = plan.parameters.find((p) => p.name !== used[0]!.parameter)!;
              setDrafts([...used, { parameter: other.name, text: usualValues(other) }]);
            }}
          >
            and a second parameter
          </button>
        )}
        {used.length === 2 && (
          <button type="button" className="link" onClick={() => setDrafts([used[0]!])}>
            only the first parameter
          </button>
        )}{' '}
        <button type="button" className="link" onClick={onText}>
          as text: more factors, other designs, scenarios
        </button>
      </p>
      <StudyValues plan={plan} taken={taken} onTake={take} />
      {(problem ?? tooMuch) ? (
        <p role="alert" className="mt-1 text-problem">
          {problem ?? tooMuch}
        </p>
      ) : (
        <p className="mt-1 text-sm text-faint" data-testid="vary-size">
          {factors
            .map(
              (factor) =>
                `${factor.parameter}: ${factor.values
                  .slice(0, 40)
                  .map((v) => factorWords(plan, factor.parameter, v))
                  .join(', ')}${factor.values.length > 40 ? ' ...' : ''}`,
            )
            .join('. ')}
          .<br />
          {sizeWords(runs, stepLimit + 1, plan.measures.length)}; the same seeds for each combination
        </p>
      )}
      <button
        type="button"
        className="btn-strong mt-2"
        disabled={running || problem !== undefined || tooMuch !== undefined}
        onClick={begin}
      >
        Run {problem ? '' : runs} runs
      </button>
      <StudyProgress kind="vary" plan={plan} />
      <StaleNote kind="vary" />
    </section>
  );
}

/** One tidy table of everything: parameters, seeds, steps, measures; and one of summaries. */
function Downloads({ plan, study }: { readonly plan: Plan; readonly study: StudyRow }) {
  const take = useTakeTable(study, plan);
  return (
    <section aria-label="Tables" className="card p-4">
      <h2 className="mb-1 text-[16px]">Take it along</h2>
      <p className="flex flex-col items-start gap-1">
        <button type="button" className="link" onClick={() => take('rows', `${plan.title} rows`)}>
          all rows as CSV
        </button>
        <button type="button" className="link" onClick={() => take('summaries', `${plan.title} summaries`)}>
          summaries as CSV
        </button>
      </p>
    </section>
  );
}
