import type { Plan, PointAnswer } from '@vole/core';
import { categoriesOf, combinationWords, factorWords, nameWithUnit, seedsEach } from '@vole/core';
import { useState } from 'react';
import { ChartFrame } from '../charts/ChartFrame.tsx';
import type { HeatCell } from '../charts/HeatMap.tsx';
import { HeatMap } from '../charts/HeatMap.tsx';
import { ResponseChart } from '../charts/ResponseChart.tsx';
import type { StudyRow } from '../storage/schema.ts';
import { ChoiceWord } from '../words/ChoiceWord.tsx';
import { shownNumber } from '../words/numbers.ts';
import { PointCourses } from './PointCourses.tsx';
import { MainEffects } from './MainEffects.tsx';
import { alonePoints, facetsOf, responseLines, responseTable } from './responses.ts';

/** Points that are drawn at most; the table has all of them. */
const MOST_DRAWN = 400;

interface Props {
  readonly plan: Plan;
  readonly study: StudyRow;
  readonly points: readonly PointAnswer[];
  /** How many points the design has, of which these are the first. */
  readonly count: number;
  readonly summary: number;
  readonly onSummary: (name: string) => void;
  readonly picked: number;
  readonly onPick: (place: number) => void;
}

/** A summary over the values of the factors: curves with intervals, by a second factor as colours, by further ones as small charts; or two factors as a map. */
export function ResponseAnswers({ plan, study, points, count, summary, onSummary, picked, onPick }: Props) {
  const [form, setForm] = useState<string>('curves');
  const [alone, setAlone] = useState(study.factors[0]!.parameter);
  const { name, yesNo } = plan.summaries[summary]!;
  const isAlone = study.listed?.method === 'one at a time';
  const factor = (isAlone && study.factors.find(({ parameter }) => parameter === alone)) || study.factors[0]!;
  const [first, second] = study.factors;
  const drawn = points.slice(0, MOST_DRAWN);
  const canMap = !isAlone && study.factors.length === 2 && first!.values.length > 1 && second!.values.length > 1;
  const isMap = form === 'a map' && canMap;
  const isMainEffects = form === 'main effects' && !isAlone;
  const forms = ['curves', ...(canMap ? ['a map'] : []), ...(isAlone ? [] : ['main effects']), 'courses'];
  const names = study.factors.map(({ parameter }) => parameter);
  const facets = isAlone
    ? [{ title: '', points: alonePoints(study, drawn, factor.parameter) }]
    : facetsOf(plan, study, drawn);
  const allFacets = isAlone ? 1 : study.factors.slice(2).reduce((product, { values }) => product * values.length, 1);
  const lines = facets.map((facet) => ({
    title: facet.title,
    lines: isAlone
      ? [
          {
            name: factor.parameter,
            points: facet.points.map(({ x, point }) => ({ x, estimate: point.estimates[summary]! })),
          },
        ]
      : responseLines(
          plan,
          study,
          facet.points.map(({ point }) => point),
          summary,
        ),
  }));
  const reach = lines.flatMap((facet) => facet.lines.flatMap((line) => line.points.map(({ estimate }) => estimate)));
  const cells = isMap
    ? points.map(({ values, runs, estimates }): HeatCell => ({
        x: values[0]!,
        y: values[1]!,
        value: runs > 0 ? estimates[summary]!.value : NaN,
        runs,
      }))
    : [];
  const point = points[picked];
  const mean = yesNo ? 'share of runs' : 'mean';
  const formChoice = (
    <label>
      as <ChoiceWord label="As" value={forms.includes(form) ? form : 'curves'} options={forms} onChange={setForm} />
    </label>
  );
  if (form === 'courses' && point)
    return <PointCourses plan={plan} study={study} points={points} picked={point} formChoice={formChoice} />;
  return (
    <ChartFrame
      className="flex-[3]"
      means={isMainEffects ? 'main-effects' : 'curves-and-maps-over-values'}
      title={
        isMap || isMainEffects
          ? `${name} by ${names.join(' and ')}${isMainEffects ? ', each by itself' : ''}`
          : `${name} against ${factor.parameter}`
      }
      note={
        isMainEffects
          ? `${mean} and 90 % interval, over all values of the other factors; ${seedsEach(study)} seeds a point`
          : `${mean}${isMap ? '' : ' and 90 % interval'} of ${seedsEach(study)} seeds each${count > MOST_DRAWN ? `; the first ${MOST_DRAWN} of ${count} points` : ''}${allFacets > facets.length ? `; ${facets.length} of ${allFacets} small charts` : ''}`
      }
      table={() => responseTable(plan, study, points, summary)}
    >
      <div className="flex h-full flex-col">
        <p className="flex flex-wrap gap-x-6 text-sm">
          <label>
            summary{' '}
            <ChoiceWord
              label="Summary"
              value={name}
              options={plan.summaries.map((each) => each.name)}
              onChange={onSummary}
            />
          </label>
          {isAlone && (
            <label>
              against <ChoiceWord label="Factor" value={factor.parameter} options={names} onChange={setAlone} />
            </label>
          )}
          {formChoice}
        </p>
        {isMainEffects ? (
          <MainEffects plan={plan} study={study} summary={summary} />
        ) : isMap ? (
          <div className="min-h-0 flex-1">
            <HeatMap
              cells={cells}
              xs={sorted(first!.values)}
              ys={sorted(second!.values)}
              xName={nameWithUnit(plan, names[0]!)}
              yName={nameWithUnit(plan, names[1]!)}
              xWords={(value) => factorWords(plan, names[0]!, value)}
              yWords={(value) => factorWords(plan, names[1]!, value)}
              words={(cell) =>
                `${combinationWords(plan, study, [cell.x, cell.y])}: ${name} ${Number.isFinite(cell.value) ? shownNumber(cell.value) : 'nothing'}, ${cell.runs} runs`
              }
              picked={point && { x: point.values[0]!, y: point.values[1]!, value: 0, runs: 0 }}
              onPick={(cell) => onPick(cells.findIndex(({ x, y }) => x === cell.x && y === cell.y))}
            />
          </div>
        ) : (
          <div className={`grid min-h-0 flex-1 gap-2 ${lines.length > 1 ? 'grid-cols-2' : ''}`}>
            {lines.map((facet) => (
              <div key={facet.title} className="flex min-h-0 flex-col">
                {facet.title && (
                  <h3 data-figure-heading className="text-center text-sm font-semibold">
                    {facet.title}
                  </h3>
                )}
                <div className="min-h-0 flex-1">
                  <ResponseChart
                    lines={facet.lines}
                    xName={nameWithUnit(plan, factor.parameter)}
                    words={categoriesOf(plan, factor.parameter)}
                    reach={reach}
                  />
                </div>
              </div>
            ))}
          </div>
        )}
      </div>
    </ChartFrame>
  );
}

function sorted(values: readonly number[]): number[] {
  return [...values].sort((a, b) => a - b);
}
