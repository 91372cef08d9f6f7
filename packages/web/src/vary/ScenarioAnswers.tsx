import { Meaning } from '../manual/Meaning.tsx';
import type { Cell, Course, DifferencesAnswer, Plan, PointAnswer, RunKey } from '@vole/core';
import { canRead, combinationWords, designOf, plainCourse, seedsEach, seriesColour, stepWords } from '@vole/core';
import { useState } from 'react';
import type { NamedBands } from '../charts/BandsChart.tsx';
import { BandsChart } from '../charts/BandsChart.tsx';
import { bandsTable } from '../charts/bands-table.ts';
import { TakeFiles } from '../files/TakeFiles.tsx';
import { ChartFrame } from '../charts/ChartFrame.tsx';
import { CoursePicker, courseWords } from '../charts/CoursePicker.tsx';
import type { StudyRow } from '../storage/schema.ts';
import { useAppSelector } from '../store/store.ts';
import { LevelCrossed, levelLine } from '../charts/LevelCrossed.tsx';
import { useLevels } from '../charts/use-levels.ts';
import { useAnswer, useAnswerList } from '../studies/use-answer.ts';
import { useOpenPointRun } from './open-point-run.ts';
import { RunButtons } from './RunButtons.tsx';
import { ChoiceWord } from '../words/ChoiceWord.tsx';
import { shownNumber } from '../words/numbers.ts';

interface Props {
  readonly plan: Plan;
  readonly study: StudyRow;
  readonly names: readonly string[];
  /** Points of the scenarios. */
  readonly points: readonly PointAnswer[];
  /** Runs of the scenario that is picked. */
  readonly group: readonly RunKey[];
  readonly picked: number;
  readonly onPick: (place: number) => void;
}

/** Scenarios over shared seeds: their courses in one chart, what each has more than the first run by run, and what that comes to in each summary. */
export function ScenarioAnswers({ plan, study, names, points, group, picked, onPick }: Props) {
  const theme = useAppSelector((state) => state.interface.theme);
  const [wish, setWish] = useState<Course>(plainCourse(0));
  const [level, setLevel] = useState('');
  const [base, setBase] = useState(0);
  const course = canRead(wish, plan.measures.length) ? wish : plainCourse(0);
  const levels = useLevels('vary', plan, course);
  const open = useOpenPointRun(plan, study);
  const fans = useAnswerList(
    'vary',
    points.map(({ id }) => ({ is: 'fan' as const, course, point: id, lines: 0 })),
  );
  const isShared = !designOf(study).ownSeeds;
  const others = names.map((_, place) => place).filter((place) => place !== base);
  const less = useAnswerList(
    'vary',
    isShared ? others.map((other) => ({ is: 'difference fan' as const, course, base, other })) : [],
  );
  const answered = useAnswer('vary', isShared ? { is: 'differences', base } : undefined);
  // Against the one that was chosen before nothing is shown.
  const differences = answered?.question.base === base ? answered.answer : [];
  const colourOf = (place: number): string => seriesColour(place, theme);
  const groups = names.flatMap((name, place) => {
    const bands = fans[place]?.bands;
    return bands ? [{ name, colour: colourOf(place), bands }] : [];
  });
  const lessGroups = others.flatMap((place, i) => {
    const bands = less[i];
    return bands ? [{ name: names[place]!, colour: colourOf(place), bands }] : [];
  });
  const name = courseWords(plan, course);
  return (
    <>
      <div className="flex min-h-0 min-w-0 flex-[3] flex-col gap-4">
        <ChartFrame
          className="flex-[3]"
          means="bands-over-runs"
          title={name}
          note={`line: median; bands: 50 % and 90 % of ${seedsEach(study)} runs each${endedWords(plan, groups)}`}
          table={() => bandsTable(plan, course, 'scenario', groups)}
        >
          <div className="flex h-full flex-col">
            <div className="text-sm">
              <CoursePicker plan={plan} course={course} every={study.every} onChange={setWish} />
            </div>
            <div className="min-h-0 flex-1">
              {groups.length > 0 && (
                <BandsChart plan={plan} groups={groups} levels={[...levels, ...levelLine(level)]} />
              )}
            </div>
          </div>
        </ChartFrame>
        {isShared && lessGroups.length > 0 && (
          <ChartFrame
            className="flex-[2]"
            means="differences-of-scenarios"
            title={`${name}, less that of “${names[base]!}”`}
            note={`seed by seed; bands: 50 % and 90 % of ${seedsEach(study)} pairs`}
            table={() => bandsTable(plan, course, 'scenario', lessGroups)}
          >
            <BandsChart plan={plan} groups={lessGroups} />
          </ChartFrame>
        )}
      </div>
      <section aria-label="What it changes" className="card flex min-h-0 flex-[2] flex-col p-4">
        <h2 className="text-[17px]">
          What it changes <Meaning of="differences-of-scenarios" />
        </h2>
        <div className="min-h-0 flex-1 overflow-auto">
          <LevelCrossed
            kind="vary"
            plan={plan}
            course={course}
            groups={names.flatMap((group, place) =>
              points[place] ? [{ name: group, colour: colourOf(place), point: points[place].id }] : [],
            )}
            level={level}
            onLevel={setLevel}
            onOpen={({ point }, run, step) => {
              const found = points.find(({ id }) => id === point);
              if (found) open(found, run, step);
            }}
          />
          {isShared ? (
            <>
              <p className="mb-2 text-sm text-faint">
                against{' '}
                <ChoiceWord
                  label="Against"
                  value={names[base]!}
                  options={names}
                  onChange={(chosen) => setBase(names.indexOf(chosen))}
                />
                , mean of pairs with the same seed, and 90 % interval
              </p>
              {plan.summaries.map((summary, s) => (
                <SummaryDifferences
                  key={summary.name}
                  plan={plan}
                  s={s}
                  names={names}
                  differences={differences}
                  colourOf={colourOf}
                />
              ))}
              <p className="text-sm text-faint">{gainWords(plan, differences)}</p>
              <p className="text-sm">
                <TakeFiles
                  title={`differences from ${names[base]!}`}
                  table={() => differencesTable(plan, names, base, differences)}
                />
              </p>
            </>
          ) : (
            <p className="text-faint">
              Each scenario has seeds of its own, so runs make no pairs. Without “own seeds” differences are told here.
            </p>
          )}
        </div>
        <p className="mt-2 flex flex-wrap gap-x-3 border-t border-line pt-2 text-sm">
          {names.map((scenario, place) => (
            <button
              key={scenario}
              type="button"
              className={place === picked ? 'font-semibold' : 'link'}
              title={points[place] && combinationWords(plan, study, points[place].values)}
              onClick={() => onPick(place)}
            >
              {scenario}
            </button>
          ))}
        </p>
        <RunButtons plan={plan} study={study} point={points[picked]} name={names[picked]} runs={group} />
      </section>
    </>
  );
}

