import { factorCell } from '../results/table.ts';
import { pointAt } from '../design/design.ts';
import { putInOrder } from '../results/row-order.ts';
import type { AskedStudy } from './answer.ts';
import type { Question, RunRow, RunTableAnswer } from './questions.ts';
import type { FilteredRow } from './row-filter.ts';
import { rowFilter } from './row-filter.ts';

/** Names of the columns of numbers of a table of runs: every factor, seed, steps, every summary. */
function runColumnNames({ plan, design }: Pick<AskedStudy, 'plan' | 'design'>): string[] {
  return [
    ...design.factors.map(({ parameter }) => parameter),
    'seed',
    'steps',
    ...plan.summaries.map(({ name }) => name),
  ];
}

/** Some rows of the table of all runs, filtered and in the order of a column; the order is kept, so that looking further is quick. */
export function runTableOf(study: AskedStudy, question: Extract<Question, { is: 'run table' }>): RunTableAnswer {
  const { design, results } = study;
  const { from, count, sort, filter } = question;
  const { seed, steps, place, summaries } = results.columns(design);
  const order = results.rememberedLast('run table', JSON.stringify([design.seeds.length, sort, filter]), () =>
    orderOf(study, filter, sort),
  );
  return {
    runs: seed.length,
    matching: order.length,
    rows: Array.from(order.subarray(from, from + count), (run): RunRow => ({
      place: place[run]!,
      values: pointAt(design, place[run]!).values,
      seed: seed[run]!,
      steps: steps[run]!,
      summaries: summaries.map((column) => column[run]!),
    })),
  };
}

/** Runs that pass the filter, by their place among all, in the wanted order; those without a value come last, equal ones stay as they were. */
function orderOf(study: AskedStudy, filter: string, sort: Extract<Question, { is: 'run table' }>['sort']): Uint32Array {
  const { plan, design, results } = study;
  const { place, seed } = results.columns(design);
  const names = design.factors.map(({ parameter }) => parameter);
  const words = new Map<number, string>();
  const wordsAt = (point: number): string => {
    let known = words.get(point);
    if (known === undefined) {
      const scenario = design.is === 'listed' ? (design.names?.[point] ?? '') : '';
      known = pointAt(design, point)
        .values.map((value, f) => `${names[f]!} ${factorCell(plan, names[f]!, value)}`)
        .join(' ')
        .concat(` ${scenario}`);
      words.set(point, known);
    }
    return known;
  };
  const valueOf = valuesOf(study);
  const passes = rowFilter(filter, runColumnNames(study));
  const kept = new Uint32Array(seed.length);
  let count = 0;
  let run = 0;
  const row: FilteredRow = { value: (column) => valueOf(column, run), words: () => wordsAt(place[run]!) };
  for (; run < seed.length; run++) if (passes(row)) kept[count++] = run;
  const found = kept.slice(0, count);
  const column = sort ? runColumnNames(study).indexOf(sort.by) : -1;
  if (!sort || column < 0) return found;
  const key = new Float64Array(seed.length);
  for (const run of found) key[run] = valueOf(column, run);
  return putInOrder(found, (run) => key[run]!, sort.down);
}

/** The number in a column of a run. */
function valuesOf({ design, results }: AskedStudy): (column: number, run: number) => number {
  const { place, seed, steps, summaries } = results.columns(design);
  const factors = design.factors.length;
  const columns = [seed, steps, ...summaries];
  const ofPoint = new Map<number, readonly number[]>();
  const pointValues = (at: number): readonly number[] => {
    let known = ofPoint.get(at);
    if (!known) ofPoint.set(at, (known = pointAt(design, at).values));
    return known;
  };
  return (column, run) => {
    if (column < factors) return pointValues(place[run]!)[column]!;
    return columns[column - factors]![run]!;
  };
}
