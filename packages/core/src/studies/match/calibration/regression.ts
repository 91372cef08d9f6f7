import { inverse, Matrix } from 'ml-matrix';
import type { Place } from './candidates.ts';
import type { WeightedDraws } from './sequential.ts';
import { effectiveDraws } from './sequential.ts';

/** A residual is divided by at least this, where its own draw would hold the line fast. */
const LEAST_FREE = 0.05;

/**
 * Moves each draw to where it would lie had its run been what was observed, by a local linear regression of places on what was written, with the weights
 * of Epanechnikov (M. Beaumont, W. Zhang and D. Balding, Genetics 162 (2002), 2025-2035) and a ridge after M. Blum and O. Francois, Stat. Comput. 20
 * (2010), 63-73: a share of each variance as large as there are targets for each effective draw, so that many targets that say the same do no harm. A draw
 * keeps its residual from the line that the others give: with its own it would be too small the more targets there are, and the posterior too narrow.
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
  const shares = local.map((weight) => weight / total);
  const ridge = targets / effectiveDraws(shares);
  const from = draws.map(({ written }) => [1, ...written.map((value, target) => value - observed[target]!)]);
  const design = new Matrix(from);
  const weighted = new Matrix(from.map((row, i) => row.map((value) => value * shares[i]!)));
  const normal = weighted.transpose().mmul(design);
  for (let target = 1; target <= targets; target++)
    normal.set(target, target, normal.get(target, target) * (1 + ridge) + Number.MIN_VALUE);
  const inverted = inverse(normal, true);
  const lines = inverted.mmul(weighted.transpose().mmul(new Matrix(draws.map(({ place }) => [...place]))));
  const fitted = design.mmul(lines);
  const held = weighted.mmul(inverted);
  const places = draws.map(({ place }, i) => {
    const own = from[i]!.reduce((sum, value, k) => sum + value * held.get(i, k), 0);
    return place.map(
      (z, unknown) => lines.get(0, unknown) + (z - fitted.get(i, unknown)) / Math.max(LEAST_FREE, 1 - own),
    );
  });
  if (places.some((place) => place.some((z) => !Number.isFinite(z)))) return undefined;
  return { places, weights: shares };
}
