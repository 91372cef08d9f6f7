import { quantileSorted } from '../../measures/numeric/gather.ts';
import type { StudySetting } from '../design/design.ts';
import { jobOf, pointAt, pointCount } from '../design/design.ts';
import type { MatchedSeries, ScoreName } from '../match/agreement.ts';
import {
  distributionsOf,
  hasPart,
  isHeldOut,
  patternsOf,
  scoreDifference,
  scoreOfSeries,
  scoreValue,
  scoresOfSeries,
} from '../match/agreement.ts';
import type { MatchSearch } from '../match/calibration/match-search.ts';
import { binsOf, findingsOf, pairsOf } from '../match/calibration/findings.ts';
import { ensembleOf } from '../match/ensemble.ts';
import type { RunWithValues } from '../match/match-runs.ts';
import type { MatchDefinition } from '../match/read-match.ts';
import { limitOf, matchedSeries, observedOf } from '../match/match-runs.ts';
import type { MatchTableRows } from '../match/match-tables.ts';
import { matchTables } from '../match/match-tables.ts';
import { observedFan } from '../match/observed-fan.ts';
import { errorAt } from '../match/observing.ts';
import type { AskedStudy } from './answer.ts';
import type {
  AgreementAnswer,
  AtDateAnswer,
  NearestRunAnswer,
  ObservationAnswer,
  PosteriorAnswer,
  Question,
  RankedPoint,
  RankingAnswer,
  SeriesAgreement,
} from './questions.ts';

/** Answers about how runs agree with what was observed. */

/** Runs that are compared at most, and fewer where there are very many observations, so that an answer takes seconds at most. */
const MOST_COMPARED = 1000;
const LEAST_COMPARED = 50;
const MOST_PAIRS = 100_000;

/** The first of some runs, as many as are compared. */
function compared(runs: readonly RunWithValues[], { series }: MatchDefinition): readonly RunWithValues[] {
  const observations = series.reduce((sum, each) => sum + each.observations.length, 0);
  const most = Math.floor(MOST_PAIRS / Math.max(1, observations));
  return runs.slice(0, Math.max(LEAST_COMPARED, Math.min(MOST_COMPARED, most)));
}

export function agreementOf(
  study: AskedStudy,
  { point }: Extract<Question, { is: 'agreement' }>,
): AgreementAnswer | undefined {
  const { match, plan } = study;
  const all = runsWithValues(study, point);
  if (!match || all.length === 0) return undefined;
  const runs = compared(all, match);
  const limit = limitOf(match.steps, runs);
  const series = matchedSeries(match, runs, plan, limit).map((matched, place): SeriesAgreement => {
    const tied = match.series[place]!;
    const [used, heldOut] = (['used', 'held out'] as const).map((part) =>
      hasPart(matched, part) ? scoresOfSeries(matched, part) : undefined,
    );
    return {
      name: tied.name,
      expression: tied.expression,
      observations: observationsOf(matched),
      fan: observedFan(tied, place, runs, plan, limit),
      ...(used ? { used } : {}),
      ...(heldOut ? { heldOut } : {}),
      patterns: patternsOf(matched),
      distributions: distributionsOf(matched),
    };
  });
  return { runs: runs.length, all: all.length, series };
}

function observationsOf(matched: MatchedSeries): ObservationAnswer[] {
  const { observations, exact, seeds, error, series } = matched;
  return ensembleOf(exact, seeds, observations, error, series).map(({ values }, i) => {
    const observation = observations[i]!;
    const { time, value, sd } = observation;
    const at = (level: number): number => (values.length === 0 ? NaN : quantileSorted(values, level));
    return {
      time,
      value,
      error: errorAt(value, error, sd),
      isHeldOut: isHeldOut(observation, matched),
      low90: at(0.05),
      low50: at(0.25),
      median: at(0.5),
      high50: at(0.75),
      high90: at(0.95),
    };
  });
}

