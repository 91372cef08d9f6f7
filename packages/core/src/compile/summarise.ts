import type { Run } from '../engine/run.ts';
import { gather } from '../measures/numeric/gather.ts';
import { binaryFunction, pureFunction } from './values.ts';
import type { Plan, RowExpr } from './plan.ts';

/** The rows of measures of a run, as summaries read them. */
export interface Rows {
  readonly count: number;
  readonly measures: number;
  /** Rows one after another, measures within. */
  readonly data: Float64Array;
  readonly stepLength: number;
  /** Values of the plan's `finals`, taken at the end. */
  readonly finals: readonly number[];
}

/** All summaries of a finished run, in the order of the text; yes is 1, no 0, never and empty are NaN. */
export function summariesOf(plan: Plan, run: Run): Float64Array {
  const rows = rowsOf(plan, run);
  return Float64Array.from(plan.summaries, (summary) => summarise(summary.value, rows, rows.count - 1));
}

/** The rows of a run as it stands; valid until its next step. */
export function rowsOf(plan: Plan, run: Run): Rows {
  return {
    count: run.rowCount,
    measures: plan.measures.length,
    data: run.rowData,
    stepLength: plan.clock.stepLength,
    finals: run.finalValues(),
  };
}

/** @param row the row at which bare measures are read: the last one, or each in turn inside a question about rows */
export function summarise(e: RowExpr, rows: Rows, row: number): number {
  const at = (inner: RowExpr): number => summarise(inner, rows, row);
  switch (e.op) {
    case 'number':
      return e.value;
    case 'measure':
      return rows.data[row * rows.measures + e.index]!;
    case 'final':
      return rows.finals[e.code]!;
    case 'minus':
      return -at(e.value);
    case 'not':
      return at(e.value) !== 0 ? 0 : 1;
    case 'binary': {
      const left = at(e.left);
      if (e.fn === 'and') return left !== 0 && at(e.right) !== 0 ? 1 : 0;
      if (e.fn === 'or') return left !== 0 || at(e.right) !== 0 ? 1 : 0;
      return binaryFunction(e.fn, left, at(e.right));
    }
    case 'choose':
      return at(at(e.condition) !== 0 ? e.then : e.else);
    case 'call':
      return pureFunction(e.fn, e.args.map(at));
    case 'row at': {
      const wanted = Math.round(at(e.time) / rows.stepLength);
      return wanted >= 0 && wanted < rows.count ? summarise(e.of, rows, wanted) : NaN;
    }
    case 'rows':
      return overRows(e, rows);
  }
}

function overRows(e: Extract<RowExpr, { op: 'rows' }>, rows: Rows): number {
  const lastRow = rows.count - 1;
  const span = e.last ? summarise(e.last, rows, lastRow) : Infinity;
  const first = span === Infinity ? 0 : Math.max(0, lastRow + 1 - Math.ceil(span / rows.stepLength - 1e-9));
  const values = Float64Array.from({ length: lastRow + 1 - first }, (_, i) => summarise(e.of, rows, first + i));
  const timeOf = (index: number): number => (index < 0 ? NaN : (first + index) * rows.stepLength);
  switch (e.fn) {
    case 'last':
      return values[values.length - 1]!;
    case 'ever':
      return values.some((value) => value !== 0) ? 1 : 0;
    case 'always':
      return values.every((value) => value !== 0) ? 1 : 0;
    case 'first time':
      return timeOf(values.findIndex((value) => value !== 0));
    case 'time of max':
    case 'time of min':
      return timeOf(indexOfExtreme(values, e.fn === 'time of max'));
    default: {
      const present = values.filter((value) => !Number.isNaN(value));
      return gather(e.fn, present, present.length, e.level && summarise(e.level, rows, lastRow));
    }
  }
}

function indexOfExtreme(values: Float64Array, greatest: boolean): number {
  let best = -1;
  values.forEach((value, i) => {
    if (Number.isNaN(value)) return;
    if (best < 0 || (greatest ? value > values[best]! : value < values[best]!)) best = i;
  });
  return best;
}
