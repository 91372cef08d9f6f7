import type { Plan } from '../../plan/plan.ts';
import { quantileSorted } from '../../measures/numeric/gather.ts';
import { drawsOf } from './ensemble.ts';
import type { RunWithValues } from './match-runs.ts';
import { observedOf } from './match-runs.ts';
import type { Observation } from './observations.ts';
import { written } from './observing.ts';
import type { TiedSeries } from './read-match.ts';

/** What would have been observed at any time: bands over runs, with the error of observing. */
export interface ObservedFan {
  /** In base units of time; the bands have a number each, in the unit of the observer. */
  readonly times: readonly number[];
  readonly low90: readonly number[];
  readonly low50: readonly number[];
  readonly median: readonly number[];
  readonly high50: readonly number[];
  readonly high90: readonly number[];
}

/** Times of a fan at most; those of the observations come to them where they are no more. */
const MOST_TIMES = 150;
const LEVELS = [0.05, 0.25, 0.5, 0.75, 0.95];

/**
 * The fan of a series between its observations too: at each time as if one had observed then, over an interval as long as that of the next observation.
 * Every run is observed with the same luck at all times, so that the bands are smooth.
 * @param limit steps that the runs had time for
 */
export function observedFan(
  series: TiedSeries,
  place: number,
  runs: readonly RunWithValues[],
  plan: Plan,
  limit: number,
): ObservedFan {
  const wished = wishedObservations(series, plan.clock.stepLength, limit);
  const exact = runs.map((run) => observedOf(run, { ...series, observations: wished }, plan, limit));
  const draws = drawsOf(series.error, runs.length);
  const rows = wished.flatMap(({ time, sd }, i) => {
    const values = exact.flatMap((numbers, run) =>
      Array.from({ length: draws }, (_, draw) =>
        written(numbers[i]!, series.error, sd, {
          seed: runs[run]!.result.seed,
          series: place,
          observation: wished.length,
          draw,
        }),
      ),
    );
    const sorted = Float64Array.from(values.filter((value) => !Number.isNaN(value))).sort();
    return sorted.length === 0 ? [] : [{ time, levels: LEVELS.map((level) => quantileSorted(sorted, level)) }];
  });
  const [low90, low50, median, high50, high90] = LEVELS.map((_, level) => rows.map(({ levels }) => levels[level]!));
  return {
    times: rows.map(({ time }) => time),
    low90: low90!,
    low50: low50!,
    median: median!,
    high50: high50!,
    high90: high90!,
  };
}

/** Observations that might have been made, without values. Totals begin with the first that was made, as before it an interval would be cut off. */
export function wishedObservations(
  { observations, reading }: TiedSeries,
  stepLength: number,
  limit: number,
): Observation[] {
  const made = observations.filter(({ time }, i) => i === 0 || time !== observations[i - 1]!.time);
  const every = Math.max(1, Math.ceil(limit / MOST_TIMES));
  const between = Array.from({ length: Math.floor(limit / every) + 1 }, (_, i) => i * every * stepLength);
  const own = made.length <= MOST_TIMES ? made.map(({ time }) => time) : [];
  const times = [...new Set([...between, ...own])].sort((a, b) => a - b);
  const first = reading === 'total' ? (made[0]?.time ?? 0) : 0;
  let next = 0;
  return times
    .filter((time) => time >= first)
    .map((time) => {
      while (next < made.length - 1 && made[next]!.time < time) next++;
      const { time: end, since, sd } = made[next]!;
      return { time, since: Math.max(0, time - (end - since)), value: NaN, ...(sd === undefined ? {} : { sd }) };
    });
}
