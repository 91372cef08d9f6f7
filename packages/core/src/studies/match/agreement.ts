import { growthRate, period } from '../../measures/courses.ts';
import { quantileSorted } from '../../measures/numeric/gather.ts';
import type { Interval } from '../sensitivity/resample.ts';
import { resampled } from '../sensitivity/resample.ts';
import type { EnsembleAt } from './ensemble.ts';
import { ensembleOf, quantilesCounted, rankedScore, writtenOf } from './ensemble.ts';
import type { Observation } from './observations.ts';
import type { ObservingError } from './observing.ts';

/** How a model and what was observed agree. Everything that stands for the model has the error of observing in it, unless it says otherwise. */

/** A series of observations and what would have been observed of each run. */
export interface MatchedSeries {
  readonly observations: readonly Observation[];
  /** Of each run a number an observation, without errors of observing; empty where the run does not reach. */
  readonly exact: readonly Float64Array[];
  readonly seeds: readonly number[];
  readonly error: ObservingError;
  /** Observations from this time on are held out. */
  readonly heldOutFrom?: number;
  /** Place of the series among all, by which its errors are drawn. */
  readonly series: number;
}

/** Scores of some observations, each with its interval over seeds. Errors are those of the median. */
export interface AgreementScores {
  readonly points: number;
  /** Observations that the runs do not reach, which are not scored. */
  readonly outside: number;
  /** Mean of median less observed: above 0 the model gives more. */
  readonly bias: Interval;
  readonly meanAbsoluteError: Interval;
  readonly rootMeanSquareError: Interval;
  /** Root mean square error as a share of the mean size of what was observed. */
  readonly normalisedError: Interval;
  /** Share of the observations inside the band of the middle half, and of nine in ten. */
  readonly inside50: Interval;
  readonly inside90: Interval;
  readonly rankedProbabilityScore: Interval;
  /** One less the ratio of the ranked probability score to the mean absolute error of a plain forecast: 1 is perfect, 0 no better. */
  readonly skillAgainstMean: Interval;
  readonly skillAgainstLast: Interval;
  /** How many observations fall into each tenth of the ensemble, lowest first. */
  readonly ranks: readonly number[];
}

/** Names of the scores that are numbers. */
export const SCORES = [
  'bias',
  'meanAbsoluteError',
  'rootMeanSquareError',
  'normalisedError',
  'inside50',
  'inside90',
  'rankedProbabilityScore',
  'skillAgainstMean',
  'skillAgainstLast',
] as const satisfies readonly (keyof AgreementScores)[];
/** One of them. */
export type ScoreName = (typeof SCORES)[number];

const TENTHS = 10;

/** Which observations: those that were used, or those that were held out. */
export type SeriesPart = 'used' | 'held out';

/** Whether an observation lies in the part of a series that is held out. */
export function isHeldOut(
  { time }: Observation,
  { heldOutFrom = Infinity }: Pick<MatchedSeries, 'heldOutFrom'>,
): boolean {
  return time >= heldOutFrom;
}

/** Whether a series has observations of a part. */
export function hasPart(matched: MatchedSeries, part: SeriesPart): boolean {
  return matched.observations.some((observation) => isHeldOut(observation, matched) === (part === 'held out'));
}

/** Scores of one part of a series in which each run counts so many times, and what they are of. */
interface Scorer {
  readonly points: number;
  readonly outside: number;
  readonly scores: (rows: readonly number[]) => Record<ScoreName, number>;
  readonly ranks: () => number[];
}

/** The plain forecasts are the mean of the observations that are not held out, and the value before. */
function scorerOf(matched: MatchedSeries, part: SeriesPart): Scorer {
  const { observations, exact, seeds, error, series } = matched;
  const isWanted = (observation: Observation): boolean => isHeldOut(observation, matched) === (part === 'held out');
  const ensemble = ensembleOf(exact, seeds, observations, error, series);
  const wanted = observations.flatMap((observation, i) => (isWanted(observation) ? [i] : []));
  const scored = wanted.filter((i) => ensemble[i]!.values.length > 0);
  const observed = scored.map((i) => observations[i]!.value);
  const used = mean(observations.filter((observation) => !isHeldOut(observation, matched)).map(({ value }) => value));
  const plain = {
    mean: mean(observed.map((value) => Math.abs(value - used))),
    last: mean(scored.filter((i) => i > 0).map((i) => Math.abs(observations[i]!.value - observations[i - 1]!.value))),
  };
  return {
    points: scored.length,
    outside: wanted.length - scored.length,
    scores: (rows) => sampleScores(ensemble, scored, observed, countsOf(rows, exact.length), plain),
    ranks: () => ranksOf(ensemble, scored, observed),
  };
}

