import { CholeskyDecomposition, Matrix } from 'ml-matrix';
import { drawNormal, drawUnit } from '../../../engine/random/laws.ts';
import { keyOfName, RandomStream } from '../../../engine/random/stream.ts';
import { quantileSorted } from '../../../measures/numeric/gather.ts';
import { exp } from '../../../math.ts';
import type { Candidate, Place, Tried } from './candidates.ts';
import { drawnFromPrior } from './candidates.ts';

/** Draws with weights that add up to one. */
export interface WeightedDraws {
  readonly draws: readonly Tried[];
  readonly weights: readonly number[];
  /** No draw lies further from what was observed. */
  readonly tolerance: number;
  /** Rounds after the first, and which share of the runs was accepted in the last one. */
  readonly rounds: number;
  readonly accepted: number;
  /** As many independent draws would tell as much, where weights do not say so. */
  readonly effective?: number;
  /** Share of the priors that is not ruled out, of draws that are spread over it. */
  readonly left?: number;
}

/** What a method is asked for. */
export interface SearchWish {
  readonly dimensions: number;
  readonly draws: number;
  readonly mostRuns: number;
  readonly luck: number;
}

/** A method gives candidates, batch by batch, is given their runs, and in the end weighted draws; after each round it tells those that it has. */
export type Method = Generator<readonly Candidate[], WeightedDraws, readonly Tried[]>;

/** Of the runs from the priors, those that lie nearest. */
export function* rejection({ dimensions, draws, mostRuns, luck }: SearchWish): Method {
  const tried = yield Array.from({ length: mostRuns }, (_, i) => priorCandidate(dimensions, luck, i));
  return nearest(tried, draws);
}

/** A round that accepts less than this is the last. */
const LEAST_ACCEPTED = 0.03;
/** Of the draws of a round, this share lies within the tolerance of the next. */
const KEPT = 0.5;

/**
 * Sequential Monte Carlo for approximate Bayesian computation. The tolerance of each round is the median distance in the one before (Del Moral et al.,
 * Stat. Comput. 22 (2012), 1009-1020); the kernel is normal with twice the weighted covariance of the draws within it (Filippi et al., Stat. Appl.
 * Genet. Mol. Biol. 12 (2013), 87-107). It ends when the runs are used up or a round accepts less than 3 %. Rounds are made of batches as large as the
 * number of draws, so that what comes out does not depend on the order in which runs end.
 * @param tell is given the draws after each round
 */
export function* sequential(
  { dimensions, draws, mostRuns, luck }: SearchWish,
  tell: (drawn: WeightedDraws) => void = () => undefined,
): Method {
  const first = yield Array.from({ length: 2 * draws }, (_, i) => priorCandidate(dimensions, luck, i));
  let drawn = nearest(first, draws);
  let used = first.length;
  // Where most runs fail or do not reach what was observed, there is nothing to move on from.
  if (drawn.draws.length < draws) return drawn;
  tell(drawn);
  for (let round = 1; used + draws <= mostRuns; round++) {
    const sorted = Float64Array.from(drawn.draws, ({ distance }) => distance).sort();
    const tolerance = quantileSorted(sorted, KEPT);
    const kernel = kernelOf(drawn, tolerance);
    const accepted: Tried[] = [];
    let tried = 0;
    while (accepted.length < draws && used + draws <= mostRuns) {
      const from = used;
      const batch = yield Array.from({ length: draws }, (_, i) => ({
        place: kernel.propose(luck, from + i),
        seed: from + i + 1,
      }));
      used += batch.length;
      tried += batch.length;
      accepted.push(...batch.filter(({ distance }) => distance <= tolerance));
      if (accepted.length < LEAST_ACCEPTED * tried) break;
    }
    // A round that did not come to its end would favour what was proposed first.
    if (accepted.length < draws) break;
    const taken = accepted.slice(0, draws);
    const weights = normalised(taken.map(({ place }) => normalDensity(place) / kernel.density(place)));
    drawn = { draws: taken, weights, tolerance, rounds: round, accepted: accepted.length / tried };
    tell(drawn);
    if (drawn.accepted < LEAST_ACCEPTED) break;
  }
  return drawn;
}

function priorCandidate(dimensions: number, luck: number, number: number): Candidate {
  return { place: drawnFromPrior(dimensions, luck, number), seed: number + 1 };
}