/** Paired differences of each scenario from another one, with 90 % intervals. */
function differencesTable(
  plan: Plan,
  names: readonly string[],
  base: number,
  differences: readonly DifferencesAnswer[],
): Cell[][] {
  return [
    ['summary', 'unit', 'scenario', 'against', 'difference', 'low90', 'high90', 'pairs'],
    ...plan.summaries.flatMap(({ name, unitLabel }, s) =>
      differences.map(({ place, summaries }): Cell[] => {
        const { value, low, high, runs } = summaries[s]!.difference;
        return [name, unitLabel, names[place]!, names[base]!, value, low, high, runs];
      }),
    ),
  ];
}

interface DifferenceProps {
  readonly plan: Plan;
  readonly s: number;
  readonly names: readonly string[];
  readonly differences: readonly DifferencesAnswer[];
  readonly colourOf: (place: number) => string;
}

/** What the scenarios change in one summary. */
function SummaryDifferences({ plan, s, names, differences, colourOf }: DifferenceProps) {
  const { name, unitLabel, yesNo, about } = plan.summaries[s]!;
  const signed = (value: number): string => {
    const shown = yesNo ? `${shownNumber(Math.abs(value) * 100, 2)}` : shownNumber(Math.abs(value));
    return `${value < 0 ? '−' : value > 0 ? '+' : ''}${shown}`;
  };
  const unit = yesNo ? ' points of 100' : unitLabel ? ` ${unitLabel}` : '';
  return (
    <div className="mb-3" title={about}>
      <h3 className="font-semibold">{name}</h3>
      {differences.map(({ place, summaries }) => {
        const { difference, ahead, same, never } = summaries[s]!;
        const pairs = difference.runs;
        const more = Math.round(ahead.value * pairs - same / 2);
        return (
          <p key={place} className="flex flex-wrap items-baseline justify-between gap-x-3 border-t border-line py-0.5">
            <span className="font-semibold" style={{ color: colourOf(place) }}>
              {names[place]}
            </span>
            <span className="text-right">
              <b>{pairs === 0 ? 'no pairs' : `${signed(difference.value)}${unit}`}</b>{' '}
              <span className="text-sm text-faint">
                {Number.isFinite(difference.low) ? `${signed(difference.low)} to ${signed(difference.high)}` : ''}
              </span>
            </span>
            <span className="w-full text-sm text-faint">
              {pairs > 0 && `more in ${more} of ${pairs} seeds${same > 0 ? `, the same in ${same}` : ''}`}
              {never > 0 && `; ${never} pairs without a value`}
            </span>
          </p>
        );
      })}
    </div>
  );
}

/** Which scenarios had no run left before the others ended. */
function endedWords(plan: Plan, groups: readonly NamedBands[]): string {
  const lastOf = ({ bands }: NamedBands): number => bands.steps.at(-1) ?? 0;
  const last = Math.max(0, ...groups.map(lastOf));
  return groups
    .filter((group) => lastOf(group) < last)
    .map((group) => `; all of “${group.name}” had ended by ${stepWords(plan, lastOf(group))}`)
    .join('');
}

/** How much the same seeds helped, for the first summary that is a number. */
function gainWords(plan: Plan, differences: readonly DifferencesAnswer[]): string {
  const s = plan.summaries.findIndex(({ yesNo }) => !yesNo);
  const gain = differences[0]?.summaries[s]?.gain;
  if (gain === undefined || !Number.isFinite(gain)) return '';
  return `The same seeds in each: for ${plan.summaries[s]!.name} it would take about ${shownNumber(gain, 2)} times as many seeds without pairing.`;
}
