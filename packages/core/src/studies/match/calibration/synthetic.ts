import { CholeskyDecomposition, Matrix } from 'ml-matrix';
import { drawNormal, drawUnit } from '../../../engine/random/laws.ts';
import { keyOfName, RandomStream } from '../../../engine/random/stream.ts';
import { log } from '../../../math.ts';
import type { Candidate, Place, Tried } from './candidates.ts';
import { drawnFromPrior } from './candidates.ts';
import { evenDraws } from './even-draws.ts';
import type { SearchWish, WeightedDraws } from './sequential.ts';
import { covarianceOf, nearest } from './sequential.ts';

/** Chains that move side by side, so that runs can be made side by side too. */
const CHAINS = 6;
/** Runs from the priors that tell where chains begin and how far they move at first. */
const FIRST = 120;
const BEGINNERS = 24;
/** Of all moves, those of the first third find the posterior, and say how wide moves are to be. */
const BURN_IN = 1 / 3;
const LEAST_MOVES = 24;
/** Moves have 2.38 squared over the number of unknowns times the covariance (G. Roberts, A. Gelman and W. Gilks, Ann. Appl. Probab. 7 (1997), 110-120). */
const MOVE = 5.66;
/** Added to variances of what is written, in those of the pilots, where runs do not differ at all. */
const JITTER = 1e-6;

/** Runs at each place, for so many targets: more than the covariance of what is written needs to be known. */
function replicatesFor(targets: number): number {
  return 2 * targets + 16;
}

/** Runs that this takes at least. */
export function leastRuns(targets: number): number {
  return FIRST + LEAST_MOVES * CHAINS * replicatesFor(targets);
}

/** Where a chain is. */
interface Standing {
  readonly place: Place;
  readonly first: Tried;
  /** Log of synthetic likelihood and prior, up to a number. */
  readonly level: number;
}

/**
 * Synthetic likelihood (S. Wood, Nature 466 (2010), 1102-1104): at each place what is written of replicates is taken as normal, with the mean and
 * covariance that they have, and chains move by the chance that what was observed has then (Metropolis). The likelihood is estimated without bias, so that
 * the number of replicates moves nothing (L. Price et al., J. Comput. Graph. Stat. 27 (2018), 1-11, eq. 5). Nothing is said of distances: it is a check of
 * what was found by them.
 * @param scaled what was written of a run less what was observed, in standard deviations of the pilots
 * @param tell is given the draws now and then
 */
export function* syntheticLikelihood(
  { dimensions, draws, mostRuns, luck }: SearchWish,
  scaled: (run: Tried) => readonly number[],
  targets: number,
  tell: (drawn: WeightedDraws) => void = () => undefined,
): Generator<readonly Candidate[], WeightedDraws, readonly Tried[]> {
  const begun = yield Array.from({ length: FIRST }, (_, i) => ({
    place: drawnFromPrior(dimensions, luck, i),
    seed: i + 1,
  }));
  const near = nearest(begun, BEGINNERS);
  if (near.draws.length < BEGINNERS) return near;
  tell(near);
  const each = replicatesFor(targets);
  const moves = Math.floor((mostRuns - FIRST) / (CHAINS * each));
  let used = FIRST;
  const batchAt = (places: readonly Place[]): Candidate[] =>
    places.flatMap((place, chain) =>
      Array.from({ length: each }, (_, r) => ({ place, seed: used + chain * each + r + 1 })),
    );
  const standingOf = (place: Place, tried: readonly Tried[]): Standing => ({
    place,
    first: { ...tried[0]!, distance: meanDistance(tried) },
    level: logLikelihood(tried.map(scaled), targets) - place.reduce((sum, z) => sum + z * z, 0) / 2,
  });
  let lower = rootOf(
    near.draws.map(({ place }) => place),
    dimensions,
  );
  let chains: Standing[] = [];
  const kept: Standing[][] = [];
  let accepted = 0;
  for (let move = 0; move < moves; move++) {
    const stream = RandomStream.of(luck, 0, CHAIN, move);
    const places = Array.from({ length: CHAINS }, (_, chain): Place => {
      const from = move === 0 ? near.draws[chain]!.place : chains[chain]!.place;
      const z = from.map(() => drawNormal(0, 1, stream.word(), stream.word()));
      return move === 0
        ? from
        : from.map((value, i) => value + z.reduce((sum, one, j) => sum + (j <= i ? lower.get(i, j) * one : 0), 0));
    });
    const chances = places.map(() => log(drawUnit(stream.word(), stream.word())));
    const tried = yield batchAt(places);
    used += tried.length;
    const found = places.map((place, chain) => standingOf(place, tried.slice(chain * each, (chain + 1) * each)));
    const isBurning = move < BURN_IN * moves;
    chains = found.map((standing, chain) => {
      const before = chains[chain];
      const isTaken = before === undefined || standing.level - before.level > chances[chain]!;
      if (isTaken && !isBurning) accepted++;
      return isTaken ? standing : before;
    });
    kept.push(chains);
    if (!isBurning) {
      const late = kept.slice(Math.ceil(BURN_IN * moves));
      if (late.length > 1) tell(drawnOf(late, move + 1, accepted / (CHAINS * late.length), draws, 0.5));
      continue;
    }
    // What was found first is forgotten as the chains come to where they belong.
    const recent = kept.slice(Math.floor(kept.length / 2)).flat();
    const isMoving = new Set(recent.map(({ place }) => place)).size > 2 * dimensions + 2;
    if (isMoving)
      lower = rootOf(
        recent.map(({ place }) => place),
        dimensions,
      );
    tell(drawnOf([chains], move + 1, 1, CHAINS, 0.5));
  }
  const late = kept.slice(Math.ceil(BURN_IN * moves));
  if (late.length === 0 || chains.some(({ level }) => level === -Infinity)) return { ...near, draws: [], weights: [] };
  const stream = RandomStream.of(luck, 0, CHAIN, moves);
  return drawnOf(late, moves, accepted / (CHAINS * late.length), draws, drawUnit(stream.word(), stream.word()));
}

