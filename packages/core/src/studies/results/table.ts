import type { Cell } from '../../csv.ts';
import { csvOf } from '../../csv.ts';
import type { ParameterPlan, Plan } from '../../plan/plan.ts';
import type { Design } from '../design/design.ts';
import { pointAt, pointCount } from '../design/design.ts';
import type { RunResult } from '../runner/simulate.ts';
import type { StudyResults } from './study-results.ts';

/** The heading of a column of numbers with a unit: `time [days]`. */
export function heading(name: string, unit: string): string {
  return unit === '' ? name : `${name} [${unit}]`;
}

/** Columns of the rows of runs: run, seed, step, time, then any extra ones, then every measure in the order of the text, with their units. */
export function rowHeader(plan: Plan, extra: readonly string[] = []): Cell[] {
  const measures = plan.measures.map((measure) => heading(measure.name, measure.unitLabel));
  return ['run', 'seed', ...extra, 'step', heading('time', plan.clock.unitLabel), ...measures];
}

/** One row a kept step of a run; yes is 1 and no 0. */
export function runRows(plan: Plan, run: number, result: RunResult, extra: readonly Cell[] = []): Cell[][] {
  const width = plan.measures.length;
  const count = width === 0 ? Math.floor(result.steps / result.every) + 1 : result.rows.length / width;
  return Array.from({ length: count }, (_, i) => {
    const step = i * result.every;
    return [run, result.seed, ...extra, step, timeOf(plan, step), ...result.rows.subarray(i * width, (i + 1) * width)];
  });
}

/** Columns of the summaries of runs: run, seed, any extra ones, steps, then every summary in the order of the text, with their units. */
export function summaryHeader(plan: Plan, extra: readonly string[] = []): Cell[] {
  return [
    'run',
    'seed',
    ...extra,
    'steps',
    ...plan.summaries.map((summary) => heading(summary.name, summary.unitLabel)),
  ];
}

/** The summaries of a run as a row; yes is 1 and no 0, what never happened is empty. */
export function summaryRow(run: number, result: RunResult, extra: readonly Cell[] = []): Cell[] {
  return [run, result.seed, ...extra, result.steps, ...result.summaries];
}

/** The time of a step in the clock's unit. */
export function timeOf(plan: Plan, step: number): number {
  return Number((step * plan.clock.stepLength).toPrecision(15));
}

/** The results of a study as a table: its header, and its rows run by run, made when they are gone through. */
export interface StudyTable {
  readonly header: readonly Cell[];
  readonly rows: () => Iterable<readonly Cell[]>;
}

/**
 * Every kept row of a study, or its summaries. Runs are numbered by their place in the design; values that are no numbers stand as words.
 * @param most runs that it has
 */
export function studyTable(
  plan: Plan,
  design: Design,
  results: StudyResults,
  what: 'rows' | 'summaries',
  most = Infinity,
): StudyTable {
  const names = design.factors.map(({ parameter }) => parameter);
  const scenarios = design.is === 'listed' ? design.names : undefined;
  const extraNames = [...(scenarios ? ['scenario'] : []), ...factorHeadings(plan, design)];
  function* rows(): Generator<readonly Cell[]> {
    let written = 0;
    for (let place = 0; place < pointCount(design); place++) {
      const extra = [
        ...(scenarios ? [scenarios[place]!] : []),
        ...pointAt(design, place).values.map((value, f) => factorCell(plan, names[f]!, value)),
      ];
      const runs = results.ofPoint(design, place);
      for (const [i, result] of runs.entries()) {
        if (!result || written >= most) continue;
        written++;
        const run = place * runs.length + i + 1;
        if (what === 'rows') yield* runRows(plan, run, result, extra);
        else yield summaryRow(run, result, extra);
      }
    }
  }
  return { header: what === 'rows' ? rowHeader(plan, extraNames) : summaryHeader(plan, extraNames), rows };
}

/** A table as CSV. */
export function csvOfTable({ header, rows }: StudyTable): string {
  return `${csvOf([header, ...rows()])}\n`;
}

/** The unit in which a parameter is shown; nothing of one that has none. */
export function unitOfParameter({ parameters }: Pick<Plan, 'parameters'>, name: string): string {
  return parameters.find((parameter) => parameter.name === name)?.unitLabel ?? '';
}

/** Names of the factors of a design with their units. */
export function factorHeadings(plan: Plan, { factors }: Design): string[] {
  return factors.map(({ parameter }) => heading(parameter, unitOfParameter(plan, parameter)));
}

/** A value of a factor as it stands in tables: its word, where the parameter has words. */
export function factorCell(plan: Plan, name: string, value: number): Cell {
  const parameter = plan.parameters.find((each) => each.name === name);
  return (parameter && wordsOfParameter(parameter)?.[value]) ?? value;
}

/** The words of a parameter's values, if it takes no numbers. */
export function wordsOfParameter({ options, type }: ParameterPlan): readonly string[] | undefined {
  return options ?? (type === 'yes or no' ? ['no', 'yes'] : undefined);
}
