import type { Cell } from '../../csv.ts';
import type { Plan, RecordPlan } from '../../plan/plan.ts';
import { heading } from '../results/table.ts';

/** What was recorded of one run, of one record: rows one after another, the step first in each. */
export interface RecordedRows {
  readonly width: number;
  readonly data: Float64Array;
}

/** Two columns of a record with agents: those who met. */
export interface AgentPair {
  readonly first: number;
  readonly second: number;
}

/** The columns of a record after the step, with whom it is about as the first of a kind's. */
export function recordColumns(plan: Plan, record: RecordPlan): RecordPlan['columns'] {
  return record.kind < 0
    ? record.columns
    : [{ name: plan.kinds[record.kind]!.name, unitLabel: '', agentOf: record.kind }, ...record.columns];
}

/** Pairs of columns that hold agents, from which a network can be made. */
export function agentPairs(plan: Plan, record: RecordPlan): AgentPair[] {
  const agents = recordColumns(plan, record).flatMap(({ agentOf }, i) => (agentOf === undefined ? [] : [i]));
  return agents.flatMap((first, i) => agents.slice(i + 1).map((second) => ({ first, second })));
}

/** Columns of the table of a record: run, seed, step, whom it is about, then its values in the order of the text. */
export function recordHeader(plan: Plan, record: number): Cell[] {
  const columns = recordColumns(plan, plan.records[record]!);
  return ['run', 'seed', 'step', ...columns.map(({ name, unitLabel }) => heading(name, unitLabel))];
}

/** Rows of a record as cells of its table; choices by their words. */
export function recordCells(
  plan: Plan,
  record: number,
  run: number,
  seed: number,
  { width, data }: RecordedRows,
): Cell[][] {
  const columns = recordColumns(plan, plan.records[record]!);
  return Array.from({ length: data.length / width }, (_, row) => [
    run,
    seed,
    data[row * width]!,
    ...columns.map(({ options }, c): Cell => {
      const value = data[row * width + c + 1]!;
      return options?.[value] ?? value;
    }),
  ]);
}
