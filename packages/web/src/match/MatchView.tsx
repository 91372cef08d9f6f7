import type { ObservedReading, Plan, Scores } from '@vole/core';
import { plainCourse } from '@vole/core';
import { useMemo, useRef, useState } from 'react';
import { Link, useNavigate } from 'react-router';
import { ChartFrame } from '../charts/ChartFrame.tsx';
import { FanChart, MOST_CIRCLES, MOST_NEAR } from '../charts/FanChart.tsx';
import { FanRibbon } from '../ribbon/FanRibbon.tsx';
import { shownNumber } from '../words/numbers.ts';
import { provenanceOf } from '../studies/provenance.ts';
import { NothingMeasured, StaleNote } from '../studies/study-views.tsx';
import { ChoiceWord } from '../words/ChoiceWord.tsx';
import { useAnswer } from '../studies/use-answer.ts';
import { useShownStudy, useTextPlan } from '../studies/use-study-plan.ts';
import { openRun } from '../simulation/open-run.ts';
import type { ObservedRow } from '../storage/schema.ts';
import { useAppSelector } from '../store/store.ts';
import type { TableHead } from '../observed/read-table.ts';
import { takeFile, useReadTable } from '../observed/table-reader.ts';
import { useObserved } from '../observed/use-observed.ts';

/** Observed points over the fan of the runs of Repeat: does it agree? */
export function MatchView() {
  const textPlan = useTextPlan();
  const { plan: runPlan, runs } = useShownStudy('repeat');
  const { observed, set } = useObserved();
  const [chosen, setChosen] = useState(0);
  const navigate = useNavigate();
  const study = useAppSelector((state) => state.studies.repeat.study);
  const text = useAppSelector((state) => state.project.text);
  const of = useMemo(() => study && runPlan && provenanceOf(study, runPlan, text), [study, runPlan, text]);
  const plan = runPlan ?? textPlan;
  const { table, reading, problem } = useReadTable(observed, plan);
  const shownPair = observed?.mapping.columns[Math.min(chosen, observed.mapping.columns.length - 1)];
  const series = reading?.series.find(
    ({ column, measure: name }) => column === shownPair?.column && name === shownPair.measure,
  );
  const wanted = runPlan?.measures.findIndex((m) => m.name === series?.measure) ?? -1;
  const isAsked = runs > 0 && wanted >= 0;
  const fan = useAnswer('repeat', isAsked ? { is: 'fan', course: plainCourse(wanted), lines: MOST_NEAR } : undefined);
  const scored = useMemo(
    () => (isAsked && series ? { is: 'scores' as const, measure: wanted, observed: series.points } : undefined),
    [isAsked, series, wanted],
  );
  const scores = useAnswer('repeat', scored)?.answer;
  const measure = fan?.question.course.of[0] ?? wanted;
  const bands = measure === wanted ? fan?.answer?.bands : undefined;
  return (
    <div className="flex h-full flex-col">
      <main className="flex min-h-0 flex-1 gap-4 p-4">
        <div className="flex w-[300px] shrink-0 flex-col gap-4 overflow-auto">
          {plan?.measures.length === 0 && <NothingMeasured plan={plan} />}
          {plan && plan.measures.length > 0 && (
            <MatchSentence
              plan={plan}
              observed={observed}
              table={table}
              reading={reading}
              problem={problem}
              runs={runs}
              chosen={chosen}
              onChoose={setChosen}
              onSet={set}
            />
          )}
          {series && scores && <ScoreCard scores={scores} runs={runs} />}
        </div>
        {plan && fan?.answer && bands && series ? (
          <ChartFrame
            className="flex-1"
            title={`${series.column} observed, ${series.measure} of the model`}
            note={`line: median; bands: 50 % and 90 % of ${bands.runs} runs; circles: observed${series.points.length > MOST_CIRCLES ? `, ${MOST_CIRCLES.toLocaleString('en-GB')} of ${series.points.length.toLocaleString('en-GB')}` : ''}`}
            of={of}
            table={() => [['time', 'observed'], ...series.points.map((point) => [point.time, point.value])]}
          >
            <FanChart
              plan={plan}
              bands={bands}
              lines={fan.answer.lines}
              measure={measure}
              observed={series.points}
              showRuns={false}
              onOpen={(run, step) => {
                openRun(study!, plan, run, step);
                void navigate(`/project/${study!.projectId}/watch`);
              }}
            />
          </ChartFrame>
        ) : (
          <div className="card flex flex-1 flex-col items-center justify-center gap-3 p-6 text-center text-faint">
            <p>
              {shownPair && shownPair.measure === '' && runs > 0
                ? `Choose at the left which measure of the model “${shownPair.column}” was a count of.`
                : runs === 0
                  ? 'The observed points are laid over the fan of many runs.'
                  : 'Import observed data as CSV: a column of times or dates, and columns of values.'}
            </p>
            {runs === 0 && (
              <Link to="../repeat" relative="path" className="btn-strong">
                Run some seeds in Repeat
              </Link>
            )}
          </div>
        )}
      </main>
      {plan && (
        <FanRibbon
          plan={plan}
          bands={bands}
          measure={Math.max(0, measure)}
          observed={series?.points}
          title={
            <b className="font-title">
              {runs} runs and {series?.points.length ?? 0} observed points
            </b>
          }
          note={observed?.name ?? ''}
        />
      )}
    </div>
  );
}