/** Draws spread evenly over the states of chains. */
function drawnOf(
  states: readonly (readonly Standing[])[],
  rounds: number,
  accepted: number,
  draws: number,
  start: number,
): WeightedDraws {
  const all = states[0]!.flatMap((_, chain) => states.map((chains) => chains[chain]!));
  const chosen =
    all.length <= draws
      ? all
      : evenDraws(
          all.map(() => 1 / all.length),
          draws,
          start,
        ).map((i) => all[i]!);
  const effective = effectiveStates(states.map((chains) => chains.map(({ place }) => place)));
  return {
    draws: chosen.map(({ place, first }) => ({ ...first, place })),
    weights: chosen.map(() => 1 / chosen.length),
    tolerance: Math.max(...chosen.map(({ first }) => first.distance)),
    rounds,
    accepted,
    effective: Math.min(chosen.length, effective),
  };
}

/** Log of the normal density of 0, of which replicates are draws, without bias and up to a number. */
function logLikelihood(written: readonly (readonly number[])[], targets: number): number {
  const runs = written.filter((numbers) => numbers.every((value) => Number.isFinite(value)));
  const count = runs.length;
  if (count <= targets + 4) return -Infinity;
  const mean = Array.from({ length: targets }, (_, k) => runs.reduce((sum, run) => sum + run[k]!, 0) / count);
  const products = covarianceOf(
    runs,
    runs.map(() => 1),
  );
  for (let k = 0; k < targets; k++) products.set(k, k, products.get(k, k) + JITTER * (count - 1));
  const cholesky = new CholeskyDecomposition(products);
  if (!cholesky.isPositiveDefinite()) return -Infinity;
  const solved = cholesky.solve(Matrix.columnVector(mean));
  const quotient = mean.reduce((sum, value, k) => sum + value * solved.get(k, 0), 0) / (1 - 1 / count);
  if (!(quotient < 1)) return -Infinity;
  const { lowerTriangularMatrix } = cholesky;
  const halfDeterminant = mean.reduce((sum, _, k) => sum + log(lowerTriangularMatrix.get(k, k)), 0);
  return -halfDeterminant + ((count - targets - 3) / 2) * log(1 - quotient);
}

/** Root of the covariance of moves. */
function rootOf(places: readonly Place[], dimensions: number): Matrix {
  const covariance = covarianceOf(
    places,
    places.map(() => 1 / places.length),
  );
  for (let i = 0; i < dimensions; i++) covariance.set(i, i, covariance.get(i, i) + JITTER);
  return new CholeskyDecomposition(covariance.mul(MOVE / dimensions)).lowerTriangularMatrix;
}

function meanDistance(tried: readonly Tried[]): number {
  const reached = tried.filter(({ distance }) => Number.isFinite(distance));
  return reached.reduce((sum, { distance }) => sum + distance, 0) / reached.length;
}

/** States worth as much as independent ones, of the unknown that moves least (C. Geyer, Statist. Sci. 7 (1992), 473-483). */
function effectiveStates(states: readonly (readonly Place[])[]): number {
  const [length, chains] = [states.length, states[0]!.length];
  const all = length * chains;
  return Math.min(
    ...states[0]![0]!.map((_, unknown) => {
      const of = (move: number, chain: number): number => states[move]![chain]![unknown]!;
      const mean = states.reduce((sum, places) => sum + places.reduce((s, place) => s + place[unknown]!, 0), 0) / all;
      const together = (lag: number): number => {
        let sum = 0;
        for (let chain = 0; chain < chains; chain++)
          for (let move = 0; move + lag < length; move++)
            sum += (of(move, chain) - mean) * (of(move + lag, chain) - mean);
        return sum / all;
      };
      const own = together(0);
      if (!(own > 0)) return 1;
      let sum = own;
      for (let lag = 1; lag + 1 < length; lag += 2) {
        const pair = together(lag) + together(lag + 1);
        if (pair <= 0) break;
        sum += 2 * pair;
      }
      return all / (sum / own);
    }),
  );
}

const CHAIN = keyOfName('chains of a match');
