import { below, keyOfName, RandomStream } from '../../engine/random/stream.ts';
import { sobolPoints } from './sobol-sequence.ts';

/** Levels from 0 to 1 of each factor, row after row: what a sampled design is made of before its factors give them values. */
export type Levels = readonly (readonly number[])[];

/** The luck of a design, apart from that of its runs: keyed by what it is for and its seed. */
function luckOf(purpose: string, seed: number): RandomStream {
  return RandomStream.of(seed, 0, keyOfName(purpose));
}

const ONE = 4294967296;
const unit = (luck: RandomStream): number => (luck.word() >>> 0) / ONE;

/** Levels drawn independently. */
export function randomLevels(count: number, factors: number, seed: number): Levels {
  const luck = luckOf('random', seed);
  return Array.from({ length: count }, () => Array.from({ length: factors }, () => unit(luck)));
}

/** Latin hypercubes of which the best is taken. */
const CANDIDATES = 32;
/** Above so many pairs of points distances take too long to compare, and one hypercube is taken as it is. */
const MOST_PAIRS = 2e6;

/**
 * A Latin hypercube: each factor has one level in each of `count` stretches of the same length. Of several the one whose two nearest points
 * lie furthest apart is taken. Source: M. D. McKay, R. J. Beckman and W. J. Conover, Technometrics 21 (1979), 239-245; maximin: M. D. Morris
 * and T. J. Mitchell (1995).
 */
export function latinHypercube(count: number, factors: number, seed: number): Levels {
  const luck = luckOf('latin hypercube', seed);
  const made = (): number[][] => {
    const columns = Array.from({ length: factors }, () => {
      const places = shuffled(count, luck);
      return places.map((place) => (place + unit(luck)) / count);
    });
    return Array.from({ length: count }, (_, i) => columns.map((column) => column[i]!));
  };
  let best = made();
  if (factors < 2 || count < 2 || (count * count) / 2 > MOST_PAIRS) return best;
  let widest = nearestPair(best);
  for (let i = 1; i < CANDIDATES && ((count * count) / 2) * i < MOST_PAIRS; i++) {
    const other = made();
    const wide = nearestPair(other);
    if (wide > widest) [best, widest] = [other, wide];
  }
  return best;
}

function shuffled(count: number, luck: RandomStream): number[] {
  const places = Array.from({ length: count }, (_, i) => i);
  for (let i = count - 1; i > 0; i--) {
    const j = below(luck.word(), i + 1);
    [places[i], places[j]] = [places[j]!, places[i]!];
  }
  return places;
}

function squaredDistance(a: readonly number[], b: readonly number[]): number {
  return a.reduce((sum, x, i) => sum + (x - b[i]!) * (x - b[i]!), 0);
}

function nearestPair(points: Levels): number {
  let nearest = Infinity;
  for (let i = 1; i < points.length; i++)
    for (let j = 0; j < i; j++) nearest = Math.min(nearest, squaredDistance(points[i]!, points[j]!));
  return nearest;
}

/** The first points of a Sobol sequence, shifted digit by digit by a word of each factor that the seed draws. */
export function sobolLevels(count: number, factors: number, seed: number): Levels {
  const luck = luckOf('sobol sequence', seed);
  return sobolPoints(
    count,
    factors,
    Array.from({ length: factors }, () => luck.word()),
  );
}

/** Levels that a factor takes in elementary effects, and how far one goes in a step. */
const EFFECT_LEVELS = 4;
/** Of elementary effects: how far a factor goes in a step, in levels from 0 to 1. */
export const EFFECT_STEP = EFFECT_LEVELS / (2 * (EFFECT_LEVELS - 1));
const CANDIDATE_PATHS = 5;
const MOST_CANDIDATES = 200;

/**
 * Paths for elementary effects: each begins anywhere on a grid of four levels and changes one factor after the other by two thirds of its
 * range, in a drawn order, so that a path has a point more than there are factors. Of several times as many paths those are taken that
 * lie furthest apart, one after another. Source: M. D. Morris, Technometrics 33 (1991), 161-174; F. Campolongo, J. Cariboni and
 * A. Saltelli, Environ. Model. Softw. 22 (2007), 1509-1518.
 */
export function effectPaths(paths: number, factors: number, seed: number): Levels {
  const luck = luckOf('elementary effects', seed);
  const candidates = Array.from({ length: Math.max(paths, Math.min(MOST_CANDIDATES, paths * CANDIDATE_PATHS)) }, () =>
    effectPath(factors, luck),
  );
  const taken = [candidates.shift()!];
  const nearest = candidates.map((path) => pathDistance(path, taken[0]!));
  while (taken.length < paths) {
    const furthest = nearest.indexOf(Math.max(...nearest));
    const [path] = candidates.splice(furthest, 1);
    nearest.splice(furthest, 1);
    taken.push(path!);
    candidates.forEach((other, i) => (nearest[i] = Math.min(nearest[i]!, pathDistance(other, path!))));
  }
  return taken.flat();
}

function effectPath(factors: number, luck: RandomStream): number[][] {
  const start = Array.from({ length: factors }, () => below(luck.word(), EFFECT_LEVELS) / (EFFECT_LEVELS - 1));
  const path = [start];
  for (const factor of shuffled(factors, luck)) {
    const next = [...path.at(-1)!];
    next[factor]! += next[factor]! + EFFECT_STEP <= 1 + 1e-9 ? EFFECT_STEP : -EFFECT_STEP;
    next[factor] = Math.round(next[factor]! * (EFFECT_LEVELS - 1)) / (EFFECT_LEVELS - 1);
    path.push(next);
  }
  return path;
}

function pathDistance(a: Levels, b: Levels): number {
  return a.reduce((sum, point) => sum + b.reduce((all, other) => all + Math.sqrt(squaredDistance(point, other)), 0), 0);
}

/**
 * Rows for variance-based indices: `count` rows of A, then of B, then for each factor A with that factor's column taken from B. A and B are
 * the two halves of a Sobol sequence of twice as many dimensions. Source: A. Saltelli et al., Comput. Phys. Commun. 181 (2010), 259-270.
 */
export function indexLevels(count: number, factors: number, seed: number): Levels {
  const both = sobolLevels(count, 2 * factors, seed);
  const a = both.map((row) => row.slice(0, factors));
  const b = both.map((row) => row.slice(factors));
  const mixed = Array.from({ length: factors }, (_, factor) =>
    a.map((row, i) => row.map((level, f) => (f === factor ? b[i]![f]! : level))),
  );
  return [...a, ...b, ...mixed.flat()];
}