/** Scores one part of a series. */
export function scoresOfSeries(matched: MatchedSeries, part: SeriesPart): AgreementScores {
  const { points, outside, scores, ranks } = scorerOf(matched, part);
  const samples = new Map<number, Record<ScoreName, number>>();
  const sampleOf = (rows: readonly number[], sample: number): Record<ScoreName, number> => {
    let found = samples.get(sample);
    if (!found) samples.set(sample, (found = scores(rows)));
    return found;
  };
  const runs = matched.exact.length;
  const intervals = Object.fromEntries(
    SCORES.map((name) => [name, resampled(runs, (rows, sample) => sampleOf(rows, sample)[name])]),
  ) as Record<ScoreName, Interval>;
  return { points, outside, ...intervals, ranks: ranks() };
}

/** One score of a part of a series over all its runs. */
export function scoreValue(matched: MatchedSeries, part: SeriesPart, name: ScoreName): number {
  return scorerOf(matched, part).scores(matched.exact.map((_, run) => run))[name];
}

/** One score of a part of a series with its interval over seeds. */
export function scoreOfSeries(matched: MatchedSeries, part: SeriesPart, name: ScoreName): Interval {
  const { scores } = scorerOf(matched, part);
  return resampled(matched.exact.length, (rows) => scores(rows)[name]);
}

/** By how much a score differs between two sets of runs with the same seeds in the same order; the interval is over pairs of runs. */
export function scoreDifference(
  matched: MatchedSeries,
  other: MatchedSeries,
  part: SeriesPart,
  name: ScoreName,
): Interval {
  const [one, two] = [scorerOf(matched, part), scorerOf(other, part)];
  return resampled(matched.exact.length, (rows) => one.scores(rows)[name] - two.scores(rows)[name]);
}

function countsOf(rows: readonly number[], runs: number): Int32Array {
  const counts = new Int32Array(runs);
  for (const row of rows) counts[row]!++;
  return counts;
}

function mean(values: readonly number[]): number {
  return values.reduce((sum, value) => sum + value, 0) / values.length;
}

const LEVELS = [0.05, 0.25, 0.5, 0.75, 0.95];

function sampleScores(
  ensemble: readonly EnsembleAt[],
  scored: readonly number[],
  observed: readonly number[],
  counts: Int32Array,
  plain: { readonly mean: number; readonly last: number },
): Record<ScoreName, number> {
  const at = scored.map((i) => quantilesCounted(ensemble[i]!, counts, LEVELS));
  const errors = at.map(([, , median], k) => median! - observed[k]!);
  const ranked = mean(scored.map((i, k) => rankedScore(ensemble[i]!, counts, observed[k]!)));
  const rootMeanSquareError = Math.sqrt(mean(errors.map((error) => error * error)));
  const inside = (low: number, high: number): number =>
    mean(at.map((levels, k) => Number(observed[k]! >= levels[low]! && observed[k]! <= levels[high]!)));
  return {
    bias: mean(errors),
    meanAbsoluteError: mean(errors.map(Math.abs)),
    rootMeanSquareError,
    normalisedError: rootMeanSquareError / mean(observed.map(Math.abs)),
    inside50: inside(1, 3),
    inside90: inside(0, 4),
    rankedProbabilityScore: ranked,
    skillAgainstMean: plain.mean > 0 ? 1 - ranked / plain.mean : NaN,
    skillAgainstLast: plain.last > 0 ? 1 - ranked / plain.last : NaN,
  };
}

/** An observation that ties with values of the ensemble is put into the middle of them. */
function ranksOf(ensemble: readonly EnsembleAt[], scored: readonly number[], observed: readonly number[]): number[] {
  const ranks = new Array<number>(TENTHS).fill(0);
  scored.forEach((i, k) => {
    const { values } = ensemble[i]!;
    let [below, same] = [0, 0];
    for (const value of values) {
      if (value < observed[k]!) below++;
      else if (value === observed[k]!) same++;
    }
    ranks[Math.min(TENTHS - 1, Math.floor(((below + same / 2) / values.length) * TENTHS))]!++;
  });
  return ranks;
}

/** What the course of a series shows. */
const PATTERNS = ['peak', 'time of peak', 'period', 'growth rate'] as const;
export type PatternName = (typeof PATTERNS)[number];

