import type { Spread } from '../../design/spread.ts';
import { spreadQuantile } from '../../design/spread.ts';
import type { Posterior } from './match-search.ts';

/** What a posterior tells of one unknown. Values are in the unit in which the parameter is shown. */
export interface UnknownFinding {
  readonly parameter: string;
  readonly median: number;
  /** Middle nine tenths. */
  readonly low: number;
  readonly high: number;
  /** Middle nine tenths of the prior. */
  readonly priorLow: number;
  readonly priorHigh: number;
  /** By which share the middle nine tenths are narrower than those of the prior; below 0 where they are wider. */
  readonly narrowing: number;
  /** The end of the prior at which the draws heap, if they do: the prior cuts off what agrees. */
  readonly end?: 'low' | 'high';
}

/** How two unknowns hang together in a posterior. */
export interface PairFinding {
  /** Places of both among the unknowns. */
  readonly first: number;
  readonly second: number;
  readonly correlation: number;
}

/** A posterior over its prior, in bins. */
export interface PosteriorBins {
  /** One more than there are bins. */
  readonly edges: readonly number[];
  /** Share of each in a bin. */
  readonly posterior: readonly number[];
  readonly prior: readonly number[];
}

/** Share of the draws beyond the outer twentieth of the prior from which on they heap at its end. */
const HEAPED = 0.2;
const OUTER = 0.05;

/** What a posterior tells of each unknown. @param priors in the order of its parameters */
export function findingsOf({ parameters, draws, weights }: Posterior, priors: readonly Spread[]): UnknownFinding[] {
  return parameters.map((parameter, unknown) => {
    const values = draws.map((draw) => draw[unknown]!);
    const prior = priors[unknown]!;
    const [priorLow, priorHigh] = [OUTER, 1 - OUTER].map((level) => spreadQuantile(prior, level)) as [number, number];
    const [low, median, high] = [0.05, 0.5, 0.95].map((level) => weightedQuantile(values, weights, level)) as [
      number,
      number,
      number,
    ];
    const shareOf = (isThere: (value: number) => boolean): number =>
      values.reduce((sum, value, i) => sum + (isThere(value) ? weights[i]! : 0), 0);
    const end =
      shareOf((value) => value < priorLow) > HEAPED
        ? ('low' as const)
        : shareOf((value) => value > priorHigh) > HEAPED
          ? ('high' as const)
          : undefined;
    const width = priorHigh - priorLow;
    const narrowing = width > 0 ? 1 - (high - low) / width : 0;
    return { parameter, median, low, high, priorLow, priorHigh, narrowing, ...(end ? { end } : {}) };
  });
}

/** The smallest value up to which the weights add up to a level. */
function weightedQuantile(values: readonly number[], weights: readonly number[], level: number): number {
  const order = values.map((_, i) => i).sort((a, b) => values[a]! - values[b]!);
  const total = weights.reduce((sum, weight) => sum + weight, 0);
  let sum = 0;
  for (const i of order) {
    sum += weights[i]!;
    if (sum >= level * total * (1 - 1e-12)) return values[i]!;
  }
  return values[order.at(-1)!] ?? NaN;
}

/** Weighted correlation of each pair of unknowns; 0 where one of them does not vary. */
export function pairsOf({ parameters, draws, weights }: Posterior): PairFinding[] {
  const moment = (of: (draw: readonly number[]) => number): number =>
    draws.reduce((sum, draw, i) => sum + weights[i]! * of(draw), 0);
  const means = parameters.map((_, unknown) => moment((draw) => draw[unknown]!));
  const product = (a: number, b: number): number => moment((draw) => (draw[a]! - means[a]!) * (draw[b]! - means[b]!));
  return parameters.flatMap((_, first) =>
    parameters.slice(first + 1).map((_, i) => {
      const second = first + 1 + i;
      const spread = Math.sqrt(product(first, first) * product(second, second));
      return { first, second, correlation: spread > 0 ? product(first, second) / spread : 0 };
    }),
  );
}

const BINS = 24;
/** Quantiles by which the share of a prior in a bin is told. */
const PRIOR_STEPS = 4000;

/** A posterior over its prior, in bins that hold nearly all of both. */
export function binsOf({ draws, weights }: Posterior, unknown: number, prior: Spread): PosteriorBins {
  const values = draws.map((draw) => draw[unknown]!);
  const quantiles = Array.from({ length: PRIOR_STEPS }, (_, i) => spreadQuantile(prior, (i + 0.5) / PRIOR_STEPS));
  const outer = Math.round(PRIOR_STEPS / 400);
  const low = Math.min(quantiles[outer]!, ...values);
  const high = Math.max(quantiles[PRIOR_STEPS - 1 - outer]!, ...values);
  const width = (high - low || 1) / BINS;
  const binOf = (value: number): number => Math.min(BINS - 1, Math.floor((value - low) / width));
  const shares = (of: readonly number[], weightOf: (i: number) => number): number[] => {
    const bins = new Array<number>(BINS).fill(0);
    of.forEach((value, i) => value >= low && value <= low + BINS * width && (bins[binOf(value)]! += weightOf(i)));
    return bins;
  };
  return {
    edges: Array.from({ length: BINS + 1 }, (_, i) => low + i * width),
    posterior: shares(values, (i) => weights[i]!),
    prior: shares(quantiles, () => 1 / PRIOR_STEPS),
  };
}
