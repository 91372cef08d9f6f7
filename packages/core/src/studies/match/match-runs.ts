import type { Plan } from '../../plan/plan.ts';
import type { StudySetting } from '../design/design.ts';
import type { RunResult } from '../runner/simulate.ts';
import type { MatchedSeries } from './agreement.ts';
import type { MatchDefinition, TiedSeries } from './read-match.ts';
import { observedIn } from './ties.ts';

/** A finished run with the values that it had, in base units, in the order of the text. */
export interface RunWithValues {
  readonly result: RunResult;
  readonly parameters: readonly number[];
}

/** The study that repeats a match as it stands, without a search: its seeds at the values that it sets. */
export function matchRuns({ seeds, parameters, steps }: MatchDefinition): StudySetting {
  return {
    design: { is: 'every combination', factors: [], seeds: Array.from({ length: seeds }, (_, i) => i + 1) },
    parameters,
    steps,
    every: 1,
  };
}

/** Each series of a match with what would have been observed of each run. @param limit steps that the runs had time for */
export function matchedSeries(
  { series, heldOutFrom }: Pick<MatchDefinition, 'series' | 'heldOutFrom'>,
  runs: readonly RunWithValues[],
  plan: Plan,
  limit: number,
): MatchedSeries[] {
  return series.map(({ observations, error }, place) => ({
    observations,
    exact: runs.map((run) => observedOf(run, series[place]!, plan, limit)),
    seeds: runs.map(({ result }) => result.seed),
    error,
    heldOutFrom,
    series: place,
  }));
}

/** What would have been observed of a run in one series, without errors of observing. */
export function observedOf(
  run: RunWithValues,
  { tied, reading, observations }: TiedSeries,
  plan: Plan,
  limit: number,
): Float64Array {
  return observedIn(run, tied, reading, observations, {
    measures: plan.measures.length,
    stepLength: plan.clock.stepLength,
    steps: limit,
  });
}

/** The steps that runs have time for: those asked for, or as many as the longest took. */
export function limitOf(steps: number | undefined, runs: readonly RunWithValues[]): number {
  return steps ?? runs.reduce((most, { result }) => Math.max(most, result.steps), 0);
}
