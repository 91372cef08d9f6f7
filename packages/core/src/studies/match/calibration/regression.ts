import { Matrix, solve } from 'ml-matrix';
import type { Place } from './candidates.ts';
import type { WeightedDraws } from './sequential.ts';

/** A small share of each variance that is added to it, so that targets that say the same do no harm. */
const RIDGE = 1e-3;

/**
 * Moves each draw to where it would lie had its run been what was observed, by a local linear regression of places on what was written, with the weights
 * of Epanechnikov. Sources: M. Beaumont, W. Zhang and D. Balding, Genetics 162 (2002), 2025-2035; the ridge after M. Blum and O. Francois, Stat. Comput.
 * 20 (2010), 63-73.
 * @param observed in the order of what was written
 * @returns places and weights; nothing where there are too few draws for so many targets
 */
export function adjusted(
  { draws, weights, tolerance }: WeightedDraws,
  observed: readonly number[],
): { readonly places: readonly Place[]; readonly weights: readonly number[] } | undefined {
  const targets = observed.length;
  if (draws.length < 2 * (targets + 2) || !(tolerance > 0)) return undefined;
  const local = draws.map(
    ({ distance }, i) => weights[i]! * Math.max(0, 1 - (distance / tolerance) * (distance / tolerance)),
  );
  const total = local.reduce((sum, weight) => sum + weight, 0);
  if (!(total > 0)) return undefined;
  const from = draws.map(({ written }) => written.map((value, target) => value - observed[target]!));
  const design = new Matrix(from.map((row) => [1, ...row]));
  const weighted = new Matrix(from.map((row, i) => [1, ...row].map((value) => (value * local[i]!) / total)));
  const normal = weighted.transpose().mmul(design);
  for (let target = 1; target <= targets; target++)
    normal.set(target, target, normal.get(target, target) * (1 + RIDGE) + Number.MIN_VALUE);
  const right = weighted.transpose().mmul(new Matrix(draws.map(({ place }) => [...place])));
  const slopes = solve(normal, right, true);
  const places = draws.map(({ place }, i) =>
    place.map(
      (z, unknown) => z - from[i]!.reduce((sum, value, target) => sum + value * slopes.get(target + 1, unknown), 0),
    ),
  );
  if (places.some((place) => place.some((z) => !Number.isFinite(z)))) return undefined;
  return { places, weights: local.map((weight) => weight / total) };
}
