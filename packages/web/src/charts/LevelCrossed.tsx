import type { AnswerTo, Course, Estimate, Plan, RunKey } from '@vole/core';
import { useState } from 'react';
import type { ChartLevel } from './level-lines.ts';
import type { StudyKind } from '../store/study-slice.ts';
import { ChoiceWord } from '../words/ChoiceWord.tsx';
import { shownNumber } from '../words/numbers.ts';
import { useAnswerList } from '../studies/use-answer.ts';

interface Group {
  readonly name: string;
  readonly colour?: string;
  /** Point of the design; all runs if absent. */
  readonly point?: string;
}

interface Props {
  readonly kind: StudyKind;
  readonly plan: Plan;
  readonly course: Course;
  readonly groups: readonly Group[];
  readonly level: string;
  readonly onLevel: (level: string) => void;
  readonly onOpen: (group: Group, run: RunKey, step: number) => void;
}

type Crossings = AnswerTo<{ is: 'crossings'; course: Course; level: number; up: boolean }>;

/** A level that a course is held against: when it is first crossed, in how many runs, how often, and how long the course lies beyond it. */
export function LevelCrossed({ kind, plan, course, groups, level, onLevel, onOpen }: Props) {
  const [way, setWay] = useState('rises to');
  const height = levelNumber(level);
  const answers = useAnswerList(
    kind,
    height === undefined
      ? []
      : groups.map(({ point }) => ({
          is: 'crossings' as const,
          course,
          level: height,
          up: way === 'rises to',
          ...(point === undefined ? {} : { point }),
        })),
  );
  const unit = plan.clock.unitLabel;
  return (
    <div className="mb-3 text-sm">
      <p>
        when it <ChoiceWord label="Which way" value={way} options={['rises to', 'falls below']} onChange={setWay} />{' '}
        <input
          aria-label="Level"
          className="word w-20"
          inputMode="decimal"
          placeholder="a level"
          value={level}
          onChange={(event) => onLevel(event.target.value)}
        />
        {level.trim() !== '' && height === undefined && (
          <span role="alert" className="ml-2 text-problem">
            Write a number.
          </span>
        )}
      </p>
      {height !== undefined &&
        groups.map((group, i) => (
          <p key={group.name} data-testid="crossings">
            {groups.length > 1 && (
              <b style={{ color: group.colour }} className="mr-2">
                {group.name}
              </b>
            )}
            {answers[i] && (
              <CrossingWords
                answer={answers[i]}
                unit={unit}
                way={way}
                onOpen={(run, step) => onOpen(group, run, step)}
              />
            )}
          </p>
        ))}
    </div>
  );
}

/** The level as a number, if it is one. */
function levelNumber(level: string): number | undefined {
  const height = Number(level.trim().replace(/^−/, '-'));
  return level.trim() === '' || !Number.isFinite(height) ? undefined : height;
}

/** The level as a line of a chart, if there is one. */
export function levelLine(level: string): ChartLevel[] {
  const height = levelNumber(level);
  return height === undefined ? [] : [{ name: 'level', heights: [height] }];
}

interface WordsProps {
  readonly answer: NonNullable<Crossings>;
  readonly unit: string;
  readonly way: string;
  readonly onOpen: (run: RunKey, step: number) => void;
}

function CrossingWords({ answer, unit, way, onOpen }: WordsProps) {
  const { first, times, beyond, runs, earliest } = answer;
  const crossed = runs - first.never;
  const does = way === 'rises to' ? 'rises to it' : 'falls below it';
  const side = way === 'rises to' ? 'at or above it' : 'below it';
  if (crossed === 0)
    return (
      <>
        never {does} in {runs} runs; {side} for {withInterval(beyond)} {unit}
      </>
    );
  return (
    <>
      first after {withInterval(first)} {unit}, in {crossed} of {runs} runs
      {crossed < runs && ' (mean of these)'}; {withInterval(times)} times a run; {side} for {withInterval(beyond)}{' '}
      {unit}
      {earliest.map((run) => (
        <button key={run.seed} type="button" className="link ml-2" onClick={() => onOpen(run, run.step)}>
          earliest: seed {run.seed} in Watch
        </button>
      ))}
    </>
  );
}

/** Mean and its 90 % interval. */
function withInterval({ value, low, high }: Estimate): string {
  return Number.isFinite(low) && high > low
    ? `${shownNumber(value)} (${shownNumber(low)} to ${shownNumber(high)})`
    : shownNumber(value);
}
