import { normalQuantile, studentQuantile } from './quantiles.ts';
import { gather } from '../../measures/numeric/gather.ts';

/** An estimate with its 90 % interval and how many runs it comes from; never shown without both. */
export interface Estimate {
  readonly value: number;
  readonly low: number;
  readonly high: number;
  readonly runs: number;
}

/** What a summary comes to over runs. Runs in which it is empty, as what never happened, are counted apart: they are neither yes nor no nor 0. */
export interface SummaryEstimate extends Estimate {
  /** Runs with yes, of a summary that is yes or no. */
  readonly yes: number;
  /** Runs in which it is empty. */
  readonly never: number;
  /** Where the values fall into two heaps, which a mean does not describe: how many lie in each, and the value between them. */
  readonly heaps?: { readonly low: number; readonly high: number; readonly between: number };
}

/** Mean, or share of yes, of a summary over runs, with its 90 % interval. */
export function summaryEstimate(values: readonly number[], yesNo: boolean): SummaryEstimate {
  const present = values.filter((value) => !Number.isNaN(value));
  const never = values.length - present.length;
  const yes = yesNo ? present.filter((value) => value !== 0).length : 0;
  if (yesNo) return { ...shareEstimate(yes, present.length), yes, never };
  return { ...meanEstimate(present), yes, never, heaps: twoHeaps(present) };
}

/** Fewest values in which heaps are looked for, and in one of them. */
const LEAST_FOR_HEAPS = 12;
const LEAST_IN_HEAP = 3;
/** Share of the variance that a cut between two heaps takes up; 0.64 for a normal law, 0.75 for an even one. Source: N. Otsu (1979), IEEE Trans. SMC 9, 62-66. */
const CUT_SHARE = 0.88;

function twoHeaps(values: readonly number[]): SummaryEstimate['heaps'] {
  const cut = values.length < LEAST_FOR_HEAPS ? undefined : bestCut(Float64Array.from(values).sort());
  if (!cut || cut.share < CUT_SHARE || cut.low < LEAST_IN_HEAP || cut.high < LEAST_IN_HEAP) return undefined;
  const { low, high, between } = cut;
  return { low, high, between };
}

/**
 * Where sorted values fall apart best: the cut that takes up the largest share of their variance.
 * @returns nothing where all are the same
 */
export function bestCut(
  sorted: Float64Array,
): { readonly low: number; readonly high: number; readonly between: number; readonly share: number } | undefined {
  const n = sorted.length;
  const mean = gather('mean', sorted, n);
  const total = sorted.reduce((sum, value) => sum + (value - mean) * (value - mean), 0);
  if (!(total > 0)) return undefined;
  let best = { share: 0, low: 0 };
  let below = 0;
  for (let low = 1; low < n; low++) {
    below += sorted[low - 1]! - mean;
    const between = (below * below * n) / (low * (n - low));
    if (between / total > best.share) best = { share: between / total, low };
  }
  const { share, low } = best;
  return { low, high: n - low, between: (sorted[low - 1]! + sorted[low]!) / 2, share };
}

const NORMAL_95 = normalQuantile(0.95);

/** Mean with its 90 % Student interval; values that are NaN (never, empty) are left out. One value has an endless interval. */
export function meanEstimate(values: readonly number[]): Estimate {
  const present = Float64Array.from(values.filter((value) => !Number.isNaN(value)));
  const n = present.length;
  const value = gather('mean', present, n);
  if (n < 2) return { value, low: -Infinity, high: Infinity, runs: n };
  const half = (studentQuantile(0.95, n - 1) * gather('sd', present, n)) / Math.sqrt(n);
  return { value, low: value - half, high: value + half, runs: n };
}

/**
 * Mean over points of their means, each point counting alike, with its 90 % interval.
 * @param values of each point by seed; undefined where a run is missing, NaN where a value is empty; points without values are left out
 * @param shared the same seeds at every point: then what differs between seeds over all points together gives the interval, else what differs within points
 */
export function meanOfMeans(values: readonly (readonly (number | undefined)[])[], shared: boolean): Estimate {
  const isThere = (value: number | undefined): value is number => value !== undefined && !Number.isNaN(value);
  const points = values
    .map((own) => ({ own, mean: meanEstimate(own.filter(isThere)) }))
    .filter(({ mean }) => mean.runs > 0);
  const value = points.reduce((sum, { mean }) => sum + mean.value, 0) / points.length;
  const runs = points.reduce((sum, { mean }) => sum + mean.runs, 0);
  if (shared) {
    const seeds = Math.max(0, ...points.map(({ own }) => own.length));
    const apart = Array.from({ length: seeds }, (_, seed) => {
      const here = points.filter(({ own }) => isThere(own[seed]));
      return here.reduce((sum, { own, mean }) => sum + own[seed]! - mean.value, 0) / here.length;
    });
    const { low, high } = meanEstimate(apart);
    return { value, low: value - (high - low) / 2, high: value + (high - low) / 2, runs };
  }
  const free = runs - points.length;
  if (free < 1) return { value, low: -Infinity, high: Infinity, runs };
  const squares = points.reduce(
    (sum, { own, mean }) => own.filter(isThere).reduce((inner, x) => inner + (x - mean.value) * (x - mean.value), sum),
    0,
  );
  const variance = (squares / free) * points.reduce((sum, { mean }) => sum + 1 / mean.runs, 0);
  const half = (studentQuantile(0.95, free) * Math.sqrt(variance)) / points.length;
  return { value, low: value - half, high: value + half, runs };
}

/** Share of yes with its 90 % interval after Wilson (1927), good also near 0 and 1. */
export function shareEstimate(yes: number, runs: number): Estimate {
  if (runs === 0) return { value: NaN, low: 0, high: 1, runs };
  const z2 = NORMAL_95 * NORMAL_95;
  const share = yes / runs;
  const centre = (share + z2 / (2 * runs)) / (1 + z2 / runs);
  const half = (NORMAL_95 * Math.sqrt((share * (1 - share)) / runs + z2 / (4 * runs * runs))) / (1 + z2 / runs);
  return { value: share, low: Math.max(0, centre - half), high: Math.min(1, centre + half), runs };
}
