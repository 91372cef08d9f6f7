import { Meaning } from '../manual/Meaning.tsx';
import type { Cell, Course, OutcomesAnswer, Plan, RunKey } from '@vole/core';
import { canRead, plainCourse, provenanceOf } from '@vole/core';
import { Fragment, useMemo, useState } from 'react';
import { useNavigate } from 'react-router';
import { courseWords } from '../charts/CoursePicker.tsx';
import { MOST_NEAR } from '../charts/FanChart.tsx';
import { TakeFiles } from '../files/TakeFiles.tsx';
import { TakenOf } from '../files/taken-of.ts';
import { FanRibbon } from '../ribbon/FanRibbon.tsx';
import { shownNumber } from '../words/numbers.ts';
import type { StudyRow } from '../storage/schema.ts';
import { openRun } from '../simulation/open-run.ts';
import { useAppSelector } from '../store/store.ts';
import { RecordsView } from '../records/RecordsView.tsx';
import { LevelCrossed, levelLine } from '../charts/LevelCrossed.tsx';
import { useLevels } from '../charts/use-levels.ts';
import { StudyList } from '../studies/StudyList.tsx';
import { CourseOfRuns } from './CourseOfRuns.tsx';
import { OutcomesAsked } from './OutcomesAsked.tsx';
import { RepeatSentence } from './RepeatSentence.tsx';
import { RunsApart } from './RunsApart.tsx';
import type { SplitWish } from './SplitCourses.tsx';
import { Distribution, EnoughSeeds } from './SummaryCards.tsx';
import { useAnswer } from '../studies/use-answer.ts';
import { useShownStudy, useTextRead } from '../studies/use-study-plan.ts';

/** Many seeds of one model: is it the pattern, or luck? */
export function RepeatView() {
  const textRead = useTextRead();
  const textPlan = textRead?.loaded?.plan;
  const { plan, runs } = useShownStudy('repeat');
  const [wish, setWish] = useState<Course>(plainCourse(0));
  const [level, setLevel] = useState('');
  const [besideWish, setBeside] = useState<StudyRow>();
  const [splitWish, setSplit] = useState<{ readonly study: string; readonly by: SplitWish }>();
  const navigate = useNavigate();
  const projectId = useAppSelector((state) => state.project.id);
  const study = useAppSelector((state) => state.studies.repeat.study);
  const { text, files } = useAppSelector((state) => state.project);
  const of = useMemo(() => study && plan && provenanceOf(study, plan, { text, files }), [study, plan, text, files]);
  const wanted = plan && canRead(wish, plan.measures.length) ? wish : plainCourse(0);
  const fan = useAnswer('repeat', runs > 0 ? { is: 'fan', course: wanted, lines: MOST_NEAR } : undefined);
  const outcomes = useAnswer('repeat', runs > 0 ? { is: 'outcomes' } : undefined)?.answer;
  // Derived once the runs are in: nothing of it depends on them but how long they are.
  const running = useAppSelector((state) => state.studies.repeat.running);
  const meanField = useAnswer('repeat', runs > 0 && !running ? { is: 'mean field', course: wanted } : undefined);
  const course = fan?.question.course ?? wanted;
  const index = course.of[0]!;
  const levels = useLevels('repeat', runs > 0 ? plan : undefined, course);
  const [summary, setSummary] = useState<string>();
  const s = summaryOf(plan, summary);
  const distribution = useAnswer('repeat', runs > 0 && s >= 0 ? { is: 'distribution', summary: s } : undefined);
  const enough = useAnswer('repeat', runs > 1 && s >= 0 ? { is: 'enough', summary: s } : undefined);
  const apart = useAnswer('repeat', runs > 1 ? { is: 'apart', course: wanted } : undefined);
  const open = (run: RunKey, step: number): void => {
    openRun(study!, plan!, run, step);
    void navigate(`/project/${projectId}/watch`);
  };
  const bands = fan?.answer?.bands;
  const limit = meanField && sameCourse(meanField.question.course, course) ? meanField.answer : undefined;
  const beside = useAppSelector((state) =>
    state.studies.list.find(({ id }) => id === besideWish?.id && id !== study?.id),
  );
  const split = splitWish && splitWish.study === study?.id ? splitWish.by : undefined;
  const hasRecords = study?.records === true && plan !== undefined && plan.records.length > 0;
  const [records, setRecords] = useState('');
  const showsRecords = hasRecords && records === study.id;
  const keys = useAnswer('repeat', showsRecords ? { is: 'runs', point: '' } : undefined)?.answer;
  return (
    <TakenOf value={of}>
      <div className="flex h-full flex-col">
        <main className="flex min-h-0 flex-1 gap-4 p-4">
          <div className="flex w-[300px] shrink-0 flex-col gap-4 overflow-auto">
            {textRead && <RepeatSentence plan={textPlan} />}
            <StudyList kind="repeat" onBeside={setBeside} />
            {hasRecords && runs > 0 && (
              <section aria-label="Records" className="card p-4">
                <button type="button" className="link" onClick={() => setRecords(showsRecords ? '' : study.id)}>
                  {showsRecords ? 'back to the courses' : 'what was recorded of agents and meetings'}
                </button>
              </section>
            )}
            {plan && outcomes && outcomes.runs > 0 && <Outcomes plan={plan} outcomes={outcomes} />}
            {plan && outcomes && outcomes.runs > 0 && (
              <OutcomesAsked
                key={study?.id}
                onOpen={(run) => open(run, run.steps)}
                onSplit={(condition) => study && setSplit({ study: study.id, by: { condition } })}
              />
            )}
          </div>
          {plan && study && showsRecords && keys && keys.length > 0 ? (
            <RecordsView key={study.id} plan={plan} study={study} runs={keys} point="" />
          ) : plan && fan?.answer && bands ? (
            <>
              <div className="flex min-h-0 min-w-0 flex-1 flex-col gap-4">
                <CourseOfRuns
                  plan={plan}
                  study={study!}
                  fan={fan.answer}
                  course={course}
                  onCourse={setWish}
                  levels={[...levels, ...levelLine(level)]}
                  meanField={limit}
                  beside={beside}
                  split={split}
                  onTogether={() => {
                    setBeside(undefined);
                    setSplit(undefined);
                  }}
                  onOpen={open}
                />
                {apart?.answer && !beside && (
                  <RunsApart
                    plan={plan}
                    measure={courseWords(plan, apart.question.course)}
                    answer={apart.answer}
                    onOpen={open}
                  />
                )}
              </div>
              {s >= 0 && distribution && (
                <div className="flex w-[280px] shrink-0 flex-col gap-4 overflow-auto">
                  <Distribution
                    plan={plan}
                    summary={distribution.question.summary}
                    onSummary={setSummary}
                    distribution={distribution.answer}
                    onSplit={(summary, below) => study && setSplit({ study: study.id, by: { summary, below } })}
                  />
                  <section aria-label="A level" className="card p-4">
                    <h2 className="mb-1 text-[16px]">
                      When is a level crossed? <Meaning of="crossing-a-level" />
                    </h2>
                    <LevelCrossed
                      kind="repeat"
                      plan={plan}
                      course={course}
                      groups={[{ name: 'all runs' }]}
                      level={level}
                      onLevel={setLevel}
                      onOpen={(_, run, step) => open(run, step)}
                    />
                  </section>
                  {enough && <EnoughSeeds plan={plan} summary={enough.question.summary} enough={enough.answer} />}
                </div>
              )}
            </>
          ) : (
            <div className="card flex flex-1 items-center justify-center text-faint">
              The fan of the runs grows here as they come in.
            </div>
          )}
        </main>
        {(plan ?? textPlan) && (
          <FanRibbon
            plan={(plan ?? textPlan)!}
            bands={bands}
            measure={index}
            title={
              <>
                <b className="font-title">{runs} runs</b> of {(plan ?? textPlan)!.title}
              </>
            }
            note="click in the chart to open that run in Watch"
          />
        )}
      </div>
    </TakenOf>
  );
}

