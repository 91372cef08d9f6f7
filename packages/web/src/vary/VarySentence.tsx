import type { Factor, LoadedModel, ParameterPlan } from '@vole/core';
import { factorWords, pointCount, readFactor } from '@vole/core';
import { useState } from 'react';
import { useAppSelector } from '../store/store.ts';
import { studyBytes, tooLarge } from '../studies/study-design.ts';
import { beginStudy } from '../studies/study-runner.ts';
import { ownValue } from '../store/own-value.ts';
import { pilotWords, usePilot } from '../studies/pilot.ts';
import { NothingMeasured, sizeWords, StaleNote, StudyProgress } from '../studies/study-views.tsx';
import { StudyValues, useStudyValues } from '../studies/StudyValues.tsx';
import { ChoiceWord } from '../words/ChoiceWord.tsx';
import { EditableWord } from '../words/EditableWord.tsx';
import { readCount } from '../words/read-count.ts';
import { usualValues } from './responses.ts';
import { StudiesOfText } from './StudiesOfText.tsx';

interface Draft {
  readonly parameter: string;
  readonly text: string;
}

interface SentenceProps {
  readonly model: LoadedModel | undefined;
  /** Goes on with the study as a text. */
  readonly onText: () => void;
  /** A study of the model's text was taken up. */
  readonly onTake: () => void;
}

/** Factors of a sentence; a text has any number. */
const MOST_FACTORS = 4;

/** Some parameters in every combination, as a sentence whose words are edited. */
export function VarySentence({ model, onText, onTake }: SentenceProps) {
  const plan = model?.plan;
  const { study, running } = useAppSelector((state) => state.studies.vary);
  const { id, text } = useAppSelector((state) => state.project);
  const stepLimit = useAppSelector((state) => state.model.stepLimit);
  const [drafts, setDrafts] = useState<readonly Draft[]>();
  const [seeds, setSeeds] = useState<number>();
  const [wrongSeeds, setWrongSeeds] = useState<string>();
  const { all, taken, take } = useStudyValues(plan, study?.text === text ? study.parameters : {});
  const pilot = usePilot(
    text,
    plan?.parameters.map(({ name, value }) => ownValue(all, name) ?? value) ?? [],
    stepLimit,
    plan !== undefined && !running,
  );
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
    (new Set(used.map(({ parameter }) => parameter)).size < used.length ? 'The parameters must differ.' : undefined);
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
            {i > 0 && (i === used.length - 1 ? ' and ' : ', ')}
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
      <p className="flex flex-wrap gap-x-3 text-sm">
        {used.length < Math.min(MOST_FACTORS, names.length) && (
          <button
            type="button"
            className="link"
            onClick={() => {
              const other = plan.parameters.find((p) => used.every(({ parameter }) => parameter !== p.name))!;
              setDrafts([...used, { parameter: other.name, text: usualValues(other) }]);
            }}
          >
            {used.length === 1 ? 'and a second parameter' : 'and another one'}
          </button>
        )}
        {used.length > 1 && (
          <button type="button" className="link" onClick={() => setDrafts(used.slice(0, -1))}>
            {used.length === 2 ? 'only the first parameter' : 'without the last'}
          </button>
        )}{' '}
        <button type="button" className="link" onClick={onText}>
          as text: other designs, outcomes, scenarios
        </button>
      </p>
      {model && <StudiesOfText model={model} onTake={onTake} />}
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
          {pilot && <span data-testid="pilot">; {pilotWords(pilot, runs)}</span>}
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
