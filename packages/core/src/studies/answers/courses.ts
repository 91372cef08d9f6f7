import type { RunResult } from '../runner/simulate.ts';
import type { Bands } from '../statistics/bands.ts';
import { bandsOf, valueInRow } from '../statistics/bands.ts';
import type { Course } from '../statistics/course.ts';
import { canRead, courseIn, runsRead } from '../statistics/course.ts';
import { courseDepths } from '../statistics/band-depth.ts';
import type { Estimate } from '../statistics/intervals.ts';
import { meanEstimate, summaryEstimate } from '../statistics/intervals.ts';
import type { AskedStudy } from './answer.ts';
import { runsOf } from './asked-runs.ts';
import { runsWhere } from './repeats.ts';
import type { ApartAnswer, CrossingAnswer, FanAnswer, Question, RunKey } from './questions.ts';

/** Answers about the course of what runs measure. */

/** The bands of a course, for those who ask for them in different ways. */
function bandsAt(
  { plan, design, results }: AskedStudy,
  course: Course,
  runs: readonly RunResult[],
  key: readonly (string | undefined)[] = [],
): Bands {
  const width = plan.measures.length;
  return results.remembered(JSON.stringify(['bands', course, key, design.seeds.length]), () =>
    course.form === 'as measured' && course.of.length === 1
      ? bandsOf(runs, course.of[0]!, width)
      : bandsOf(runsRead(runs, width, course), 0, 1),
  );
}

export function fanOf(
  study: AskedStudy,
  { course, point, lines, where }: Extract<Question, { is: 'fan' }>,
): FanAnswer | undefined {
  const width = study.plan.measures.length;
  const all = runsOf(study, point);
  const runs = where ? runsWhere(study.text ?? '', all, where) : all;
  if (runs.length === 0 || !canRead(course, width)) return undefined;
  return {
    bands: bandsAt(study, course, runs, [point, JSON.stringify(where)]),
    lines: runs
      .slice(0, lines)
      .map((run) => ({ seed: run.seed, steps: run.steps, values: courseIn(run.rows, width, course, run.every) })),
  };
}

/** Bands of what runs of one point have more than those of another with the same seed; one that has ended keeps its last value. */
export function differenceBands(
  { plan, design, results }: AskedStudy,
  { course, base, other }: Extract<Question, { is: 'difference fan' }>,
): Bands | undefined {
  const width = plan.measures.length;
  const runs = results.inOrder(design);
  const pairs = (runs[base] ?? []).flatMap((a, i): [RunResult, RunResult][] => {
    const b = runs[other]?.[i];
    return a && b ? [[a, b]] : [];
  });
  if (pairs.length === 0 || !canRead(course, width)) return undefined;
  const differences = pairs.map((pair): RunResult => {
    const [a, b] = runsRead(pair, width, course) as [RunResult, RunResult];
    const rows = Math.max(a.rows.length, b.rows.length);
    return {
      ...a,
      rows: Float64Array.from({ length: rows }, (_, row) => valueInRow(b, 0, 1, row) - valueInRow(a, 0, 1, row)),
    };
  });
  return bandsOf(differences, 0, 1);
}

/** The most typical run and those that stand apart in a course. */
export function apartOf(study: AskedStudy, course: Course): ApartAnswer | undefined {
  const width = study.plan.measures.length;
  const runs = runsOf(study);
  if (runs.length < 2 || !canRead(course, width)) return undefined;
  const { typical, apart, unusual } = courseDepths(runs.map(({ rows, every }) => courseIn(rows, width, course, every)));
  const keyOf = (place: number): RunKey => ({ seed: runs[place]!.seed, steps: runs[place]!.steps });
  return {
    typical: keyOf(typical),
    apart: apart.map(({ place, row, isAbove, share }) => ({
      ...keyOf(place),
      step: row * runs[place]!.every,
      isAbove,
      share,
    })),
    unusual: unusual.map(({ place, row, isAbove }) => ({ ...keyOf(place), step: row * runs[place]!.every, isAbove })),
    runs: runs.length,
  };
}

/** When and how often a course crosses a level, over the runs of one point or of all. Where it stands at first is no crossing. */
export function crossingsOf(
  study: AskedStudy,
  { course, level, up, point }: Extract<Question, { is: 'crossings' }>,
): CrossingAnswer | undefined {
  const { measures, clock } = study.plan;
  const runs = runsOf(study, point);
  if (runs.length === 0 || !canRead(course, measures.length)) return undefined;
  const found = runs.map((run) => {
    const values = courseIn(run.rows, measures.length, course, run.every);
    const rowTime = run.every * clock.stepLength;
    return { seed: run.seed, steps: run.steps, every: run.every, rowTime, ...crossingsIn(values, level, up) };
  });
  const crossing = found.filter(({ first }) => first !== undefined);
  return {
    first: summaryEstimate(
      found.map(({ first, rowTime }) => (first === undefined ? NaN : first * rowTime)),
      false,
    ),
    times: fromZero(meanEstimate(found.map(({ times }) => times))),
    beyond: fromZero(meanEstimate(found.map(({ beyond, rowTime }) => beyond * rowTime))),
    runs: runs.length,
    earliest: crossing
      .map(({ seed, steps, first, every }) => ({ seed, steps, step: first! * every }))
      .sort((a, b) => a.step - b.step || a.seed - b.seed)
      .slice(0, 1),
  };
}

/** An estimate of what is never below 0. */
function fromZero(estimate: Estimate): Estimate {
  return { ...estimate, low: Math.max(0, estimate.low) };
}

/** The row of the first crossing, the number of crossings, and the number of rows that lie beyond the level. */
function crossingsIn(
  values: Float64Array,
  level: number,
  up: boolean,
): { readonly first: number | undefined; readonly times: number; readonly beyond: number } {
  let first: number | undefined;
  let times = 0;
  let beyond = 0;
  let before: boolean | undefined;
  values.forEach((value, row) => {
    if (Number.isNaN(value)) return;
    const isBeyond = up ? value >= level : value < level;
    if (isBeyond) beyond++;
    if (isBeyond && before === false) {
      times++;
      first ??= row;
    }
    before = isBeyond;
  });
  return { first, times, beyond };
}
