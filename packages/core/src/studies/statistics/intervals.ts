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
  const n = values.length;
  if (n < LEAST_FOR_HEAPS) return undefined;
  const sorted = Float64Array.from(values).sort();
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
  if (share < CUT_SHARE || low < LEAST_IN_HEAP || n - low < LEAST_IN_HEAP) return undefined;
  return { low, high: n - low, between: (sorted[low - 1]! + sorted[low]!) / 2 };
}

const NORMAL_95 = 1.6448536269514722;

/** Mean with its 90 % Student interval; values that are NaN (never, empty) are left out. One value has an endless interval. */
export function meanEstimate(values: readonly number[]): Estimate {
  const present = Float64Array.from(values.filter((value) => !Number.isNaN(value)));
  const n = present.length;
  const value = gather('mean', present, n);
  if (n < 2) return { value, low: -Infinity, high: Infinity, runs: n };
  const half = (studentQuantile95(n - 1) * gather('sd', present, n)) / Math.sqrt(n);
  return { value, low: value - half, high: value + half, runs: n };
}

/**
 * The 95 % quantile of Student's t. Source: M. Abramowitz and I. Stegun, Handbook of Mathematical Functions (1964), 26.7.5; below 3 degrees of freedom its exact values.
 * @param freedom degrees of freedom, at least 1
 */
export function studentQuantile95(freedom: number): number {
  if (freedom === 1) return 6.313751514675043;
  if (freedom === 2) return 2.919985580353725;
  const z = NORMAL_95;
  const z2 = z * z;
  const g1 = (z * (z2 + 1)) / 4;
  const g2 = (z * ((5 * z2 + 16) * z2 + 3)) / 96;
  const g3 = (z * (((3 * z2 + 19) * z2 + 17) * z2 - 15)) / 384;
  const g4 = (z * ((((79 * z2 + 776) * z2 + 1482) * z2 - 1920) * z2 - 945)) / 92160;
  return z + (g1 + (g2 + (g3 + g4 / freedom) / freedom) / freedom) / freedom;
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