export function atDate(
  study: AskedStudy,
  { series, time, point }: Extract<Question, { is: 'at a date' }>,
): AtDateAnswer | undefined {
  const { match, plan } = study;
  const tied = match?.series[series];
  const runs = match ? compared(runsWithValues(study, point), match) : [];
  if (!match || !tied || runs.length === 0) return undefined;
  const matched = matchedSeries(match, runs, plan, limitOf(match.steps, runs))[series]!;
  const observed = tied.observations.filter((observation) => observation.time === time).map(({ value }) => value);
  const at = tied.observations.findIndex((observation) => observation.time === time);
  if (at < 0) return undefined;
  const { exact, seeds, observations, error } = matched;
  const { values } = ensembleOf(exact, seeds, observations, error, series)[at]!;
  return { observed, values, runs: runs.length };
}

/** The run that lies nearest to a value of a series at a time, without errors of observing. */
export function nearestRunOf(
  study: AskedStudy,
  { series, time, value, point }: Extract<Question, { is: 'nearest run' }>,
): NearestRunAnswer | undefined {
  const { match, plan } = study;
  const tied = match?.series[series];
  if (!tied) return undefined;
  const runs = compared(runsWithValues(study, point), match);
  const limit = limitOf(match.steps, runs);
  const at = tied.observations.find((observation) => observation.time >= time) ?? tied.observations.at(-1);
  const wished = [{ time, since: Math.max(0, time - (at ? at.time - at.since : 0)), value: NaN }];
  let nearest: NearestRunAnswer | undefined;
  for (const run of runs) {
    const [there = NaN] = observedOf(run, { ...tied, observations: wished }, plan, limit);
    if (!(Math.abs(there - value) < (nearest ? Math.abs(nearest.value - value) : Infinity))) continue;
    nearest = { seed: run.result.seed, steps: run.result.steps, parameters: run.parameters, value: there };
  }
  return nearest;
}

/** Points of a study that are ranked at most: the first of its design. */
const MOST_RANKED = 200;

interface Candidate {
  readonly study: number;
  readonly place: number;
  readonly runs: readonly RunWithValues[];
  readonly matched: (runs: readonly RunWithValues[]) => MatchedSeries;
}

/** The points of some studies in the order of a score. A study whose model the match does not fit has none. */
export function rankingOver(
  studies: readonly AskedStudy[],
  { series, part, score, most }: Extract<Question, { is: 'ranking' }>,
): RankingAnswer {
  const counts = studies.map(({ design }) => pointCount(design));
  const candidates = studies.flatMap((study, i) => candidatesOf(study, i, series));
  const shown = candidates
    .map((candidate) => ({ ...candidate, value: scoreValue(candidate.matched(candidate.runs), part, score) }))
    .filter(({ value }) => !Number.isNaN(value))
    .sort((a, b) => badness(score, a.value) - badness(score, b.value))
    .slice(0, most);
  const [best] = shown;
  const points = shown.map(({ study, place, runs, matched }): RankedPoint => {
    const own = { study, place, runs: runs.length, score: scoreOfSeries(matched(runs), part, score) };
    const pairs = study === best!.study && place === best!.place ? [] : commonSeeds(runs, best!.runs);
    if (pairs.length < 2) return own;
    const ofSeeds = (each: Pick<Candidate, 'runs' | 'matched'>): MatchedSeries =>
      each.matched(pairs.map((seed) => each.runs.find(({ result }) => result.seed === seed)!));
    const difference = scoreDifference(ofSeeds({ runs, matched }), ofSeeds(best!), part, score);
    return { ...own, difference: { ...difference, pairs: pairs.length } };
  });
  return {
    all: counts.reduce((a, b) => a + b, 0),
    ranked: counts.reduce((sum, count) => sum + Math.min(count, MOST_RANKED), 0),
    points,
  };
}

