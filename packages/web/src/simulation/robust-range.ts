/** Values looked at for a range; of more, evenly chosen ones. */
const SAMPLE = 4096;
/** A range that is more than so many times as wide as that of the middle 98 % of the values is that of a few outliers. */
const STRETCH = 2.5;

export interface RobustRange {
  readonly low: number;
  readonly high: number;
  /** Whether some values lie outside: they take the colours of the ends. */
  readonly isCut: boolean;
}

/** The least and the most of some values, empty ones passed over, and the sum of all, in one go: there may be millions. */
export function rangeOf(values: ArrayLike<number>): {
  readonly least: number;
  readonly most: number;
  readonly sum: number;
} {
  let least = Infinity;
  let most = -Infinity;
  let sum = 0;
  for (let i = 0; i < values.length; i++) {
    const value = values[i]!;
    sum += value;
    if (value < least) least = value;
    if (value > most) most = value;
  }
  return { least, most, sum };
}

/**
 * The range over which values are coloured: all of them, unless a few outliers would leave one colour for the rest. Empty values are passed over.
 * @param of their range, where it is known
 */
export function robustRange(values: ArrayLike<number>, { least, most } = rangeOf(values)): RobustRange {
  if (!(most > least)) return { low: least, high: most, isCut: false };
  // An odd stride is in step with fewer patterns.
  const stride = Math.max(1, Math.floor(values.length / SAMPLE)) | 1;
  const sample = Float64Array.from(
    { length: Math.floor((values.length - 1) / stride) + 1 },
    (_, i) => values[i * stride]!,
  )
    .filter((value) => !Number.isNaN(value))
    .sort();
  const low = sample[Math.floor(0.01 * (sample.length - 1))]!;
  const high = sample[Math.ceil(0.99 * (sample.length - 1))]!;
  return high > low && most - least > STRETCH * (high - low)
    ? { low, high, isCut: true }
    : { low: least, high: most, isCut: false };
}
