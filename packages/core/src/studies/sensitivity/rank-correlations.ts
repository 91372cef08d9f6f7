import { LuDecomposition, Matrix } from 'ml-matrix';
import { sampleCorrelation } from 'simple-statistics';
import type { Interval } from './resample.ts';
import { resampled } from './resample.ts';

/** How a summary goes with a factor, from -1 to 1, whatever the shape of the curve as long as it goes one way. */
export interface RankCorrelation {
  /** Spearman's rank correlation. */
  readonly rank: Interval;
  /** The same with what all other factors explain taken off both. */
  readonly partial: Interval;
}

/** Fewer points tell nothing of a correlation. */
const LEAST_POINTS = 3;
const NOTHING: Interval = { value: NaN, low: NaN, high: NaN };

/**
 * Rank correlations of each factor with a summary. Source: A. Saltelli, S. Tarantola, F. Campolongo and M. Ratto, Sensitivity Analysis in
 * Practice (2004); ties have their mean rank. Intervals draw points with the ranks that they have among all.
 * @param points values of the factors, a row a point
 * @param values one a point; points with NaN are left out
 */
export function rankCorrelations(points: readonly (readonly number[])[], values: readonly number[]): RankCorrelation[] {
  const kept = points.map((_, i) => i).filter((i) => !Number.isNaN(values[i]!));
  const factors = points[0]?.length ?? 0;
  if (kept.length < LEAST_POINTS) return Array.from({ length: factors }, () => ({ rank: NOTHING, partial: NOTHING }));
  const ranks = [
    ...Array.from({ length: factors }, (_, f) => ranksOf(kept.map((i) => points[i]![f]!))),
    ranksOf(kept.map((i) => values[i]!)),
  ];
  // The same samples serve all factors, whose correlations are worked out together.
  const known = new Map<string, number[][]>();
  const matrixOf = (rows: readonly number[], sample: number): number[][] => {
    const key = String(sample);
    let matrix = known.get(key);
    if (!matrix) known.set(key, (matrix = correlationsOf(ranks, rows)));
    return matrix;
  };
  return Array.from({ length: factors }, (_, f) => ({
    rank: resampled(kept.length, (rows, sample) => within(matrixOf(rows, sample)[f]![factors]!)),
    partial: resampled(kept.length, (rows, sample) => within(partialOf(matrixOf(rows, sample), f, factors))),
  }));
}

/** Correlations of every column with every other over some rows. */
function correlationsOf(columns: readonly (readonly number[])[], rows: readonly number[]): number[][] {
  const drawn = columns.map((column) => rows.map((row) => column[row]!));
  const matrix = drawn.map(() => drawn.map(() => 1));
  drawn.forEach((a, i) => {
    for (let j = 0; j < i; j++) matrix[i]![j] = matrix[j]![i] = sampleCorrelation(a, drawn[j]!);
  });
  return matrix;
}

/** Takes off what rounding adds beyond -1 and 1. */
function within(correlation: number): number {
  return Math.min(1, Math.max(-1, correlation));
}

/** Ranks from 1 on; equal values share the mean of theirs. */
export function ranksOf(values: readonly number[]): number[] {
  const order = values.map((_, i) => i).sort((i, j) => values[i]! - values[j]!);
  const ranks = new Array<number>(values.length);
  for (let from = 0; from < order.length;) {
    let to = from + 1;
    while (to < order.length && values[order[to]!] === values[order[from]!]) to++;
    for (let i = from; i < to; i++) ranks[order[i]!] = (from + to + 1) / 2;
    from = to;
  }
  return ranks;
}

/** Partial correlation of two columns given all others, from the inverse of the matrix of correlations; NaN where it has none. */
function partialOf(matrix: readonly (readonly number[])[], i: number, j: number): number {
  const whole = new Matrix(matrix.map((row) => [...row]));
  const decomposed = new LuDecomposition(whole);
  if (decomposed.isSingular()) return NaN;
  const inverse = decomposed.solve(Matrix.eye(whole.rows));
  return -inverse.get(i, j) / Math.sqrt(inverse.get(i, i) * inverse.get(j, j));
}
