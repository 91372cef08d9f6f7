import type { Cell, Course, FanAnswer, MeanFieldAnswer, Plan, RunLine } from '@vole/core';
import { heading, plainCourse } from '@vole/core';
import { useState } from 'react';
import { courseUnit, tableOfBands } from '../charts/bands-table.ts';
import { ChartFrame } from '../charts/ChartFrame.tsx';
import { CoursePicker, courseWords } from '../charts/CoursePicker.tsx';
import { FanChart, MOST_LINES, MOST_NEAR } from '../charts/FanChart.tsx';
import type { ChartLevel } from '../charts/level-lines.ts';
import { PhaseRuns } from '../charts/PhaseRuns.tsx';
import { MeanFieldWish } from '../mean-field/MeanFieldWish.tsx';
import type { StudyRow } from '../storage/schema.ts';
import { useAppSelector } from '../store/store.ts';
import { useAnswer } from '../studies/use-answer.ts';
import { ChoiceWord } from '../words/ChoiceWord.tsx';
import { BesideStudy } from './BesideStudy.tsx';
import type { SplitWish } from './SplitCourses.tsx';
import { SplitCourses } from './SplitCourses.tsx';

interface Props {
  readonly plan: Plan;
  readonly study: StudyRow;
  readonly fan: FanAnswer;
  readonly course: Course;
  readonly onCourse: (course: Course) => void;
  readonly levels: readonly ChartLevel[];
  /** What follows from the rules in a well-mixed crowd, once that is derived. */
  readonly meanField: MeanFieldAnswer | undefined;
  /** Another study, or a split of the runs, that is shown instead of the runs together. */
  readonly beside: StudyRow | undefined;
  readonly split: SplitWish | undefined;
  readonly onTogether: () => void;
  readonly onOpen: (run: RunLine, step: number) => void;
}

const TIME = 'time';

/** A course over all runs: over time with its bands, over another measure, beside another study, or of two kinds of runs. */
export function CourseOfRuns(props: Props) {
  const { plan, study, fan, course, onCourse, levels, meanField, beside, split, onTogether, onOpen } = props;
  const [showRuns, setShowRuns] = useState(true);
  const [showsMeanField, setMeanField] = useState(false);
  const [over, setOver] = useState(TIME);
  const version = useAppSelector((state) => state.studies.repeat.version);
  const isTogether = !split && !beside;
  const against = isTogether ? plan.measures.findIndex(({ name }) => name === over) : -1;
  const across = useAnswer(
    'repeat',
    against >= 0 ? { is: 'fan', course: plainCourse(against), lines: MOST_NEAR } : undefined,
  )?.answer;
  const { bands, lines } = fan;
  const reference =
    showsMeanField && meanField && 'values' in meanField && meanField.values.some(Number.isFinite)
      ? meanField.values
      : undefined;
  const title =
    against >= 0
      ? `${courseWords(plan, course)} over ${over} in ${plan.title}`
      : `${courseWords(plan, course)} over ${plan.title}`;
  const names = plan.measures.map(({ name }) => name);
  return (
    <ChartFrame
      className="min-h-[360px] flex-[3]"
      means="bands-over-runs"
      title={title}
      note={noteOf(props, against, reference !== undefined)}
      table={() =>
        against >= 0 && across
          ? phaseTable(plan, [plainCourse(against), course], [across, fan])
          : fanTable(plan, course, fan, reference)
      }
    >
      <div className="flex h-full flex-col">
        <div className="flex flex-wrap gap-x-6 text-sm">
          <CoursePicker plan={plan} course={course} every={study.every} onChange={onCourse} />
          {!isTogether && (
            <button type="button" className="link" onClick={onTogether}>
              {beside ? 'this study alone' : 'all runs together'}
            </button>
          )}
          {isTogether && names.length > 1 && (
            <label>
              over{' '}
              <ChoiceWord
                label="Over"
                value={over}
                options={[TIME, ...names.filter((name) => name !== TIME)]}
                onChange={setOver}
              />
            </label>
          )}
          {isTogether && (
            <label>
              <input type="checkbox" checked={showRuns} onChange={(event) => setShowRuns(event.target.checked)} />{' '}
              single runs{bands.runs > MOST_LINES ? `, ${MOST_LINES} of ${bands.runs}` : ''}
            </label>
          )}
          {isTogether && against < 0 && (
            <MeanFieldWish answer={meanField} isShown={showsMeanField} onShow={setMeanField} />
          )}
        </div>
        <div className="min-h-0 flex-1">
          {beside ? (
            <BesideStudy key={beside.id} plan={plan} study={study} other={beside} course={course} version={version} />
          ) : split ? (
            <SplitCourses plan={plan} course={course} split={split} levels={levels} />
          ) : against >= 0 ? (
            across && (
              <PhaseRuns
                plan={plan}
                across={across}
                up={fan}
                measure={course.of[0]!}
                showRuns={showRuns}
                onOpen={onOpen}
              />
            )
          ) : (
            <FanChart
              plan={plan}
              bands={bands}
              lines={lines}
              measure={course.of[0]!}
              levels={levels}
              showRuns={showRuns}
              reference={reference}
              onOpen={onOpen}
            />
          )}
        </div>
      </div>
    </ChartFrame>
  );
}

function noteOf(
  { plan, course, fan: { bands }, beside, split }: Props,
  against: number,
  hasReference: boolean,
): string {
  if (split || beside)
    return 'line: median; bands: 50 % and 90 % of each kind of runs; the table has all of this study together';
  const early = bands.endedEarly ? `; ${bands.endedEarly} ended early and keep their last value` : '';
  if (against >= 0)
    return `from left to right ${withUnit(plan, plainCourse(against))}, upwards ${withUnit(plan, course)}; line: medians of both at each kept step, over ${bands.runs} runs; dot: its end; thin: single runs${early}`;
  return `line: median; bands: 50 % and 90 % of ${bands.runs} runs${early}${hasReference ? '; dashed: mean-field reference' : ''}`;
}

/** A course in words with its unit. */
function withUnit(plan: Plan, course: Course): string {
  return heading(courseWords(plan, course), courseUnit(plan, course));
}

function fanTable(
  plan: Plan,
  course: Course,
  { bands }: FanAnswer,
  reference: readonly number[] | undefined,
): Cell[][] {
  const [header, ...rows] = tableOfBands(plan, courseUnit(plan, course), bands);
  return [
    [...header!, ...(reference ? ['mean_field'] : [])],
    ...rows.map((row, i) => [...row, ...(reference ? [reference[i] ?? NaN] : [])]),
  ];
}

/** Medians and bands of two courses side by side, a row a kept step. */
function phaseTable(plan: Plan, courses: readonly Course[], fans: readonly FanAnswer[]): Cell[][] {
  const tables = courses.map((course, i) => {
    const [[step, time, ...levels] = [], ...rows] = tableOfBands(plan, '', fans[i]!.bands);
    const named = levels.map((level) => heading(`${courseWords(plan, course)} ${level}`, courseUnit(plan, course)));
    return [[step!, time!, ...named], ...rows];
  });
  const [first = [], second = []] = tables;
  return first.map((row, i) => [...row, ...(second[i] ?? []).slice(2)]);
}
