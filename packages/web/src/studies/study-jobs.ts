import type { Plan } from '@vole/core';
import { combinationAt, combinationCount } from '@vole/core';
import type { StudyRow } from '../storage/schema.ts';
import { ownValue } from '../store/own-value.ts';
import type { StudyJob } from '../simulation/protocol.ts';

/** What a page can hold and a reader can look through; more is refused before it starts. */
const MOST_RUNS = 200_000;
const MOST_BYTES = 1.5e9;
/** Bookkeeping of a stored run beside its numbers. */
const BYTES_A_RUN = 200;

type Design = Pick<StudyRow, 'seeds' | 'factors'>;

/** How many runs a study has in all. */
export function jobCount({ seeds, factors }: Design): number {
  return combinationCount(factors) * seeds.length;
}

/** One job of a study: combination by combination, seeds within. Factors that the text has no more are left out. */
export function jobAt(
  study: Pick<StudyRow, 'seeds' | 'factors' | 'parameters' | 'steps' | 'every'>,
  plan: Plan,
  id: number,
): StudyJob {
  const parameters = plan.parameters.map((parameter) => ownValue(study.parameters, parameter.name) ?? parameter.value);
  const combination = combinationAt(study.factors, Math.floor(id / study.seeds.length));
  study.factors.forEach((factor, f) => {
    const index = plan.parameters.findIndex((parameter) => parameter.name === factor.parameter);
    if (index >= 0) parameters[index] = combination[f]! * plan.parameters[index]!.unitFactor;
  });
  return { id, parameters, seed: study.seeds[id % study.seeds.length]!, steps: study.steps, every: study.every };
}

/** Bytes that the results of so many runs take up. */
export function studyBytes(runs: number, rowsARun: number, numbersARow: number): number {
  return runs * (rowsARun * numbersARow * 8 + BYTES_A_RUN);
}

/** Why a study is too large to start, if it is. */
export function tooLarge(runs: number, bytes: number): string | undefined {
  if (runs > MOST_RUNS)
    return `That are ${runs.toLocaleString('en-GB')} runs; at most ${MOST_RUNS.toLocaleString('en-GB')} go in one study. Take fewer values or seeds.`;
  if (bytes > MOST_BYTES)
    return `Its results would take ${(bytes / 1e9).toFixed(1)} GB; at most ${MOST_BYTES / 1e9} GB go in one study. Keep fewer steps, or take fewer values or seeds.`;
  return undefined;
}
