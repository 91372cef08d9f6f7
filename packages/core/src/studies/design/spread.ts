// @ts-expect-error It comes without types.
import untyped from 'jstat';
import { exp, log } from '../../math.ts';
import { normalQuantile } from '../statistics/quantiles.ts';

interface Law {
  inv(level: number, first: number, second: number): number;
}
const laws = untyped as { readonly gamma: Law; readonly beta: Law };

/** How the values of a factor are spread in a sampled design, in the unit in which they are shown. */
export type Spread =
  /** Each of the values equally often. */
  | { readonly is: 'values'; readonly values: readonly number[] }
  /** Every whole number from low to high equally often. */
  | { readonly is: 'whole'; readonly low: number; readonly high: number }
  | { readonly is: 'uniform'; readonly low: number; readonly high: number }
  /** Evenly by logarithm; both ends above 0. */
  | { readonly is: 'logarithmic'; readonly low: number; readonly high: number }
  /** A distribution of the language by its name, with its numbers in their order. */
  | { readonly is: 'law'; readonly law: SpreadLaw; readonly numbers: readonly number[] };

/** Distributions that a factor may have. */
export const SPREAD_LAWS = ['normal', 'lognormal', 'exponential', 'gamma', 'beta', 'weibull', 'triangular'] as const;
export type SpreadLaw = (typeof SPREAD_LAWS)[number];

/** Laws without ends are cut off here and at the other side, so that no point of a design is endless. */
const FURTHEST = 1e-4;

/**
 * The value of a factor at a level of its spread: its quantile.
 * @param level from 0 to 1, both included
 */
export function spreadQuantile(spread: Spread, level: number): number {
  switch (spread.is) {
    case 'values':
      return spread.values[Math.min(spread.values.length - 1, Math.floor(level * spread.values.length))]!;
    case 'whole':
      return spread.low + Math.min(spread.high - spread.low, Math.floor(level * (spread.high - spread.low + 1)));
    case 'uniform':
      return spread.low + level * (spread.high - spread.low);
    case 'logarithmic':
      if (level === 0 || level === 1) return level === 0 ? spread.low : spread.high;
      return exp(log(spread.low) + level * (log(spread.high) - log(spread.low)));
    case 'law':
      return lawQuantile(spread.law, spread.numbers, Math.min(1 - FURTHEST, Math.max(FURTHEST, level)));
  }
}

/** Quantile of a law with the parameters that it has in the language (docs/language.md): means and standard deviations are those of the values. */
function lawQuantile(law: SpreadLaw, [p = NaN, q = NaN, r = NaN]: readonly number[], level: number): number {
  switch (law) {
    case 'normal':
      return p + q * normalQuantile(level);
    case 'lognormal': {
      const variance = log(1 + (q / p) * (q / p));
      return exp(log(p) - 0.5 * variance + Math.sqrt(variance) * normalQuantile(level));
    }
    case 'exponential':
      return -p * log(1 - level);
    case 'gamma':
      return laws.gamma.inv(level, q, p / q);
    case 'beta':
      return laws.beta.inv(level, p, q);
    case 'weibull':
      return p * exp(log(-log(1 - level)) / q);
    case 'triangular': {
      const turn = (q - p) / (r - p);
      return level < turn ? p + Math.sqrt(level * (r - p) * (q - p)) : r - Math.sqrt((1 - level) * (r - p) * (r - q));
    }
  }
}