/** Those that lie nearest, each with the same weight. */
export function nearest(tried: readonly Tried[], count: number): WeightedDraws {
  const draws = tried
    .filter(({ distance }) => Number.isFinite(distance))
    .sort((a, b) => a.distance - b.distance || a.seed - b.seed)
    .slice(0, count);
  return {
    draws,
    weights: draws.map(() => 1 / draws.length),
    tolerance: draws.at(-1)?.distance ?? NaN,
    rounds: 0,
    accepted: draws.length / tried.length,
  };
}

function normalised(weights: readonly number[]): number[] {
  const sum = weights.reduce((a, b) => a + b, 0);
  return weights.map((weight) => weight / sum);
}

/** Up to a factor. */
function normalDensity(place: Place): number {
  return exp(-place.reduce((sum, z) => sum + z * z, 0) / 2);
}

/** Effective number of draws: as many with equal weights would tell as much (Kish 1965). */
export function effectiveDraws(weights: readonly number[]): number {
  return 1 / weights.reduce((sum, weight) => sum + weight * weight, 0);
}

interface Kernel {
  propose(luck: number, number: number): Place;
  /** Of being proposed, up to a factor. */
  density(place: Place): number;
}

const MOVES = keyOfName('moves of a match');
/** Share of the prior's variance that is always left to move in, where all draws have the same value. */
const LEAST_VARIANCE = 1e-6;

function kernelOf({ draws, weights }: WeightedDraws, tolerance: number): Kernel {
  const dimensions = draws[0]!.place.length;
  const near = draws.flatMap(({ place, distance }, i) =>
    distance <= tolerance ? [{ place, weight: weights[i]! }] : [],
  );
  const covariance = covarianceOf(
    near.map(({ place }) => place),
    normalised(near.map(({ weight }) => weight)),
  );
  for (let i = 0; i < dimensions; i++) covariance.set(i, i, covariance.get(i, i) + LEAST_VARIANCE);
  const lower = new CholeskyDecomposition(covariance.mul(2)).lowerTriangularMatrix;
  const cumulated = weights.reduce<number[]>((sums, weight) => [...sums, (sums.at(-1) ?? 0) + weight], []);
  return {
    propose(luck, number) {
      const stream = RandomStream.of(luck, 0, MOVES, number);
      const at = drawUnit(stream.word(), stream.word());
      const chosen = cumulated.findIndex((sum) => at < sum);
      const from = draws[chosen < 0 ? draws.length - 1 : chosen]!.place;
      const moves = from.map(() => drawNormal(0, 1, stream.word(), stream.word()));
      return from.map((z, i) => z + moves.reduce((sum, move, j) => sum + (j <= i ? lower.get(i, j) * move : 0), 0));
    },
    density: (place) =>
      draws.reduce((sum, { place: from }, k) => sum + weights[k]! * exp(-squaredLength(lower, place, from) / 2), 0),
  };
}

/** Squared distance of two places in standard deviations of a kernel, by its lower triangle. */
function squaredLength(lower: Matrix, a: Place, b: Place): number {
  const solved: number[] = [];
  for (let i = 0; i < a.length; i++) {
    let rest = a[i]! - b[i]!;
    for (let j = 0; j < i; j++) rest -= lower.get(i, j) * solved[j]!;
    solved.push(rest / lower.get(i, i));
  }
  return solved.reduce((sum, z) => sum + z * z, 0);
}

/** Covariance of places, each with a weight; of weights of one it is the sum of products. */
export function covarianceOf(places: readonly Place[], weights: readonly number[]): Matrix {
  const dimensions = places[0]!.length;
  const total = weights.reduce((sum, weight) => sum + weight, 0);
  const mean = Array.from(
    { length: dimensions },
    (_, i) => places.reduce((sum, place, k) => sum + weights[k]! * place[i]!, 0) / total,
  );
  const covariance = Matrix.zeros(dimensions, dimensions);
  for (let i = 0; i < dimensions; i++)
    for (let j = 0; j <= i; j++) {
      const shared = places.reduce(
        (sum, place, k) => sum + weights[k]! * (place[i]! - mean[i]!) * (place[j]! - mean[j]!),
        0,
      );
      covariance.set(i, j, shared);
      covariance.set(j, i, shared);
    }
  return covariance;
}
