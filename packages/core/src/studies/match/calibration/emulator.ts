import { CholeskyDecomposition, Matrix, solve } from 'ml-matrix';
import { exp, log } from '../../../math.ts';
import type { Place } from './candidates.ts';

/** What an emulator expects at a place, and how far off it may be, as a variance. */
export interface Expected {
  readonly mean: number;
  readonly variance: number;
}

/** Lengths over which values hang together, in standard deviations of the priors, that are tried for each unknown. */
const LENGTHS = [0.4, 0.8, 1.5, 3, 6];
const SWEEPS = 2;
/** The least share of the variance that is left to luck, so that matrices can be inverted. */
const LEAST_NOISE = 1e-6;

/**
 * A Gaussian process that stands in for one number that runs give (I. Vernon, M. Goldstein and R. Bower, Bayesian Anal. 5 (2010), 619-670): a plane by
 * least squares, and what is left as a normal process whose covariance falls off as a bell with the distance. Lengths are those of the greatest likelihood
 * among some.
 */
export class Emulator {
  private readonly plane: Matrix;
  private readonly lengths: readonly number[];
  private readonly size: number;
  private readonly cholesky: Matrix;
  private readonly weights: Matrix;

  /**
   * @param places at least two more than there are unknowns and one
   * @param values means of replicates at each of them
   * @param noise variance of such a mean by luck
   */
  constructor(
    private readonly places: readonly Place[],
    values: readonly number[],
    private readonly noise: number,
  ) {
    const design = new Matrix(places.map((place) => [1, ...place]));
    this.plane = solve(design, Matrix.columnVector([...values]), true);
    const left = values.map((value, i) => value - this.planeAt(places[i]!));
    const spread = left.reduce((sum, value) => sum + value * value, 0) / Math.max(1, left.length - this.plane.rows);
    // What luck does not account for is the process.
    this.size = Math.max(spread - noise, LEAST_NOISE * spread, Number.MIN_VALUE * 1e10);
    this.lengths = this.bestLengths(left);
    const { lower, weights } = this.fitted(this.lengths, left)!;
    this.cholesky = lower;
    this.weights = weights;
  }

  at(place: Place): Expected {
    const near = this.places.map((other) => correlation(place, other, this.lengths));
    let mean = this.planeAt(place);
    near.forEach((value, i) => (mean += this.size * value * this.weights.get(i, 0)));
    const solved = forward(
      this.cholesky,
      near.map((value) => this.size * value),
    );
    const known = solved.reduce((sum, value) => sum + value * value, 0);
    return { mean, variance: Math.max(0, this.size - known) };
  }

  private planeAt(place: Place): number {
    return place.reduce((sum, z, i) => sum + z * this.plane.get(i + 1, 0), this.plane.get(0, 0));
  }

  /** Lengths of the greatest likelihood, one unknown after the other. */
  private bestLengths(left: readonly number[]): readonly number[] {
    let lengths = this.places[0]!.map(() => 1.5);
    let best = this.fitted(lengths, left)?.level ?? -Infinity;
    for (let sweep = 0; sweep < SWEEPS; sweep++)
      for (let i = 0; i < lengths.length; i++)
        for (const length of LENGTHS) {
          const tried = lengths.map((own, k) => (k === i ? length : own));
          const level = this.fitted(tried, left)?.level ?? -Infinity;
          if (level > best) [lengths, best] = [tried, level];
        }
    return lengths;
  }

  private fitted(
    lengths: readonly number[],
    left: readonly number[],
  ): { readonly lower: Matrix; readonly weights: Matrix; readonly level: number } | undefined {
    const { places, size, noise } = this;
    const covariance = Matrix.zeros(places.length, places.length);
    for (let i = 0; i < places.length; i++) {
      covariance.set(i, i, size * (1 + LEAST_NOISE) + noise);
      for (let j = 0; j < i; j++) {
        const value = size * correlation(places[i]!, places[j]!, lengths);
        covariance.set(i, j, value);
        covariance.set(j, i, value);
      }
    }
    const cholesky = new CholeskyDecomposition(covariance);
    if (!cholesky.isPositiveDefinite()) return undefined;
    const weights = cholesky.solve(Matrix.columnVector([...left]));
    const lower = cholesky.lowerTriangularMatrix;
    const level = left.reduce((sum, value, i) => sum - (value * weights.get(i, 0)) / 2 - log(lower.get(i, i)), 0);
    return { lower, weights, level };
  }
}

function correlation(a: Place, b: Place, lengths: readonly number[]): number {
  let sum = 0;
  for (let i = 0; i < a.length; i++) {
    const apart = (a[i]! - b[i]!) / lengths[i]!;
    sum += apart * apart;
  }
  return exp(-sum / 2);
}

/** Solves a lower triangle. */
function forward(lower: Matrix, right: readonly number[]): Float64Array {
  const solved = new Float64Array(right.length);
  for (let i = 0; i < right.length; i++) {
    let rest = right[i]!;
    for (let j = 0; j < i; j++) rest -= lower.get(i, j) * solved[j]!;
    solved[i] = rest / lower.get(i, i);
  }
  return solved;
}
