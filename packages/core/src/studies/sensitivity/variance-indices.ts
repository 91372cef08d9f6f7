import type { Interval } from './resample.ts';
import { resampled } from './resample.ts';

/** How much of the variance between points a factor makes. */
export interface VarianceIndex {
  /** Share that goes when the factor is known: what it does alone. */
  readonly first: Interval;
  /** Share that is left when all others are known: what it does alone and together with others. */
  readonly total: Interval;
}

/**
 * First and total indices of each factor from the rows of `indexLevels`: A, B, then A with each column from B. Shares of the variance of A
 * and B together. Rows in which any value is NaN are left out.
 *
 * Source: first order A. Saltelli et al., Comput. Phys. Commun. 181 (2010), 259-270, table 2 (b); total M. J. W. Jansen, Comput. Phys.
 * Commun. 117 (1999), 35-43.
 *
 * @param values one a row; their number is `factors + 2` times that of the rows of A
 */
export function varianceIndices(values: readonly number[], factors: number): VarianceIndex[] {
  const count = Math.floor(values.length / (factors + 2));
  const part = (i: number): readonly number[] => values.slice(i * count, (i + 1) * count);
  const mixed = Array.from({ length: factors }, (_, factor) => part(factor + 2));
  const kept = part(0)
    .map((_, i) => i)
    .filter((i) => [part(0), part(1), ...mixed].every((column) => !Number.isNaN(column[i]!)));
  const centre = kept.reduce((sum, i) => sum + part(0)[i]! + part(1)[i]!, 0) / (2 * kept.length);
  // Taken from a middle, so that the estimates do not suffer from values that are large in all rows.
  const [a, b] = [part(0), part(1)].map((column) => kept.map((i) => column[i]! - centre)) as [number[], number[]];
  return mixed.map((column) => {
    const ab = kept.map((i) => column[i]! - centre);
    const share = (rows: readonly number[], of: (i: number) => number): number =>
      rows.reduce((sum, i) => sum + of(i), 0) / rows.length / varianceOf(rows, a, b);
    return {
      first: resampled(kept.length, (rows) => share(rows, (i) => b[i]! * (ab[i]! - a[i]!))),
      total: resampled(kept.length, (rows) => share(rows, (i) => 0.5 * (a[i]! - ab[i]!) * (a[i]! - ab[i]!))),
    };
  });
}

/** Variance of the values of both columns together. */
function varianceOf(rows: readonly number[], a: readonly number[], b: readonly number[]): number {
  let sum = 0;
  let squares = 0;
  for (const i of rows) {
    sum += a[i]! + b[i]!;
    squares += a[i]! * a[i]! + b[i]! * b[i]!;
  }
  const n = 2 * rows.length;
  return (squares - (sum * sum) / n) / (n - 1);
}
