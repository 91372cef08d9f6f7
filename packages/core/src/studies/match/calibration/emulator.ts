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
  private readonly weights: Float64Array;

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
    this.weights = Float64Array.from(weights.to1DArray());
  }

  at(place: Place): Expected {
    const near = new Nearness(this.places, place).by(this.lengths);
    return { mean: this.meanAt(place, near), variance: this.varianceAt(near) };
  }

  /**
   * Whether what is expected at a place lies so many standard deviations from 0 or further.
   * @param luck variance of one run by luck, besides what the emulator does not know
   * @param nearness of the place to those that this emulator learnt from
   */
  isBeyond(deviations: number, place: Place, luck: number, nearness: Nearness): boolean {
    const near = nearness.by(this.lengths);
    const mean = this.meanAt(place, near);
    const apart = (mean * mean) / (deviations * deviations);
    // Most places are so far off, or so near, that it need not be known how much the emulator does not know.
    if (apart > this.size + luck) return true;
    return apart > luck && apart > this.varianceAt(near) + luck;
  }

  private meanAt(place: Place, near: Float64Array): number {
    const { size, weights } = this;
    let mean = this.planeAt(place);
    for (let i = 0; i < near.length; i++) mean += size * near[i]! * weights[i]!;
    return mean;
  }

  private varianceAt(near: Float64Array): number {
    const solved = forward(
      this.cholesky,
      near.map((value) => this.size * value),
    );
    const known = solved.reduce((sum, value) => sum + value * value, 0);
    return Math.max(0, this.size - known);
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

/** How near a place is to those that emulators learnt from, found once for all that have the same lengths. */
export class Nearness {
  private readonly found = new Map<string, Float64Array>();

  constructor(
    private readonly places: readonly Place[],
    private readonly place: Place,
  ) {}

  /** Correlations with each of them. */
  by(lengths: readonly number[]): Float64Array {
    const key = lengths.join(' ');
    let near = this.found.get(key);
    if (!near) {
      near = Float64Array.from(this.places, (other) => correlation(this.place, other, lengths));
      this.found.set(key, near);
    }
    return near;
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
function forward(lower: Matrix, right: Float64Array): Float64Array {
  const solved = new Float64Array(right.length);
  for (let i = 0; i < right.length; i++) {
    let rest = right[i]!;
    for (let j = 0; j < i; j++) rest -= lower.get(i, j) * solved[j]!;
    solved[i] = rest / lower.get(i, i);
  }
  return solved;
}
