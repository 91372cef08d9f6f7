import type { AgreementAnswer, Plan, SeriesAgreement } from '@vole/core';
import { stepWords } from '@vole/core';
import { useState } from 'react';
import { useNavigate } from 'react-router';
import { ChartFrame } from '../charts/ChartFrame.tsx';
import { MOST_CIRCLES } from '../charts/observed-points.ts';
import { openRun } from '../simulation/open-run.ts';
import { MeanFieldWish } from '../mean-field/MeanFieldWish.tsx';
import { interfaceActions } from '../store/interface-slice.ts';
import { useAppDispatch, useAppSelector } from '../store/store.ts';
import { askStudy } from '../studies/answers.ts';
import { useAnswer } from '../studies/use-answer.ts';
import { ChoiceWord } from '../words/ChoiceWord.tsx';
import { agreementTable } from './agreement-rows.ts';
import { AtDate } from './AtDate.tsx';
import type { ComparedRuns } from './compared-runs.ts';
import { OverTime } from './OverTime.tsx';
import { ObservedSimulated, Residuals } from './SeriesPlots.tsx';

const FORMS = ['over time', 'residuals', 'observed against simulated', 'at a date'] as const;
type Form = (typeof FORMS)[number];

interface FrameProps {
  readonly plan: Plan;
  readonly compared: ComparedRuns;
  readonly answer: AgreementAnswer;
  readonly series: SeriesAgreement;
  readonly colour: string;
}

/** One series against the runs, in one of several forms. */
export function SeriesFrame({ plan, compared, answer, series, colour }: FrameProps) {
  const [form, setForm] = useState<Form>('over time');
  const [wantedTime, setTime] = useState<number>();
  const place = answer.series.indexOf(series);
  const times = [...new Set(series.observations.map(({ time }) => time))];
  const time = times.find((each) => each === wantedTime) ?? times[Math.floor(times.length / 2)] ?? 0;
  const atDate = useAnswer(
    compared.kind,
    form === 'at a date'
      ? {
          is: 'at a date',
          series: place,
          time,
          of: compared.of,
          ...(compared.point === undefined ? {} : { point: compared.point }),
        }
      : undefined,
  );
  const running = useAppSelector((state) => state.studies[compared.kind].running);
  const meanField = useAnswer(
    compared.kind,
    compared.source === 'runs' && form === 'over time' && !running
      ? {
          is: 'mean field of a series',
          series: place,
          of: compared.of,
          ...(compared.point === undefined ? {} : { point: compared.point }),
        }
      : undefined,
  )?.answer;
  const [showsMeanField, setMeanField] = useState(false);
  const reference =
    showsMeanField && meanField && 'values' in meanField && meanField.values.some(Number.isFinite)
      ? meanField
      : undefined;
  const dispatch = useAppDispatch();
  const navigate = useNavigate();
  const open = async (time: number, value: number): Promise<void> => {
    const { study, of, point, timeline } = compared;
    if (!study) return;
    try {
      const run = await askStudy(study.id, {
        is: 'nearest run',
        series: place,
        time,
        value,
        of,
        ...(point === undefined ? {} : { point }),
      });
      if (!run) return;
      const values = Object.fromEntries(plan.parameters.map(({ name }, i) => [name, run.parameters[i]!]));
      const step = Math.min(run.steps, Math.round(time / plan.clock.stepLength));
      openRun(study, plan, run, step, values, timeline);
      void navigate(`/project/${study.projectId}/watch`);
    } catch (error) {
      dispatch(interfaceActions.noticed({ text: (error as Error).message, tone: 'problem' }));
    }
  };
  const whenWords = (each: number): string => stepWords(plan, each / plan.clock.stepLength);
  const heldOutFrom = series.observations.find(({ isHeldOut }) => isHeldOut)?.time;
  const count = series.observations.length;
  const runs = `${answer.runs}${answer.all > answer.runs ? ` of ${answer.all}` : ''} ${runWords(compared)}`;
  const hasErrors = series.observations.some(({ error }) => error > 0);
  const notes: Readonly<Record<Form, string>> = {
    'over time': `circles: observed${count > MOST_CIRCLES ? `, ${MOST_CIRCLES.toLocaleString('en-GB')} of ${count.toLocaleString('en-GB')}` : ''}${hasErrors ? ', with nine tenths of their error' : ''}; line: median; bands: 50 % and 90 % of ${runs}${hasErrors ? ', error of observing included' : ''}${reference ? '; dashed: mean-field reference' : ''}`,
    residuals: `dots: observed less median; bars: 50 % and 90 % of ${runs} about it${heldOutFrom === undefined ? '' : '; hollow: held out'}`,
    'observed against simulated': `dots: median of ${runs}; bars: 50 % and 90 %; dashed: agreement${heldOutFrom === undefined ? '' : '; hollow: held out'}`,
    'at a date': `${runs}${hasErrors ? ', error of observing included' : ''}`,
  };
  return (
    <ChartFrame
      className="min-h-[340px] flex-1"
      means="scores-against-what-was-observed"
      title={`${series.name}, observed and of the model`}
      note={notes[form]}
      table={() => agreementTable(series, plan)}
    >
      <div className="flex h-full flex-col">
        <div className="flex flex-wrap gap-x-4 text-sm" role="group" aria-label="Shown as">
          {FORMS.map((each) => (
            <button
              key={each}
              type="button"
              aria-pressed={form === each}
              className={form === each ? 'font-semibold' : 'link'}
              onClick={() => setForm(each)}
            >
              {each}
            </button>
          ))}
          {form === 'over time' && compared.source === 'runs' && (
            <MeanFieldWish answer={meanField} isShown={showsMeanField} onShow={setMeanField} />
          )}
          {form === 'at a date' && (
            <ChoiceWord
              label="Date"
              value={whenWords(time)}
              options={times.map(whenWords)}
              onChange={(words) => setTime(times.find((each) => whenWords(each) === words))}
            />
          )}
        </div>
        <div className="min-h-0 flex-1">
          {form === 'over time' && (
            <OverTime
              plan={plan}
              series={series}
              heldOutFrom={heldOutFrom}
              colour={colour}
              reference={reference}
              onOpen={(time, value) => void open(time, value)}
            />
          )}
          {form === 'residuals' && <Residuals plan={plan} series={series} colour={colour} />}
          {form === 'observed against simulated' && <ObservedSimulated plan={plan} series={series} colour={colour} />}
          {form === 'at a date' && atDate?.answer && atDate.question.time === time && (
            <AtDate
              answer={atDate.answer}
              unit={plan.measures.find(({ name }) => name === series.expression)?.unitLabel ?? ''}
              apart={series.distributions.find((each) => each.time === time)}
            />
          )}
        </div>
      </div>
    </ChartFrame>
  );
}

/** What the runs are. Before a search is over they are those that were accepted as they lie near: their fit flatters the model. */
function runWords({ source, posterior }: ComparedRuns): string {
  if (source === 'runs') return 'runs';
  if (posterior?.best) return 'runs at the best point';
  if (posterior?.found?.posterior.left !== undefined) return 'runs at values that are not ruled out';
  return posterior?.isDone ? 'runs at draws of the posterior' : 'runs that lie nearest so far, chosen for that';
}
