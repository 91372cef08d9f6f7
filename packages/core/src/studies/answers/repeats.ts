import { summarise } from '../../runs/summarise.ts';
import { outcomeFindings, withOutcomes } from '../outcomes.ts';
import type { RunResult } from '../runner/simulate.ts';
import { meanEstimate, shareEstimate } from '../statistics/intervals.ts';
import type { DistributionAnswer, EnoughAnswer, OutcomeAnswer } from './questions.ts';

/** Answers about many runs of the same values. */

/** Values of a summary over runs, in the order of their seeds; empty ones are counted. */
export function distributionOf(runs: readonly RunResult[], summary: number): DistributionAnswer {
  const values = runs.map(({ summaries }) => summaries[summary]!);
  const present = values.filter((value) => !Number.isNaN(value));
  return { values: present, never: values.length - present.length };
}

/** Looks at the half width of a mean that are drawn at most. */
const MOST_LOOKS = 120;
const LEAST_FOR_MEAN = 5;

/** How the half width of the 90 % interval of a mean narrows as seeds are added. */
export function enoughOf(runs: readonly RunResult[], summary: number): EnoughAnswer {
  const values = runs.map(({ summaries }) => summaries[summary]!).filter((value) => !Number.isNaN(value));
  const every = Math.max(1, Math.ceil((values.length - LEAST_FOR_MEAN) / MOST_LOOKS));
  const seeds: number[] = [];
  for (let n = LEAST_FOR_MEAN; n < values.length; n += every) seeds.push(n);
  if (values.length >= LEAST_FOR_MEAN) seeds.push(values.length);
  const halves = seeds.map((n) => {
    const { low, high } = meanEstimate(values.slice(0, n));
    return (high - low) / 2;
  });
  return { seeds, halves, mean: meanEstimate(values).value };
}

/**
 * In how many runs a condition holds, from the rows that were kept of them.
 * @param text of the model; its conditions may read measures and summaries
 */
export function outcomeOf(text: string, runs: readonly RunResult[], condition: string): OutcomeAnswer {
  const plan = withOutcomes(text, undefined, [{ name: 'asked', condition }])?.plan;
  if (!plan) {
    const [wrong] = outcomeFindings(text, undefined, { text: condition, span: { start: 0, end: condition.length } });
    return { problem: wrong ? `${wrong.message} ${wrong.hint ?? ''}`.trim() : 'This is no condition on a run.' };
  }
  const { value } = plan.summaries.at(-1)!;
  if (readsFinals(value))
    return {
      problem: 'It asks of the population itself, which is gone when a run is over: ask of measures and summaries.',
    };
  const width = plan.measures.length;
  const holding: { seed: number; steps: number }[] = [];
  let never = 0;
  for (const { seed, steps, rows, every } of runs) {
    const count = width === 0 ? 0 : rows.length / width;
    const found = summarise(
      value,
      { count, measures: width, data: rows, stepLength: plan.clock.stepLength * every, finals: [] },
      count - 1,
    );
    if (Number.isNaN(found)) never++;
    else if (found !== 0) holding.push({ seed, steps });
  }
  const asked = runs.length - never;
  return {
    share: shareEstimate(holding.length, asked),
    yes: holding.length,
    never,
    every: runs[0]?.every ?? 1,
    first: holding.slice(0, MOST_NAMED),
  };
}

/** Runs that are named of those in which a condition holds. */
const MOST_NAMED = 5;

/** Whether an expression reads what was taken at the very end of a run, which is not kept. */
function readsFinals(value: unknown): boolean {
  if (typeof value !== 'object' || value === null) return false;
  if ((value as { op?: unknown }).op === 'final') return true;
  return Object.values(value).some(readsFinals);
}
