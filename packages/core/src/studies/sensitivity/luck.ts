import { mean, sampleVariance } from 'simple-statistics';

/** How much of what differs between runs is luck. */
export interface LuckShare {
  /** Share of the variance over all runs that lies between runs of the same point, from 0 to 1. */
  readonly share: number;
  readonly points: number;
}

/**
 * The share of luck: the mean variance within points over the variance in all. The variance between points is that of their means less what
 * luck alone makes of it, and never below 0 (the estimate of one-way random effects: S. R. Searle, Linear Models, 1971, ch. 9).
 * @param points values of the runs of each point; empty ones (NaN) are left out, points with fewer than two values too
 */
export function luckShare(points: readonly (readonly number[])[]): LuckShare {
  const usable = points
    .map((values) => values.filter((value) => !Number.isNaN(value)))
    .filter((values) => values.length > 1);
  if (usable.length < 2) return { share: NaN, points: usable.length };
  const within = mean(usable.map((values) => sampleVariance(values)));
  const runs = mean(usable.map((values) => values.length));
  const between = Math.max(0, sampleVariance(usable.map((values) => mean(values))) - within / runs);
  const all = within + between;
  return { share: all > 0 ? within / all : NaN, points: usable.length };
}
