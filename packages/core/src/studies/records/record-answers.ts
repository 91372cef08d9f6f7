import { csvOf } from '../../csv.ts';
import { graphmlOf } from '../../graphml.ts';
import { parquetOf } from '../../parquet.ts';
import { quantileSorted } from '../../measures/numeric/gather.ts';
import type { Plan } from '../../plan/plan.ts';
import { putInOrder } from '../results/row-order.ts';
import type { Bands } from '../statistics/bands.ts';
import type { Meetings, NetworkAnswer } from './network.ts';
import { graphOfMeetings, networkOf } from './network.ts';
import type { AgentPair, RecordedRows } from './record-table.ts';
import { recordCells, recordColumns, recordHeader } from './record-table.ts';

/** What a page asks of a record of one run. Columns are counted after the step; steps of a stretch belong to it at both ends. */
export type RecordQuestion =
  /** Some of the rows, in the order of a column: -1 for the step. */
  | {
      readonly is: 'rows';
      readonly sort?: { readonly column: number; readonly down: boolean };
      readonly from: number;
      readonly count: number;
    }
  /** The values of a column over time: median and bands over the agents or meetings of each recorded step. */
  | { readonly is: 'over time'; readonly column: number }
  /** The values of a column at one recorded step: the last that is not after the one asked for. */
  | { readonly is: 'values'; readonly column: number; readonly step: number }
  | ({ readonly is: 'network'; readonly picture: boolean } & NetworkWish)
  | ({ readonly is: 'graphml'; readonly about: readonly string[] } & NetworkWish)
  /** All rows, as CSV. */
  | { readonly is: 'csv'; readonly seed: number }
  /** All rows, as a Parquet file. */
  | { readonly is: 'parquet'; readonly seed: number; readonly facts: Readonly<Record<string, string>> };

/** Which network is made of a record. */
export interface NetworkWish {
  readonly pair: AgentPair;
  readonly directed: boolean;
  readonly fromStep: number;
  readonly toStep: number;
}

/** The answer to each kind of question. */
interface RecordAnswers {
  rows: { readonly count: number; readonly rows: readonly (readonly number[])[] };
  'over time': Bands | undefined;
  values: { readonly step: number; readonly values: readonly number[] };
  network: NetworkAnswer;
  graphml: string;
  csv: string;
  parquet: ArrayBuffer;
}
/** The answer to one question. */
export type RecordAnswerTo<Q extends RecordQuestion> = RecordAnswers[Q['is']];

/** Answers a question about what was recorded of one run. */
export function answerOfRecord<Q extends RecordQuestion>(
  plan: Plan,
  record: number,
  rows: RecordedRows,
  question: Q,
): RecordAnswerTo<Q>;
export function answerOfRecord(
  plan: Plan,
  record: number,
  rows: RecordedRows,
  question: RecordQuestion,
): RecordAnswerTo<RecordQuestion> {
  switch (question.is) {
    case 'rows':
      return someRows(rows, question);
    case 'over time':
      return overTime(rows, question.column);
    case 'values':
      return valuesAt(rows, question);
    case 'network':
      return networkOf(meetingsIn(plan, record, rows, question), question.picture);
    case 'graphml':
      return graphmlOf(graphOfMeetings(meetingsIn(plan, record, rows, question)), question.about);
    case 'parquet': {
      const cells = recordCells(plan, record, 1, question.seed, rows);
      return parquetOf(recordHeader(plan, record), () => cells, question.facts);
    }
    case 'csv':
      return `${csvOf([recordHeader(plan, record), ...recordCells(plan, record, 1, question.seed, rows)])}\n`;
  }
}

function someRows(
  { width, data }: RecordedRows,
  { sort, from, count }: Extract<RecordQuestion, { is: 'rows' }>,
): RecordAnswers['rows'] {
  const total = data.length / width;
  const order = Uint32Array.from({ length: total }, (_, row) => row);
  if (sort) putInOrder(order, (row) => data[row * width + sort.column + 1]!, sort.down);
  return {
    count: total,
    rows: Array.from(order.subarray(from, from + count), (row) => [...data.subarray(row * width, (row + 1) * width)]),
  };
}

/** Where the rows of each recorded step begin, in the order in which they were recorded. */
function stepsIn({
  width,
  data,
}: RecordedRows): { readonly step: number; readonly from: number; readonly to: number }[] {
  const steps: { step: number; from: number; to: number }[] = [];
  for (let row = 0; row < data.length / width; row++) {
    const step = data[row * width]!;
    if (steps.at(-1)?.step !== step) steps.push({ step, from: row, to: row });
    steps.at(-1)!.to = row + 1;
  }
  return steps;
}

function columnOf({ width, data }: RecordedRows, column: number, from: number, to: number): Float64Array {
  const values = new Float64Array(to - from);
  for (let row = from; row < to; row++) values[row - from] = data[row * width + column + 1]!;
  return values.filter((value) => !Number.isNaN(value)).sort();
}

function overTime(rows: RecordedRows, column: number): Bands | undefined {
  const steps = stepsIn(rows);
  if (steps.length === 0) return undefined;
  const sorted = steps.map(({ from, to }) => columnOf(rows, column, from, to));
  const at = (level: number): Float64Array =>
    Float64Array.from(sorted, (values) => (values.length === 0 ? NaN : quantileSorted(values, level)));
  return {
    steps: Int32Array.from(steps, ({ step }) => step),
    low90: at(0.05),
    low50: at(0.25),
    median: at(0.5),
    high50: at(0.75),
    high90: at(0.95),
    runs: 1,
    endedEarly: 0,
  };
}

function valuesAt(
  rows: RecordedRows,
  { column, step }: Extract<RecordQuestion, { is: 'values' }>,
): RecordAnswers['values'] {
  const steps = stepsIn(rows);
  const found = steps.findLast((each) => each.step <= step) ?? steps[0];
  return found
    ? { step: found.step, values: [...columnOf(rows, column, found.from, found.to)] }
    : { step: 0, values: [] };
}

/** Who met whom within a stretch. Where a number is 0, nobody was met. */
function meetingsIn(
  plan: Plan,
  record: number,
  { width, data }: RecordedRows,
  { pair, directed, fromStep, toStep }: NetworkWish,
): Meetings {
  const columns = recordColumns(plan, plan.records[record]!);
  const kinds = [columns[pair.first]?.agentOf, columns[pair.second]?.agentOf];
  const isOfOneKind = kinds[0] === kinds[1];
  const places = new Map<string, number>();
  const placeOf = (which: 0 | 1, number: number): number => {
    const name = isOfOneKind ? String(number) : `${plan.kinds[kinds[which]!]!.name} ${number}`;
    let place = places.get(name);
    if (place === undefined) places.set(name, (place = places.size));
    return place;
  };
  const met = new Map<string, [number, number, number]>();
  for (let at = 0; at < data.length; at += width) {
    const step = data[at]!;
    const [first, second] = [data[at + pair.first + 1]!, data[at + pair.second + 1]!];
    if (step < fromStep || step > toStep || !(first > 0) || !(second > 0)) continue;
    const [a, b] = [placeOf(0, first), placeOf(1, second)];
    const [low, high] = directed || a < b ? [a, b] : [b, a];
    const known = met.get(`${low} ${high}`);
    if (known) known[2]++;
    else met.set(`${low} ${high}`, [low, high, 1]);
  }
  return { nodes: [...places.keys()], pairs: [...met.values()], directed };
}