/** A pattern as it was observed, and over runs as an observer might have written them. */
export interface PatternAgreement {
  readonly pattern: PatternName;
  readonly observed: number;
  readonly median: number;
  readonly low: number;
  readonly high: number;
  /** Share of the runs with less than was observed, of those that have the pattern. */
  readonly below: number;
  /** Runs that show no such pattern. */
  readonly never: number;
}

/** Each pattern that the observations show, of the series as it was observed and of every run, read at the same times. */
export function patternsOf({ observations, exact, seeds, error, series }: MatchedSeries): PatternAgreement[] {
  const reached = observations.flatMap((_, i) => (exact.some((run) => !Number.isNaN(run[i]!)) ? [i] : []));
  const times = reached.map((i) => observations[i]!.time);
  const observed = reached.map((i) => observations[i]!.value);
  const runs = exact.map((run, r) => {
    const whole = writtenOf(run, observations, error, { seed: seeds[r]!, series, draw: 0 });
    return reached.map((i) => whole[i]!);
  });
  return PATTERNS.flatMap((pattern) => {
    const value = patternIn(pattern, times, observed);
    if (Number.isNaN(value)) return [];
    const found = runs.map((run) => patternIn(pattern, times, run));
    const present = Float64Array.from(found.filter((x) => !Number.isNaN(x))).sort();
    if (present.length === 0) return [];
    const [low, median, high] = [0.05, 0.5, 0.95].map((level) => quantileSorted(present, level)) as [
      number,
      number,
      number,
    ];
    const below = present.filter((x) => x < value).length + present.filter((x) => x === value).length / 2;
    return [
      {
        pattern,
        observed: value,
        median,
        low,
        high,
        below: below / present.length,
        never: found.length - present.length,
      },
    ];
  });
}

/** A pattern of a series; NaN where it has none. A period needs times that are evenly spaced, a growth rate three values above nought. */
export function patternIn(pattern: PatternName, times: readonly number[], values: readonly number[]): number {
  if (values.length < 3) return NaN;
  const peak = values.reduce((best, value, i) => (value > values[best]! || Number.isNaN(values[best]!) ? i : best), 0);
  switch (pattern) {
    case 'peak':
      return values[peak]!;
    case 'time of peak':
      return Number.isNaN(values[peak]!) ? NaN : times[peak]!;
    case 'growth rate':
      return values.filter((value) => value > 0).length < 3 ? NaN : growthRate(values, times);
    case 'period': {
      const step = (times[times.length - 1]! - times[0]!) / (times.length - 1);
      const isEven = times.every((time, i) => Math.abs(time - times[0]! - i * step) <= step * UNEVEN);
      return isEven && step > 0 ? period(values, step) : NaN;
    }
  }
}

/** Times count as evenly spaced if none is further off than this share of the spacing: months are. */
const UNEVEN = 0.25;

/** How the replicates of one time differ in their distribution from the ensemble there. */
export interface DistributionAgreement {
  readonly time: number;
  readonly replicates: number;
  /** Greatest distance of both distribution functions (Kolmogorov and Smirnov). */
  readonly furthest: number;
  /** Area between both distribution functions, in the unit of the series (Wasserstein). */
  readonly area: number;
}

const LEAST_REPLICATES = 5;

/** At each time with five observations or more: how far their distribution is from that of the ensemble. */
export function distributionsOf({ observations, exact, seeds, error, series }: MatchedSeries): DistributionAgreement[] {
  const ensemble = ensembleOf(exact, seeds, observations, error, series);
  return [...new Set(observations.map(({ time }) => time))].flatMap((time) => {
    const places = observations.flatMap((each, i) => (each.time === time ? [i] : []));
    const model = ensemble[places[0]!]!.values;
    if (places.length < LEAST_REPLICATES || model.length === 0) return [];
    const observed = Float64Array.from(places, (i) => observations[i]!.value).sort();
    return [{ time, replicates: places.length, ...distributionDistance(observed, model) }];
  });
}

/** Distances of two samples, both ascending. */
export function distributionDistance(
  a: Float64Array,
  b: Float64Array,
): { readonly furthest: number; readonly area: number } {
  const places = Float64Array.from([...a, ...b]).sort();
  let [i, j, furthest, area] = [0, 0, 0, 0];
  places.forEach((place, k) => {
    while (i < a.length && a[i]! <= place) i++;
    while (j < b.length && b[j]! <= place) j++;
    const apart = Math.abs(i / a.length - j / b.length);
    furthest = Math.max(furthest, apart);
    area += apart * ((places[k + 1] ?? place) - place);
  });
  return { furthest, area };
}
