import { exp, log } from '../../math.ts';

type Values = Float64Array | Float32Array;

export type Gathering = 'sum' | 'mean' | 'geometric mean' | 'min' | 'max' | 'median' | 'sd' | 'quantile';

/**
 * One number from the first `n` of `values`, added up in their order. Of nothing: a sum of 0, else NaN.
 * The standard deviation divides by n - 1 and is NaN of one value; quantiles interpolate linearly between order statistics (Hyndman and
 * Fan, Sample quantiles in statistical packages, 1996, type 7). Median and quantile sort `values` in place.
 */
export function gather(fn: Gathering, values: Values, n: number, level = 0.5): number {
  if (n === 0) return fn === 'sum' ? 0 : NaN;
  switch (fn) {
    case 'sum':
      return sum(values, n);
    case 'mean':
      return sum(values, n) / n;
    case 'geometric mean':
      return geometricMean(values, n);
    case 'min':
    case 'max':
      return extreme(values, n, fn === 'max');
    case 'sd':
      return standardDeviation(values, n);
    case 'median':
      return quantileSorted(values.subarray(0, n).sort(), 0.5);
    case 'quantile':
      return level >= 0 && level <= 1 ? quantileSorted(values.subarray(0, n).sort(), level) : NaN;
  }
}

function sum(values: Values, n: number): number {
  let total = 0;
  for (let i = 0; i < n; i++) total += values[i]!;
  return total;
}

/** NaN if a value is below 0; 0 if one is 0. */
function geometricMean(values: Values, n: number): number {
  let total = 0;
  for (let i = 0; i < n; i++) total += log(values[i]!);
  return exp(total / n);
}

function extreme(values: Values, n: number, greatest: boolean): number {
  let best = values[0]!;
  for (let i = 1; i < n; i++) {
    const value = values[i]!;
    if (greatest ? value > best : value < best) best = value;
  }
  return best;
}

function standardDeviation(values: Values, n: number): number {
  if (n < 2) return NaN;
  const mean = sum(values, n) / n;
  let squares = 0;
  for (let i = 0; i < n; i++) squares += (values[i]! - mean) * (values[i]! - mean);
  return Math.sqrt(squares / (n - 1));
}

/** The quantile of ascending values, type 7; `level` from 0 to 1, at least one value. */
export function quantileSorted(sorted: ArrayLike<number>, level: number): number {
  const at = (sorted.length - 1) * level;
  const low = Math.floor(at);
  const below = sorted[low]!;
  return low + 1 < sorted.length ? below + (at - low) * (sorted[low + 1]! - below) : below;
}
