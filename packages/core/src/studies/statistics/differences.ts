import { sampleVariance } from 'simple-statistics';
import type { Estimate } from './intervals.ts';
import { meanEstimate, shareEstimate } from './intervals.ts';

/** How two points with shared seeds differ in a summary. */
export interface PairedDifference {
  /** Mean of b less a over the seeds that both have, with its Student interval. */
  readonly difference: Estimate;
  /** Share of the seeds in which b is above a, with its interval (Wilson); seeds in which they are the same count half a seed each. */
  readonly ahead: Estimate;
  /** Seeds in which both are the same. */
  readonly same: number;
  /** Seeds in which a value was empty in either. */
  readonly never: number;
  /** How many times more seeds it would take, without sharing them, to be as sure: variance of independent differences over that of paired ones. */
  readonly gain: number;
}

/**
 * Differences of a summary between two points that share their seeds.
 * @param a values by seed, in the order of the seeds; undefined where the run is missing
 */
export function pairedDifference(
  a: readonly (number | undefined)[],
  b: readonly (number | undefined)[],
): PairedDifference {
  const both = a.flatMap((x, i): [number, number][] => (x === undefined || b[i] === undefined ? [] : [[x, b[i]]]));
  const pairs = both.filter(([x, y]) => !Number.isNaN(x) && !Number.isNaN(y));
  const differences = pairs.map(([x, y]) => y - x);
  const ahead = pairs.reduce((sum, [x, y]) => sum + (y > x ? 1 : y === x ? 0.5 : 0), 0);
  const variance = (values: number[]): number => (values.length < 2 ? NaN : sampleVariance(values));
  const paired = variance(differences);
  return {
    difference: meanEstimate(differences),
    ahead: shareEstimate(ahead, pairs.length),
    same: pairs.filter(([x, y]) => x === y).length,
    never: both.length - pairs.length,
    gain: paired > 0 ? (variance(pairs.map(([x]) => x)) + variance(pairs.map(([, y]) => y))) / paired : NaN,
  };
}