function candidatesOf(study: AskedStudy, number: number, series: number): Candidate[] {
  const { match, plan, design } = study;
  if (!match?.series[series]) return [];
  const found = Array.from({ length: Math.min(pointCount(design), MOST_RANKED) }, (_, place) => ({
    place,
    runs: compared(runsAt(study, place), match),
  })).filter(({ runs }) => runs.length > 0);
  const limit = limitOf(
    match.steps,
    found.flatMap(({ runs }) => runs),
  );
  const matched = (runs: readonly RunWithValues[]): MatchedSeries => matchedSeries(match, runs, plan, limit)[series]!;
  return found.map(({ place, runs }) => ({ study: number, place, runs, matched }));
}

/** The less, the better: a bias is bad on either side of 0, a share inside a band on either side of what the band promises. */
function badness(score: ScoreName, value: number): number {
  switch (score) {
    case 'bias':
      return Math.abs(value);
    case 'inside50':
      return Math.abs(value - 0.5);
    case 'inside90':
      return Math.abs(value - 0.9);
    case 'skillAgainstMean':
    case 'skillAgainstLast':
      return -value;
    default:
      return value;
  }
}

function commonSeeds(a: readonly RunWithValues[], b: readonly RunWithValues[]): number[] {
  const theirs = new Set(b.map(({ result }) => result.seed));
  return a.map(({ result }) => result.seed).filter((seed) => theirs.has(seed));
}

/** @throws Error if the study does not look for what agrees */
export function searchOf({ search }: AskedStudy): MatchSearch {
  if (!search) throw new Error('This study does not look for what agrees.');
  return search;
}

export function posteriorOf(study: AskedStudy): PosteriorAnswer {
  const search = searchOf(study);
  const { unknowns, search: wish } = study.match!;
  const isDone = search.missingJobs().length === 0;
  const { posterior, problem, bestPoint: best } = search;
  const priors = unknowns.map(({ prior }) => prior);
  return {
    runs: search.runs,
    mostRuns: wish!.mostRuns,
    isDone,
    ...(problem === undefined ? {} : { problem }),
    ...(best ? { best } : {}),
    ...(posterior
      ? {
          found: {
            posterior,
            findings: findingsOf(posterior, priors),
            bins: priors.map((prior, unknown) => binsOf(posterior, unknown, prior)),
            pairs: pairsOf(posterior),
          },
        }
      : {}),
  };
}

export function matchTablesOf(
  study: AskedStudy,
  { point }: Extract<Question, { is: 'match tables' }>,
): MatchTableRows | undefined {
  const { match, plan, search } = study;
  const runs = runsWithValues(study, point);
  if (!match || runs.length === 0) return undefined;
  return matchTables(match, runs, plan, search?.posterior);
}

/** Runs with the values that they had: of a search those that show what it predicts, or its draws as long as there are none. */
function runsWithValues(study: AskedStudy, point: string | undefined): RunWithValues[] {
  const { search, results, design } = study;
  if (search) {
    search.missingJobs();
    const jobs = search.predictive.length > 0 ? search.predictive : search.drawnRuns;
    return jobs.flatMap(({ point: id, seed, parameters }) => {
      const outcome = results.outcome(id, seed);
      return outcome && 'result' in outcome ? [{ result: outcome.result, parameters }] : [];
    });
  }
  const places = Array.from({ length: pointCount(design) }, (_, place) => place);
  const wanted = point === undefined ? places : places.filter((place) => pointAt(design, place).id === point);
  return wanted.flatMap((place) => runsAt(study, place));
}

/** The runs of a point that came to their end, in the order of its seeds. */
function runsAt({ plan, design, results, parameters = {} }: AskedStudy, place: number): RunWithValues[] {
  const setting: StudySetting = { design, parameters, every: 1 };
  const { parameters: values } = jobOf(setting, plan, pointAt(design, place), 0);
  return results.ofPoint(design, place).flatMap((result) => (result ? [{ result, parameters: values }] : []));
}