/** In the place of a measure while none is chosen. */
const UNCHOSEN = 'a measure ...';

interface SentenceProps {
  readonly plan: Plan;
  readonly observed: ObservedRow | undefined;
  readonly table: TableHead | undefined;
  readonly reading: ObservedReading | undefined;
  readonly problem: string | undefined;
  readonly runs: number;
  readonly chosen: number;
  readonly onChoose: (series: number) => void;
  readonly onSet: (row: Omit<ObservedRow, 'id' | 'projectId'>) => void;
}

function MatchSentence({ plan, observed, table, reading, problem, runs, chosen, onChoose, onSet }: SentenceProps) {
  const chooser = useRef<HTMLInputElement>(null);
  const [refused, setRefused] = useState<string>();
  const measures = plan.measures.map((m) => m.name);
  const take = async (file: File): Promise<void> => {
    try {
      onSet({ name: file.name, ...(await takeFile(file, measures, plan.clock.start !== undefined)) });
      setRefused(undefined);
    } catch (error) {
      setRefused(
        `“${file.name}” was not taken. ${error instanceof Error ? error.message : String(error)} What was here before is kept.`,
      );
    }
  };
  const remap = (mapping: Partial<ObservedRow['mapping']>): void => {
    if (observed) onSet({ name: observed.name, csv: observed.csv, mapping: { ...observed.mapping, ...mapping } });
  };
  const pair = observed?.mapping.columns[Math.min(chosen, observed.mapping.columns.length - 1)];
  const setPair = (change: Partial<{ column: string; measure: string }>): void =>
    remap({ columns: observed!.mapping.columns.map((old) => (old === pair ? { ...old, ...change } : old)) });
  const series = reading?.series.find(({ column, measure }) => column === pair?.column && measure === pair.measure);
  const free = table?.header.find(
    (name) => name !== observed?.mapping.timeColumn && !observed?.mapping.columns.some((c) => c.column === name),
  );
  return (
    <section aria-label="Comparison" className="card p-4">
      {observed && table && pair ? (
        <p className="font-title text-[17px] leading-8">
          Compare column{' '}
          <ChoiceWord
            label="Value column"
            value={pair.column}
            options={table.header}
            onChange={(column) => setPair({ column })}
          />{' '}
          with{' '}
          <ChoiceWord
            label="Measure"
            value={pair.measure || UNCHOSEN}
            options={pair.measure ? measures : [UNCHOSEN, ...measures]}
            onChange={(measure) => setPair({ measure: measure === UNCHOSEN ? '' : measure })}
          />
          , column{' '}
          <ChoiceWord
            label="Time column"
            value={observed.mapping.timeColumn}
            options={table.header}
            onChange={(timeColumn) => remap({ timeColumn })}
          />{' '}
          being a{' '}
          <ChoiceWord
            label="Time column is"
            value={observed.mapping.timeIs}
            options={['date', 'time']}
            onChange={(timeIs) => remap({ timeIs: timeIs as 'date' | 'time' })}
          />
          , over {runs} runs.
        </p>
      ) : (
        <p className="font-title text-[17px]">Compare the model with what was observed.</p>
      )}
      {observed && (
        <p className="mt-1 text-sm text-faint">
          {observed.name}
          {series
            ? `: ${series.points.length} values${series.gaps ? `, ${series.gaps} ${series.gaps === 1 ? 'gap' : 'gaps'}` : ''}`
            : ''}
        </p>
      )}
      {table && table.notes.length > 0 && <p className="mt-1 text-sm text-faint">{table.notes.join(' ')}</p>}
      {[problem, refused].map(
        (text) =>
          text && (
            <p key={text} role="alert" className="mt-2 text-problem">
              {text}
            </p>
          ),
      )}
      {reading && reading.problems.length > 0 && (
        <ul role="alert" className="mt-2 list-disc pl-5 text-problem">
          {reading.problems.map((text) => (
            <li key={text}>{text}</li>
          ))}
        </ul>
      )}
      <div className="mt-3 flex flex-wrap gap-2">
        <button type="button" className={observed ? 'btn' : 'btn-strong'} onClick={() => chooser.current?.click()}>
          {observed ? 'Other data' : 'Import CSV'}
        </button>
        {observed && free && (
          <button
            type="button"
            className="btn"
            onClick={() => remap({ columns: [...observed.mapping.columns, { column: free, measure: '' }] })}
          >
            One more column
          </button>
        )}
        {observed && observed.mapping.columns.length > 1 && (
          <ChoiceWord
            label="Shown comparison"
            value={`${pair?.column} with ${pair?.measure}`}
            options={observed.mapping.columns.map((c) => `${c.column} with ${c.measure}`)}
            onChange={(text) =>
              onChoose(observed.mapping.columns.findIndex((c) => `${c.column} with ${c.measure}` === text))
            }
          />
        )}
      </div>
      <input
        ref={chooser}
        type="file"
        aria-label="Observed data as CSV"
        accept=".csv,.txt,text/csv"
        className="hidden"
        onChange={(event) => {
          const file = event.target.files?.[0];
          event.target.value = '';
          if (file) void take(file);
        }}
      />
      <StaleNote kind="repeat" />
    </section>
  );
}

