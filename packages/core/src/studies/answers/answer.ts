import type { Plan } from '../../plan/plan.ts';
import type { Design } from '../design/design.ts';
import { pointAt } from '../design/design.ts';
import { digestOf } from '../results/digest.ts';
import type { StudyResults } from '../results/study-results.ts';
import { studyTable } from '../results/table.ts';
import type { RunResult } from '../runner/simulate.ts';
import type { Bands } from '../statistics/bands.ts';
import { bandsOf, measureOf, valueInRow } from '../statistics/bands.ts';
import { pairedDifference } from '../statistics/differences.ts';
import { summaryEstimate } from '../statistics/intervals.ts';
import type { Scores } from '../statistics/scores.ts';
import { scoresOf } from '../statistics/scores.ts';
import { apartOf, distributionOf, enoughOf, outcomeOf } from './repeats.ts';
import { sensitivityOfSummary } from './sensitivity.ts';
import type {
  AnswerTo,
  DifferencesAnswer,
  FanAnswer,
  OutcomeOfSummary,
  PointAnswer,
  Question,
  RunKey,
} from './questions.ts';

/** A study as answers see it. */
export interface AskedStudy {
  readonly plan: Plan;
  readonly design: Design;
  readonly results: StudyResults;
  /** Text of the model, for conditions that are asked of it. */
  readonly text?: string;
}

/** Answers a question from the results that are there. */
export function answerTo<Q extends Question>(study: AskedStudy, question: Q): AnswerTo<Q>;
export function answerTo(study: AskedStudy, question: Question): AnswerTo<Question> {
  switch (question.is) {
    case 'fan':
      return fanOf(study, question);
    case 'outcomes':
      return outcomesOf(study);
    case 'points':
      return pointsOf(study, question.most);
    case 'runs':
      return runsOf(study, question.point).map(({ seed, steps }): RunKey => ({ seed, steps }));
    case 'scores':
      return scores(study, question);
    case 'distribution':
      return distributionOf(runsOf(study), question.summary);
    case 'enough':
      return enoughOf(runsOf(study), question.summary);
    case 'apart':
      return apartOf(study.plan, runsOf(study), question.measure);
    case 'outcome':
      return outcomeOf(study.text ?? '', runsOf(study), question.condition);
    case 'sensitivity':
      return sensitivityOfSummary(study.plan, study.design, study.results, question.summary);
    case 'differences':
      return differencesOf(study, question.base);
    case 'difference fan':
      return differenceBands(study, question);
    case 'table':
      return studyTable(study.plan, study.design, study.results, question.what);
    case 'table size':
      return tableSize(study);
    case 'digest':
      return digestOfStudy(study, question.like);
  }
}

/** Runs that came to their end, in the order of the design. */
function runsOf({ design, results }: AskedStudy, point?: string): RunResult[] {
  return results
    .inOrder(design)
    .filter((_, place) => point === undefined || pointAt(design, place).id === point)
    .flat()
    .filter((result) => result !== undefined);
}

/** The bands of a measure, for those who ask for them in different ways. */
function bandsAt(
  { plan, design, results }: AskedStudy,
  measure: number,
  runs: readonly RunResult[],
  point?: string,
): Bands {
  const name = JSON.stringify(['bands', measure, point, design.seeds.length]);
  return results.remembered(name, () => bandsOf(runs, measure, plan.measures.length));
}

function fanOf(study: AskedStudy, { measure, point, lines }: Extract<Question, { is: 'fan' }>): FanAnswer | undefined {
  const width = study.plan.measures.length;
  const runs = runsOf(study, point);
  if (runs.length === 0 || measure < 0 || measure >= width) return undefined;
  return {
    bands: bandsAt(study, measure, runs, point),
    lines: runs
      .slice(0, lines)
      .map((run) => ({ seed: run.seed, steps: run.steps, values: measureOf(run, measure, width) })),
  };
}

