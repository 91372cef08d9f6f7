import type { Course, Plan, PointAnswer } from '@vole/core';
import { factorWords, plainCourse, seriesColour } from '@vole/core';
import type { ReactNode } from 'react';
import { useState } from 'react';
import { BandsChart } from '../charts/BandsChart.tsx';
import { bandsTable } from '../charts/bands-table.ts';
import { ChartFrame } from '../charts/ChartFrame.tsx';
import { CoursePicker, courseWords } from '../charts/CoursePicker.tsx';
import { useLevels } from '../charts/use-levels.ts';
import type { StudyRow } from '../storage/schema.ts';
import { useAppSelector } from '../store/store.ts';
import { useAnswerList } from '../studies/use-answer.ts';
import { ChoiceWord } from '../words/ChoiceWord.tsx';

interface Props {
  readonly plan: Plan;
  readonly study: StudyRow;
  readonly points: readonly PointAnswer[];
  /** The point whose other factors are kept. */
  readonly picked: PointAnswer;
  /** Chooses another form of the answers. */
  readonly formChoice: ReactNode;
}

/** Courses that are drawn at most, evenly chosen among the values of the factor. */
const MOST_COURSES = 8;

/** The course of a measure at each value of one factor, all others as at the chosen point: median and bands over the runs of each point. */
export function PointCourses({ plan, study, points, picked, formChoice }: Props) {
  const theme = useAppSelector((state) => state.interface.theme);
  const names = study.factors.map(({ parameter }) => parameter);
  const [factor, setFactor] = useState(names[0]!);
  const [course, setCourse] = useState<Course>(plainCourse(0));
  const f = Math.max(0, names.indexOf(factor));
  const along = points.filter(
    ({ values, runs }) => runs > 0 && values.every((value, i) => i === f || value === picked.values[i]),
  );
  const every = Math.max(1, (along.length - 1) / (MOST_COURSES - 1));
  const shown = along.filter((_, i) => Math.round(Math.round(i / every) * every) === i);
  const fans = useAnswerList(
    'vary',
    shown.map(({ id }) => ({ is: 'fan' as const, course, point: id, lines: 0 })),
  );
  const levels = useLevels('vary', plan, course);
  const groups = shown.flatMap((point, i) => {
    const bands = fans[i]?.bands;
    const name = `${names[f]!} ${factorWords(plan, names[f]!, point.values[f]!)}`;
    return bands ? [{ name, colour: seriesColour(i, theme), bands }] : [];
  });
  const others = names.flatMap((name, i) =>
    i === f ? [] : [`${name} ${factorWords(plan, name, picked.values[i]!, true)}`],
  );
  return (
    <ChartFrame
      className="flex-[3]"
      means="bands-over-runs"
      title={`${courseWords(plan, course)} by ${names[f]!}`}
      note={`line: median; bands: 50 % and 90 % of the runs of a point${others.length > 0 ? `; at ${others.join(', ')}` : ''}${shown.length < along.length ? `; ${shown.length} of ${along.length} points` : ''}`}
      table={() => bandsTable(plan, course, names[f]!, groups)}
    >
      <div className="flex h-full flex-col">
        <div className="flex flex-wrap gap-x-6 text-sm">
          {formChoice}
          <CoursePicker plan={plan} course={course} every={study.every} onChange={setCourse} />
          {names.length > 1 && (
            <label>
              by <ChoiceWord label="Courses by" value={names[f]!} options={names} onChange={setFactor} />
            </label>
          )}
        </div>
        <div className="min-h-0 flex-1">
          {groups.length > 0 && <BandsChart plan={plan} groups={groups} levels={levels} />}
        </div>
      </div>
    </ChartFrame>
  );
}
