import { EigenvalueDecomposition, Matrix } from 'ml-matrix';
import { drawNormal } from '../../../engine/random/laws.ts';
import { keyOfName, RandomStream } from '../../../engine/random/stream.ts';
import { exp, log } from '../../../math.ts';
import type { Candidate, Place, Tried } from './candidates.ts';

/** Where runs lie nearest to what was observed, as far as a search has come. */
export interface BestPlace {
  readonly place: Place;
  /** How widely the search still looks around it, in standard deviations of the priors. */
  readonly reach: number;
  readonly generations: number;
}

/** What a search for a best point is asked for. */
export interface BestWish {
  readonly dimensions: number;
  readonly mostRuns: number;
  readonly luck: number;
}

/** Runs of one place at first, and by how much they grow from generation to generation: near the best point differences drown in luck. */
const FIRST_REPLICATES = 4;
const GROWTH = 1.15;
const MOST_REPLICATES = 60;
/** The search begins this wide, and is over once it looks no further than that. */
const FIRST_REACH = 0.8;
const LEAST_REACH = 0.01;
/** Places are no further out than this: there priors have no more than 1 in 30,000. */
const FURTHEST = 4;

/**
 * Searches for the place at which the mean squared distance of runs is least, by the adaptation of a normal law from generation to generation
 * (N. Hansen, The CMA evolution strategy: a tutorial (2016), with its usual numbers), each place with as many runs as its generation asks for. Its answer
 * is the middle of the last generation, which luck moves less than the place of a lucky run.
 * @param tell is given the place after each generation
 */
export function* bestPoint(
  { dimensions: n, mostRuns, luck }: BestWish,
  tell: (best: BestPlace) => void = () => undefined,
): Generator<readonly Candidate[], BestPlace | undefined, readonly Tried[]> {
  const count = 4 + Math.floor(3 * log(n));
  const parents = Math.floor(count / 2);
  const raw = Array.from({ length: parents }, (_, i) => log((count + 1) / 2) - log(i + 1));
  const sum = raw.reduce((a, b) => a + b, 0);
  const weights = raw.map((weight) => weight / sum);
  const mass = 1 / weights.reduce((a, b) => a + b * b, 0);
  const forSpread = (mass + 2) / (n + mass + 5);
  const damping = 1 + 2 * Math.max(0, Math.sqrt((mass - 1) / (n + 1)) - 1) + forSpread;
  const forPath = (4 + mass / n) / (n + 4 + (2 * mass) / n);
  const forOne = 2 / ((n + 1.3) * (n + 1.3) + mass);
  const forRank = Math.min(1 - forOne, (2 * (mass - 2 + 1 / mass)) / ((n + 2) * (n + 2) + mass));
  const expected = Math.sqrt(n) * (1 - 1 / (4 * n) + 1 / (21 * n * n));

  let middle: number[] = Array.from({ length: n }, () => 0);
  let covariance = Matrix.eye(n);
  let reach = FIRST_REACH;
  let spreadPath = Matrix.zeros(n, 1);
  let path = Matrix.zeros(n, 1);
  let used = 0;
  let replicates = FIRST_REPLICATES;
  let best: BestPlace | undefined;
  for (let generation = 1; ; generation++) {
    const each = Math.min(MOST_REPLICATES, Math.round(replicates));
    if (used + count * each > mostRuns) return best;
    const { values, vectors } = rooted(covariance);
    const stream = RandomStream.of(luck, 0, BEST, generation);
    const places = Array.from({ length: count }, () => {
      const z = Array.from({ length: n }, (_, i) => values[i]! * drawNormal(0, 1, stream.word(), stream.word()));
      return middle.map((m, i) =>
        within(m + reach * z.reduce((total, value, j) => total + vectors.get(i, j) * value, 0)),
      );
    });
    const tried = yield places.flatMap((place, i) =>
      Array.from({ length: each }, (_, r) => ({ place, seed: used + i * each + r + 1 })),
    );
    used += tried.length;
    const order = places
      .map((place, i) => ({ place, cost: meanSquare(tried.slice(i * each, (i + 1) * each)) }))
      .filter(({ cost }) => Number.isFinite(cost))
      .sort((a, b) => a.cost - b.cost);
    // Where most runs fail or do not reach what was observed, there is nothing to go by.
    if (order.length < parents) return best;
    const steps = order.slice(0, parents).map(({ place }) => place.map((value, i) => (value - middle[i]!) / reach));
    const step = Matrix.columnVector(
      middle.map((_, i) => steps.reduce((total, one, k) => total + weights[k]! * one[i]!, 0)),
    );
    middle = middle.map((m, i) => m + reach * step.get(i, 0));
    const whitened = vectors
      .mmul(Matrix.diag(values.map((value) => 1 / value)))
      .mmul(vectors.transpose())
      .mmul(step);
    spreadPath = Matrix.mul(spreadPath, 1 - forSpread).add(
      Matrix.mul(whitened, Math.sqrt(forSpread * (2 - forSpread) * mass)),
    );
    const length = Math.sqrt(spreadPath.to1DArray().reduce((total, value) => total + value * value, 0));
    const isSlow = length / expected < 1.4 + 2 / (n + 1);
    path = Matrix.mul(path, 1 - forPath);
    if (isSlow) path.add(Matrix.mul(step, Math.sqrt(forPath * (2 - forPath) * mass)));
    const rank = steps.reduce(
      (total, one, k) => total.add(Matrix.mul(Matrix.columnVector(one).mmul(Matrix.rowVector(one)), weights[k]!)),
      Matrix.zeros(n, n),
    );
    covariance = Matrix.mul(covariance, 1 - forOne - forRank)
      .add(Matrix.mul(path.mmul(path.transpose()), forOne))
      .add(Matrix.mul(rank, forRank));
    reach *= Math.min(2, exp((forSpread / damping) * (length / expected - 1)));
    replicates *= GROWTH;
    best = { place: [...middle], reach: reach * Math.max(...values), generations: generation };
    tell(best);
    if (best.reach < LEAST_REACH) return best;
  }
}

function within(z: number): number {
  return Math.max(-FURTHEST, Math.min(FURTHEST, z));
}

function meanSquare(tried: readonly Tried[]): number {
  return tried.reduce((sum, { distance }) => sum + distance * distance, 0) / tried.length;
}

/** Square roots of the eigenvalues of a covariance, and its eigenvectors in columns. */
function rooted(covariance: Matrix): { readonly values: number[]; readonly vectors: Matrix } {
  const { realEigenvalues, eigenvectorMatrix } = new EigenvalueDecomposition(covariance, { assumeSymmetric: true });
  return { values: realEigenvalues.map((value) => Math.sqrt(Math.max(1e-12, value))), vectors: eigenvectorMatrix };
}

const BEST = keyOfName('best point of a match');