function outcomesOf(study: AskedStudy): AnswerTo<{ is: 'outcomes' }> {
  const { plan } = study;
  const runs = runsOf(study);
  const { stepLength } = plan.clock;
  return {
    runs: runs.length,
    summaries: plan.summaries.map(({ yesNo, timeUnit }, s): OutcomeOfSummary => {
      const isAtEnd = ({ summaries, steps }: RunResult): boolean =>
        Math.abs(summaries[s]! * timeUnit! - steps * stepLength) < 1e-9 * steps * stepLength;
      return {
        ...estimateOf(runs, s, yesNo),
        atEnd: timeUnit === undefined ? 0 : runs.filter(isAtEnd).length,
      };
    }),
  };
}

function estimateOf(runs: readonly RunResult[], summary: number, yesNo: boolean): ReturnType<typeof summaryEstimate> {
  return summaryEstimate(
    runs.map(({ summaries }) => summaries[summary]!),
    yesNo,
  );
}

function pointsOf({ plan, design, results }: AskedStudy, most: number): PointAnswer[] {
  return results.inOrder(design, most).map((all, place) => {
    const runs = all.filter((result) => result !== undefined);
    return {
      ...pointAt(design, place),
      runs: runs.length,
      estimates: plan.summaries.map(({ yesNo }, s) => estimateOf(runs, s, yesNo)),
    };
  });
}

function differencesOf({ plan, design, results }: AskedStudy, base: number): DifferencesAnswer[] {
  const runs = results.inOrder(design);
  const summaryOf = (place: number, s: number): (number | undefined)[] => runs[place]!.map((run) => run?.summaries[s]);
  if (!runs[base]) return [];
  return runs.flatMap((_, place) =>
    place === base
      ? []
      : [{ place, summaries: plan.summaries.map((_, s) => pairedDifference(summaryOf(base, s), summaryOf(place, s))) }],
  );
}

/** Bands of what runs of one point have more than those of another with the same seed; one that has ended keeps its last value. */
function differenceBands(
  { plan, design, results }: AskedStudy,
  { measure, base, other }: Extract<Question, { is: 'difference fan' }>,
): Bands | undefined {
  const width = plan.measures.length;
  const runs = results.inOrder(design);
  const pairs = (runs[base] ?? []).flatMap((a, i): [RunResult, RunResult][] => {
    const b = runs[other]?.[i];
    return a && b ? [[a, b]] : [];
  });
  if (pairs.length === 0 || measure < 0 || measure >= width) return undefined;
  const differences = pairs.map(([a, b]): RunResult => {
    const rows = Math.max(a.rows.length, b.rows.length) / width;
    const values = Float64Array.from(
      { length: rows },
      (_, row) => valueInRow(b, measure, width, row) - valueInRow(a, measure, width, row),
    );
    return { ...a, rows: values };
  });
  return bandsOf(differences, 0, 1);
}

function scores(study: AskedStudy, { measure, observed }: Extract<Question, { is: 'scores' }>): Scores | undefined {
  const { measures, clock } = study.plan;
  const runs = runsOf(study);
  if (runs.length === 0 || measure < 0 || measure >= measures.length) return undefined;
  return scoresOf(observed, bandsAt(study, measure, runs), runs, measure, measures.length, clock.stepLength);
}

/** Measured on the first run, as all are about alike. */
function tableSize(study: AskedStudy): number {
  const { plan, design, results } = study;
  const runs = runsOf(study).length;
  const tables = (['rows', 'summaries'] as const).map((what) => studyTable(plan, design, results, what, 1).length);
  return runs === 0 ? 0 : 1.2 * runs * (tables[0]! + tables[1]!);
}

function digestOfStudy({ design, results }: AskedStudy, like: string | undefined): string {
  const runs = results.inOrder(design).flat();
  const present = runs.filter((result) => result !== undefined);
  return present.length < runs.length
    ? ''
    : digestOf(
        present.flatMap((result) => [result.rows, result.summaries]),
        like,
      );
}
