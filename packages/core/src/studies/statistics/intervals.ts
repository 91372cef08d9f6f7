import { gather } from '../../measures/numeric/gather.ts';

/** An estimate with its 90 % interval and how many runs it comes from; never shown without both. */
export interface Estimate {
  readonly value: number;
  readonly low: number;
  readonly high: number;
  readonly runs: number;
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
  return z + g1 / freedom + g2 / freedom ** 2 + g3 / freedom ** 3 + g4 / freedom ** 4;
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