function ScoreCard({ scores, runs }: { readonly scores: Scores; readonly runs: number }) {
  const share = (n: number): string => (scores.points > 0 ? `${Math.round((100 * n) / scores.points)} %` : '');
  const lines: [string, string, string][] = [
    ['inside the 50 % band', `${scores.inside50} of ${scores.points}`, share(scores.inside50)],
    ['inside the 90 % band', `${scores.inside90} of ${scores.points}`, share(scores.inside90)],
    ['root mean square error', shownNumber(scores.rootMeanSquareError), ''],
    ['bias (model less observed)', `${scores.bias > 0 ? '+' : ''}${shownNumber(scores.bias)}`, ''],
    ['ranked probability score', shownNumber(scores.rankedProbabilityScore), ''],
  ];
  return (
    <section aria-label="How well does it agree" className="card p-4">
      <h2 className="mb-1 text-[16px]">How well does it agree?</h2>
      <table className="w-full">
        <tbody>
          {lines.map(([name, value, note]) => (
            <tr key={name}>
              <td>{name}</td>
              <td className="text-right font-bold whitespace-nowrap">{value}</td>
              <td className="pl-2 text-right text-sm text-faint">{note}</td>
            </tr>
          ))}
        </tbody>
      </table>
      <p className="mt-1 text-sm text-faint">
        Errors are those of the median of {runs} runs.
        {scores.outside > 0 ? ` ${scores.outside} points lie outside the simulated time.` : ''}
      </p>
    </section>
  );
}
