import type { Observation } from './observations.ts';
import type { ErrorKey, ObservingError } from './observing.ts';
import { written } from './observing.ts';

/** What an observer might have written of every run, at one observation. */
export interface EnsembleAt {
  /** Ascending; those that are empty are left out. */
  readonly values: Float64Array;
  /** The run that each of them is of, by its place. */
  readonly runs: Int32Array;
}

/** Few runs are observed several times over, so that the error of observing shows smoothly: about so many values in all, but no run more often than this. */
const WANTED_VALUES = 1000;
const MOST_DRAWS = 25;

/** How often each of so many runs is observed. */
export function drawsOf(error: ObservingError, runs: number): number {
  return error.is === 'none' ? 1 : Math.max(1, Math.min(MOST_DRAWS, Math.ceil(WANTED_VALUES / Math.max(1, runs))));
}

/**
 * One number an observation, as an observer might have written it of one run.
 * @param exact without errors of observing
 */
export function writtenOf(
  exact: Float64Array,
  observations: readonly Observation[],
  error: ObservingError,
  key: Omit<ErrorKey, 'observation'>,
): Float64Array {
  return exact.map((value, observation) =>
    written(value, error, observations[observation]!.sd, { ...key, observation }),
  );
}

/**
 * The ensemble at each observation, with the error of observing.
 * @param exact of each run a number an observation, without errors
 * @param seeds of the runs
 */
export function ensembleOf(
  exact: readonly Float64Array[],
  seeds: readonly number[],
  observations: readonly Observation[],
  error: ObservingError,
  series: number,
): EnsembleAt[] {
  const draws = drawsOf(error, exact.length);
  return observations.map(({ sd }, observation) => {
    const pairs: { value: number; run: number }[] = [];
    exact.forEach((numbers, run) => {
      for (let draw = 0; draw < draws; draw++) {
        const value = written(numbers[observation]!, error, sd, { seed: seeds[run]!, series, observation, draw });
        if (!Number.isNaN(value)) pairs.push({ value, run });
      }
    });
    pairs.sort((a, b) => a.value - b.value || a.run - b.run);
    return {
      values: Float64Array.from(pairs, ({ value }) => value),
      runs: Int32Array.from(pairs, ({ run }) => run),
    };
  });
}

/** Values at levels, which go up, of an ensemble in which each run counts so many times: quantiles of type 7 of all of them in order. */
export function quantilesCounted(
  { values, runs }: EnsembleAt,
  counts: ArrayLike<number>,
  levels: readonly number[],
): number[] {
  let total = 0;
  for (let i = 0; i < runs.length; i++) total += counts[runs[i]!]!;
  if (total === 0) return levels.map(() => NaN);
  const lows = levels.map((level) => Math.floor((total - 1) * level));
  const found = levels.map(() => ({ low: NaN, high: NaN }));
  // Both lists of places go up, so that one pass finds them.
  let [after, low, high] = [0, 0, 0];
  for (let i = 0; i < values.length && high < levels.length; i++) {
    after += counts[runs[i]!]!;
    while (low < levels.length && lows[low]! < after) found[low++]!.low = values[i]!;
    while (high < levels.length && Math.min(total - 1, lows[high]! + 1) < after) found[high++]!.high = values[i]!;
  }
  return found.map(({ low, high }, i) => low + ((total - 1) * levels[i]! - lows[i]!) * (high - low));
}

/**
 * Continuous ranked probability score of an ensemble against one value, in its unit: mean distance to it less half the mean distance within.
 * Source: T. Gneiting and A. Raftery, J. Amer. Statist. Assoc. 102 (2007), 359-378, eq. 21.
 * @param counts how many times each run counts
 */
export function rankedScore({ values, runs }: EnsembleAt, counts: ArrayLike<number>, observed: number): number {
  let [total, distance, spread, before] = [0, 0, 0, 0];
  for (let i = 0; i < values.length; i++) total += counts[runs[i]!]!;
  if (total === 0) return NaN;
  for (let i = 0; i < values.length; i++) {
    const count = counts[runs[i]!]!;
    distance += count * Math.abs(values[i]! - observed);
    // Each of them is greater than those before and less than those after.
    spread += count * values[i]! * (2 * before + count - total);
    before += count;
  }
  return distance / total - spread / (total * total);
}
