import type { Plan } from '../../plan/plan.ts';
import type { Design } from '../design/design.ts';
import { parquetOf } from '../../parquet.ts';
import { blockOf } from '../results/block.ts';
import { encodeBlock } from '../results/block-bytes.ts';
import { digestOf, textDigest } from '../../digest.ts';
import type { StudyResults } from '../results/study-results.ts';
import { csvOfTable, studyTable } from '../results/table.ts';
import type { RunResult } from '../runner/simulate.ts';
import { pairedDifference } from '../statistics/differences.ts';
import { summaryEstimate } from '../statistics/intervals.ts';
import type { MatchSearch } from '../match/calibration/match-search.ts';
import type { MatchDefinition } from '../match/read-match.ts';
import { agreementOf, atDate, matchTablesOf, nearestRunOf, posteriorOf, rankingOver, searchOf } from './agreement.ts';
import { apartOf, crossingsOf, differenceBands, fanOf } from './courses.ts';
import { meanFieldOf, meanFieldOfSeries } from './mean-field.ts';
import { runsOf } from './asked-runs.ts';
import { distributionOf, enoughOf, outcomeOf } from './repeats.ts';
import { factorialEffectsOf, groupsOf, pointsOf } from './points.ts';
import { runTableOf } from './run-table.ts';
import { sensitivityOfSummary } from './sensitivity.ts';
import type { AnswerTo, DifferencesAnswer, OutcomeOfSummary, Question, RunKey } from './questions.ts';

/** A study as answers see it. */
export interface AskedStudy {
  readonly plan: Plan;
  readonly design: Design;
  readonly results: StudyResults;
  /** Text of the model, for conditions that are asked of it. */
  readonly text?: string;
  /** Values of parameters by name, in base units; those of the text where none is given. */
  readonly parameters?: Readonly<Record<string, number>>;
  /** What its runs are held against. */
  readonly match?: MatchDefinition;
  /** Of a study that looks for what agrees. */
  readonly search?: MatchSearch;
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
    case 'groups':
      return groupsOf(study, question.by);
    case 'run table':
      return runTableOf(study, question);
    case 'runs':
      return runsOf(study, question.point).map(({ seed, steps }): RunKey => ({ seed, steps }));
    case 'agreement':
      return agreementOf(study, question);
    case 'at a date':
      return atDate(study, question);
    case 'nearest run':
      return nearestRunOf(study, question);
    case 'ranking':
      return rankingOver([study], question);
    case 'mean field':
      return meanFieldOf(study, question);
    case 'mean field of a series':
      return meanFieldOfSeries(study, question);
    case 'posterior':
      return posteriorOf(study);
    case 'next runs':
      return searchOf(study).missingJobs().slice(0, MOST_NEXT);
    case 'match tables':
      return matchTablesOf(study, question);
    case 'distribution':
      return distributionOf(runsOf(study), question.summary);
    case 'enough':
      return enoughOf(runsOf(study), question.summary);
    case 'apart':
      return apartOf(study, question.course);
    case 'crossings':
      return crossingsOf(study, question);
    case 'outcome':
      return outcomeOf(study.text ?? '', runsOf(study), question.condition);
    case 'effects':
      return factorialEffectsOf(study, question.summary);
    case 'sensitivity':
      return sensitivityOfSummary(study.plan, study.design, study.results, question.summary);
    case 'differences':
      return differencesOf(study, question.base);
    case 'difference fan':
      return differenceBands(study, question);
    case 'table':
      return csvOfTable(studyTable(study.plan, study.design, study.results, question.what));
    case 'parquet': {
      const { header, rows } = studyTable(study.plan, study.design, study.results, question.what);
      return parquetOf(header, rows, question.facts);
    }
    case 'table size':
      return tableSize(study);
    case 'block':
      return encodeBlock(blockOf(study.results.all()), textDigest(study.text ?? ''));
    case 'digest':
      return digestOfStudy(study, question);
  }
}

/** Runs that are given at a time. */
const MOST_NEXT = 2000;

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
        ...summaryEstimate(
          runs.map(({ summaries }) => summaries[s]!),
          yesNo,
        ),
        atEnd: timeUnit === undefined ? 0 : runs.filter(isAtEnd).length,
      };
    }),
  };
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

/** Measured on the first run, as all are about alike. */
function tableSize(study: AskedStudy): number {
  const { plan, design, results } = study;
  const runs = runsOf(study).length;
  const tables = (['rows', 'summaries'] as const).map(
    (what) => csvOfTable(studyTable(plan, design, results, what, 1)).length,
  );
  return runs === 0 ? 0 : 1.2 * runs * (tables[0]! + tables[1]!);
}

function digestOfStudy(study: AskedStudy, { like, isOver }: Extract<Question, { is: 'digest' }>): string {
  const { design, results, search } = study;
  if (search) {
    const isDone = search.missingJobs().length === 0;
    const { posterior, bestPoint } = search;
    const found = posterior ? [...posterior.draws, posterior.weights] : bestPoint ? [bestPoint.values] : [];
    return isDone && found.length > 0
      ? digestOf(
          found.map((numbers) => Float64Array.from(numbers)),
          like,
        )
      : '';
  }
  const runs = results.inOrder(design).flat();
  const present = runs.filter((result) => result !== undefined);
  return results.finished().failed + present.length < runs.length && !isOver
    ? ''
    : digestOf(
        present.flatMap((result) => [result.rows, result.summaries]),
        like,
      );
}
