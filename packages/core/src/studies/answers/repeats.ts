import { summarise } from '../../runs/summarise.ts';
import { outcomeFindings, withOutcomes } from '../outcomes.ts';
import type { RunResult } from '../runner/simulate.ts';
import { dipTest } from '../statistics/dip.ts';
import { bestCut, meanEstimate, shareEstimate } from '../statistics/intervals.ts';
import type { DistributionAnswer, EnoughAnswer, OutcomeAnswer, RunSplit } from './questions.ts';

/** Answers about many runs of the same values. */

/** Values of a summary over runs, in the order of their seeds; empty ones are counted. */
export function distributionOf(runs: readonly RunResult[], summary: number): DistributionAnswer {
  const values = runs.map(({ summaries }) => summaries[summary]!);
  const present = values.filter((value) => !Number.isNaN(value));
  const dip = dipTest(present);
  const cut = dip && dip.p < TWO_HUMPS ? bestCut(Float64Array.from(present).sort()) : undefined;
  return { values: present, never: values.length - present.length, dip, between: cut?.between };
}

/** Two humps are told of where a dip this large is so rare with one. */
const TWO_HUMPS = 0.05;

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
  const found = holdsIn(text, runs, condition);
  if (!Array.isArray(found)) return found;
  const never = found.filter(Number.isNaN).length;
  const holding = runs.filter((_, run) => found[run] === 1);
  return {
    share: shareEstimate(holding.length, runs.length - never),
    yes: holding.length,
    never,
    every: runs[0]?.every ?? 1,
    first: holding.slice(0, MOST_NAMED).map(({ seed, steps }) => ({ seed, steps })),
  };
}

/** The runs that a split asks for; none where its condition cannot be asked. */
export function runsWhere(text: string, runs: readonly RunResult[], where: RunSplit): RunResult[] {
  const wanted = where.holds ? 1 : 0;
  if ('condition' in where) {
    const found = holdsIn(text, runs, where.condition);
    return Array.isArray(found) ? runs.filter((_, run) => found[run] === wanted) : [];
  }
  const { summary, below } = where;
  return runs.filter(({ summaries }) => {
    const value = summaries[summary]!;
    return !Number.isNaN(value) && Number(value < below) === wanted;
  });
}

/** Whether a condition holds in each run: 1, 0, or NaN where that cannot be told; or why it cannot be asked. */
function holdsIn(text: string, runs: readonly RunResult[], condition: string): number[] | { readonly problem: string } {
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
  return runs.map(({ rows, every }) => {
    const count = width === 0 ? 0 : rows.length / width;
    const found = summarise(
      value,
      { count, measures: width, data: rows, stepLength: plan.clock.stepLength * every, finals: [] },
      count - 1,
    );
    return Number.isNaN(found) ? NaN : Number(found !== 0);
  });
}

/** Runs that are named of those in which a condition holds. */
const MOST_NAMED = 5;

/** Whether an expression reads what was taken at the very end of a run, which is not kept. */
function readsFinals(value: unknown): boolean {
  if (typeof value !== 'object' || value === null) return false;
  if ((value as { op?: unknown }).op === 'final') return true;
  return Object.values(value).some(readsFinals);
}
