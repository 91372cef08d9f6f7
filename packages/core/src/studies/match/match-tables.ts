import type { Cell } from '../../csv.ts';
import { csvOf } from '../../csv.ts';
import type { MatchedSeries } from './agreement.ts';
import { distributionsOf, hasPart, isHeldOut, patternsOf, SCORES, scoresOfSeries } from './agreement.ts';
import { ensembleOf, quantilesCounted } from './ensemble.ts';
import type { ScoreName } from './agreement.ts';
import type { Posterior } from './calibration/match-search.ts';
import type { Plan } from '../../plan/plan.ts';
import { heading, unitOfParameter } from '../results/table.ts';
import type { RunWithValues } from './match-runs.ts';
import { limitOf, matchedSeries } from './match-runs.ts';
import type { MatchDefinition } from './read-match.ts';

/** The tables of a match, as the command line writes them and the page shows them. */

/** Each of them as rows, the heading first. */
export interface MatchTableRows {
  readonly scores: Cell[][];
  readonly predictive: Cell[][];
  /** Of a search that finds draws. */
  readonly posterior?: Cell[][];
}

/** The tables of a match. @param runs those that stand for the model */
export function matchTables(
  match: MatchDefinition,
  runs: readonly RunWithValues[],
  plan: Plan,
  posterior?: Posterior,
): MatchTableRows {
  const matched = matchedSeries(match, runs, plan, limitOf(match.steps, runs));
  const names = match.series.map(({ name }) => name);
  return {
    scores: [[...SCORE_COLUMNS], ...scoreRows(names, matched)],
    predictive: [predictiveColumns(plan), ...predictiveRows(names, matched)],
    ...(posterior ? { posterior: posteriorRows(posterior, plan) } : {}),
  };
}

/** The same as CSV, by what each holds; none of no match. */
export function csvOfMatch(tables: MatchTableRows | undefined): Record<string, string> {
  if (!tables) return {};
  const { scores, predictive, posterior } = tables;
  return {
    scores: csvOf(scores),
    predictive: csvOf(predictive),
    ...(posterior ? { posterior: csvOf(posterior) } : {}),
  };
}

/** How each score is called. */
const SCORE_WORDS: Readonly<Record<ScoreName, string>> = {
  bias: 'bias',
  meanAbsoluteError: 'mean absolute error',
  rootMeanSquareError: 'root mean square error',
  normalisedError: 'normalised error',
  inside50: 'inside 50 %',
  inside90: 'inside 90 %',
  rankedProbabilityScore: 'ranked probability score',
  skillAgainstMean: 'skill against the mean',
  skillAgainstLast: 'skill against the last value',
};

/** Rows of series, score, value, low, high (empty where one run alone has no interval): scores, then patterns (median of the runs with the band of nine in ten), then distributions. */
function scoreRows(names: readonly string[], matched: readonly MatchedSeries[]): Cell[][] {
  return matched.flatMap((series, place) => {
    const name = names[place]!;
    const parts = (['used', 'held out'] as const).filter((part) => hasPart(series, part));
    const scores = parts.flatMap((part) => {
      const found = scoresOfSeries(series, part);
      const called = (word: string): string => (part === 'used' ? word : `held out ${word}`);
      return [
        [name, called('points'), found.points, NaN, NaN],
        ...SCORES.map((score) => {
          const { value, low, high } = found[score];
          return [
            name,
            called(SCORE_WORDS[score]),
            value,
            ...[low, high].map((end) => (Number.isFinite(end) ? end : NaN)),
          ];
        }),
      ];
    });
    const patterns = patternsOf(series).flatMap(({ pattern, observed, median, low, high }) => [
      [name, `${pattern} observed`, observed, NaN, NaN],
      [name, pattern, median, low, high],
    ]);
    const distributions = distributionsOf(series).flatMap(({ time, furthest, area }) => [
      [name, `furthest apart at ${time}`, furthest, NaN, NaN],
      [name, `area between at ${time}`, area, NaN, NaN],
    ]);
    return [...scores, ...patterns, ...distributions];
  });
}

/** Columns of the table of scores. */
const SCORE_COLUMNS = ['series', 'score', 'value', 'low', 'high'] as const;

/** Columns of the table of what is predicted; values are in the unit of their series. */
function predictiveColumns(plan: Plan): Cell[] {
  const values = ['observed', 'median', 'low50', 'high50', 'low90', 'high90'];
  return ['series', heading('time', plan.clock.unitLabel), ...values, 'held_out'];
}

/** Of every observation what the runs give in its place, with the error of observing. */
function predictiveRows(names: readonly string[], matched: readonly MatchedSeries[]): Cell[][] {
  return matched.flatMap((series, place) => {
    const { observations, exact, seeds, error } = series;
    const each = exact.map(() => 1);
    return ensembleOf(exact, seeds, observations, error, series.series).map((at, i) => {
      const [low90, low50, median, high50, high90] = quantilesCounted(at, each, [0.05, 0.25, 0.5, 0.75, 0.95]);
      const { time, value } = observations[i]!;
      const heldOut = isHeldOut(observations[i]!, series) ? 1 : 0;
      return [names[place]!, time, value, median!, low50!, high50!, low90!, high90!, heldOut];
    });
  });
}

/** A row a draw with its weight, the names of the unknowns first. */
function posteriorRows({ parameters, draws, weights }: Posterior, plan: Plan): Cell[][] {
  return [
    [...parameters.map((name) => heading(name, unitOfParameter(plan, name))), 'weight'],
    ...draws.map((draw, i) => [...draw, weights[i]!]),
  ];
}
