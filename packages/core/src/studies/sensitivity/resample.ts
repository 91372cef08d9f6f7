import { below, keyOfName, RandomStream } from '../../engine/random/stream.ts';
import { quantileSorted } from '../../measures/numeric/gather.ts';

/** A value with its 90 % interval. */
export interface Interval {
  readonly value: number;
  readonly low: number;
  readonly high: number;
}

/** Samples of a bootstrap. */
const SAMPLES = 400;
const LEVEL = 0.9;

/**
 * A statistic of rows with its percentile interval over samples of the rows with putting back, drawn by a luck of their own: the same every
 * time. Source: B. Efron, Ann. Statist. 7 (1979), 1-26.
 * @param statistic of some rows by their places, which may come several times, and the number of the sample: 0 for all rows as they are;
 *   the samples of one number are the same for every statistic of as many rows
 */
export function resampled(rows: number, statistic: (rows: readonly number[], sample: number) => number): Interval {
  const all = Array.from({ length: rows }, (_, i) => i);
  const value = statistic(all, 0);
  if (rows < 2) return { value, low: -Infinity, high: Infinity };
  const luck = RandomStream.of(rows, 0, keyOfName('bootstrap'));
  const found = Float64Array.from({ length: SAMPLES }, (_, i) =>
    statistic(
      all.map(() => below(luck.word(), rows)),
      i + 1,
    ),
  )
    .filter((x) => !Number.isNaN(x))
    .sort();
  if (found.length < SAMPLES / 2) return { value, low: NaN, high: NaN };
  return { value, low: quantileSorted(found, (1 - LEVEL) / 2), high: quantileSorted(found, (1 + LEVEL) / 2) };
}