function sameCourse(a: Course, b: Course): boolean {
  return JSON.stringify(a) === JSON.stringify(b);
}

/** The summary that is looked at: the one chosen, else the first that is a number; -1 if there is none. */
function summaryOf(plan: Plan | undefined, name: string | undefined): number {
  const chosen = plan?.summaries.findIndex((each) => each.name === name && !each.yesNo) ?? -1;
  return chosen >= 0 ? chosen : (plan?.summaries.findIndex(({ yesNo }) => !yesNo) ?? -1);
}

/** Every summary over the runs: its middle with an interval, or how often it was so. */
function Outcomes({ plan, outcomes }: { readonly plan: Plan; readonly outcomes: OutcomesAnswer }) {
  return (
    <section aria-label="What came out" className="card p-4">
      <h2 className="mb-1 text-[16px]">
        What came out <Meaning of="means-and-their-intervals" />
      </h2>
      <p className="mb-1 text-sm text-faint">mean, or runs with yes, and the 90 % interval; of {outcomes.runs} runs</p>
      <table className="w-full">
        <tbody>
          {plan.summaries.map((summary, s) => {
            const { value, low, high, runs, yes, never, heaps, atEnd } = outcomes.summaries[s]!;
            const notes = [
              never > 0 && (runs === 0 ? `in none of the ${never} runs` : `of ${runs} runs; never in ${never}`),
              heaps &&
                `two heaps: ${heaps.low} runs below ${shownNumber(heaps.between)}, ${heaps.high} above, so the mean describes neither`,
              atEnd > 0 && `in ${atEnd} runs at their very end, so perhaps cut off`,
            ].filter((note) => typeof note === 'string');
            return (
              <Fragment key={summary.name}>
                <tr title={summary.about}>
                  <td>{summary.name}</td>
                  <td className="text-right font-bold whitespace-nowrap">
                    {runs === 0
                      ? 'never'
                      : summary.yesNo
                        ? `${yes} of ${runs}`
                        : `${shownNumber(value)} ${summary.unitLabel}`}
                  </td>
                  <td className="pl-2 text-right text-sm whitespace-nowrap text-faint">
                    {runs === 0
                      ? ''
                      : summary.yesNo
                        ? `${Math.round(low * 100)} to ${Math.round(high * 100)} %`
                        : Number.isFinite(low)
                          ? `${shownNumber(low)} to ${shownNumber(high)}`
                          : 'a single run'}
                  </td>
                </tr>
                {notes.length > 0 && (
                  <tr>
                    <td colSpan={3} className="pb-1 text-sm text-doubt">
                      {notes.join('; ')}
                    </td>
                  </tr>
                )}
              </Fragment>
            );
          })}
        </tbody>
      </table>
      <p className="text-sm">
        <TakeFiles title={`what came out of ${plan.title}`} table={() => outcomesTable(plan, outcomes)} />
      </p>
    </section>
  );
}

/** Mean or share of each summary with its 90 % interval. */
function outcomesTable(plan: Plan, { summaries }: OutcomesAnswer): Cell[][] {
  return [
    ['summary', 'unit', 'is', 'value', 'low90', 'high90', 'runs', 'never'],
    ...plan.summaries.map(({ name, unitLabel, yesNo }, s) => {
      const { value, low, high, runs, never } = summaries[s]!;
      return [name, unitLabel, yesNo ? 'share' : 'mean', value, low, high, runs, never];
    }),
  ];
}
