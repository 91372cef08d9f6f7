import type { Answers, Course, PairedDifference, Plan } from '@vole/core';
import { pairedDifference, seriesColour } from '@vole/core';
import { useEffect, useState } from 'react';
import { BandsChart } from '../charts/BandsChart.tsx';
import { TakeFiles } from '../files/TakeFiles.tsx';
import { useReadText } from '../simulation/read-texts.ts';
import { useAppSelector } from '../store/store.ts';
import type { StudyRow } from '../storage/schema.ts';
import { askStudy, openAnswers } from '../studies/answers.ts';
import { closeBeside } from '../studies/study-runner.ts';
import { shownNumber } from '../words/numbers.ts';

type Table = Answers['run table'];

interface Found {
  /** Bands of the course in both studies, and the summaries of their runs. */
  readonly bands: readonly Answers['fan'][];
  readonly tables: readonly Table[];
}

interface Props {
  readonly plan: Plan;
  readonly study: StudyRow;
  readonly other: StudyRow;
  readonly course: Course;
  /** Goes up when results come in. */
  readonly version: number;
}

const EVERY_RUN = 1_000_000;

/** Two studies of many seeds beside one another: their courses in one chart, and what differs in each summary that both have. */
export function BesideStudy({ plan, study, other, course, version }: Props) {
  const theme = useAppSelector((state) => state.interface.theme);
  const [found, setFound] = useState<Found & { readonly of: string }>();
  const [problem, setProblem] = useState<string>();
  const [isOpen, setOpen] = useState(false);
  const read = useReadText(other.text);
  const theirs = read?.loaded;
  const of = theirs && courseIn(plan, theirs.plan, course);
  const asked = JSON.stringify([study.id, other.id, course, of]);
  useEffect(() => {
    let isCurrent = true;
    const ask = async (): Promise<void> => {
      const [mine, beside, course, of] = JSON.parse(asked) as [string, string, Course, Course | null];
      if (!of || !isOpen) return;
      const bands = [
        await askStudy(mine, { is: 'fan', course, lines: 0 }),
        await askStudy(beside, { is: 'fan', course: of, lines: 0 }),
      ];
      const whole = { is: 'run table', filter: '', from: 0, count: EVERY_RUN } as const;
      const tables = [await askStudy(mine, whole), await askStudy(beside, whole)];
      if (isCurrent) setFound({ bands, tables, of: asked });
    };
    ask().catch((error: Error) => isCurrent && setProblem(error.message));
    return () => {
      isCurrent = false;
    };
  }, [asked, isOpen, version]);
  useEffect(() => {
    let isCurrent = true;
    openAnswers(other, true).then(
      () => isCurrent && setOpen(true),
      (error: Error) => isCurrent && setProblem(error.message),
    );
    return () => {
      isCurrent = false;
      closeBeside(other.id);
    };
  }, [other]);
  if (read && !of)
    return (
      <p className="p-4 text-doubt">
        The model of “{other.name}” does not measure the same, so it cannot be laid beside.
      </p>
    );
  if (problem)
    return (
      <p role="alert" className="p-4 text-problem">
        {problem}
      </p>
    );
  if (!theirs || found?.of !== asked) return <p className="p-4 text-faint">The other study is being read.</p>;
  const names = [study.name, other.name === study.name ? `${other.name} (2)` : other.name];
  const groups = found.bands.flatMap((answer, i) =>
    answer
      ? [{ name: `${names[i]!}, ${answer.bands.runs} runs`, colour: seriesColour(i, theme), bands: answer.bands }]
      : [],
  );
  const differences = differencesOf(plan, theirs.plan, found.tables);
  return (
    <div className="flex h-full flex-col">
      <div className="min-h-0 flex-1">{groups.length > 0 && <BandsChart plan={plan} groups={groups} />}</div>
      <table className="text-sm" aria-label="Differences of both studies">
        <thead className="text-left text-faint">
          <tr>
            <th className="font-normal">
              “{names[1]}” less “{names[0]}”, seed by seed
            </th>
            <th className="text-right font-normal">mean</th>
            <th className="text-right font-normal">90 %</th>
            <th className="text-right font-normal">pairs</th>
          </tr>
        </thead>
        <tbody>
          {differences.map(({ name, unit, difference }) => (
            <tr key={name} className="border-t border-line">
              <td>{name}</td>
              <td className="text-right font-semibold">
                {shownNumber(difference.value)} {unit}
              </td>
              <td className="text-right text-faint">
                {Number.isFinite(difference.low)
                  ? `${shownNumber(difference.low)} to ${shownNumber(difference.high)}`
                  : ''}
              </td>
              <td className="text-right">{difference.runs}</td>
            </tr>
          ))}
        </tbody>
      </table>
      <p className="text-sm">
        differences:{' '}
        <TakeFiles
          title={`${names[1]!} less ${names[0]!}`}
          table={() => [
            ['summary', 'unit', 'difference', 'low90', 'high90', 'pairs'],
            ...differences.map(({ name, unit, difference: { value, low, high, runs } }) => [
              name,
              unit,
              value,
              low,
              high,
              runs,
            ]),
          ]}
        />
      </p>
    </div>
  );
}

/** The same course in another model, by the names of its measures; nothing where it lacks one. */
function courseIn(plan: Plan, other: Plan, { of, form, whole }: Course): Course | undefined {
  const places = (measures: readonly number[]): number[] =>
    measures.map((m) => other.measures.findIndex(({ name }) => name === plan.measures[m]?.name));
  const course = { of: places(of), form, ...(whole ? { whole: places(whole) } : {}) };
  return [...course.of, ...(course.whole ?? [])].includes(-1) ? undefined : course;
}

/** Differences of the summaries that both models have, over the seeds that both studies have. */
function differencesOf(
  plan: Plan,
  other: Plan,
  [mine, theirs]: readonly Table[],
): { readonly name: string; readonly unit: string; readonly difference: PairedDifference['difference'] }[] {
  const bySeed = new Map(theirs!.rows.map((row) => [row.seed, row]));
  return plan.summaries.flatMap(({ name, unitLabel }, s) => {
    const there = other.summaries.findIndex((summary) => summary.name === name);
    if (there < 0) return [];
    const { difference } = pairedDifference(
      mine!.rows.map(({ summaries }) => summaries[s]),
      mine!.rows.map(({ seed }) => bySeed.get(seed)?.summaries[there]),
    );
    return [{ name, unit: unitLabel, difference }];
  });
}
