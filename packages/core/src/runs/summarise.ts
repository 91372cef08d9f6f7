import { applied } from '../plan/functions.ts';
import type { Run } from '../engine/run.ts';
import { gather } from '../measures/numeric/gather.ts';
import { growthRate, longestSpell, meanPeak, meanSpell, period, spellsOf } from '../measures/courses.ts';
import { binaryFunction } from '../plan/values.ts';
import type { BinaryFunction, Plan, RowExpr } from '../plan/plan.ts';

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

/**
 * A summary of the rows of a run; rows in which a value is empty are passed over.
 * @param row the row at which bare measures are read: the last one, or each in turn inside a question about rows
 */
export function summarise(e: RowExpr, rows: Rows, row: number): number {
  switch (e.op) {
    case 'measure':
      return rows.data[row * rows.measures + e.index]!;
    case 'number':
      return e.value;
    case 'final':
      return rows.finals[e.code]!;
    case 'minus':
      return -summarise(e.value, rows, row);
    case 'not': {
      const value = summarise(e.value, rows, row);
      return Number.isNaN(value) ? NaN : value !== 0 ? 0 : 1;
    }
    case 'binary': {
      const left = summarise(e.left, rows, row);
      const right = summarise(e.right, rows, row);
      return e.fn === 'and' || e.fn === 'or' ? logical(e.fn, left, right) : ofBoth(e.fn, left, right);
    }
    case 'choose': {
      const condition = summarise(e.condition, rows, row);
      return Number.isNaN(condition) ? NaN : summarise(condition !== 0 ? e.then : e.else, rows, row);
    }
    case 'call':
      return applied(
        e.fn,
        e.args.map((arg) => summarise(arg, rows, row)),
      );
    case 'row at': {
      const wanted = Math.round(summarise(e.time, rows, row) / rows.stepLength);
      return wanted >= 0 && wanted < rows.count ? summarise(e.of, rows, wanted) : NaN;
    }
    case 'rows':
      return overRows(e, rows);
    case 'mean peak':
      return meanPeak(spellsOf(valuesIn(e.during, rows, 0, rows.count)), valuesIn(e.of, rows, 0, rows.count));
  }
}

/** Empty is neither yes nor no: what follows from the other side follows, else the answer is empty. */
function logical(fn: 'and' | 'or', left: number, right: number): number {
  const settled = fn === 'and' ? 0 : 1;
  const says = (value: number): boolean => !Number.isNaN(value) && (value !== 0 ? 1 : 0) === settled;
  if (says(left) || says(right)) return settled;
  return Number.isNaN(left) || Number.isNaN(right) ? NaN : 1 - settled;
}

/** What is asked of something empty is empty, comparisons too. */
function ofBoth(fn: Exclude<BinaryFunction, 'and' | 'or'>, left: number, right: number): number {
  return Number.isNaN(left) || Number.isNaN(right) ? NaN : binaryFunction(fn, left, right);
}

const isYes = (value: number): boolean => value !== 0 && !Number.isNaN(value);

function overRows(e: Extract<RowExpr, { op: 'rows' }>, rows: Rows): number {
  const lastRow = rows.count - 1;
  const span = e.last ? summarise(e.last, rows, lastRow) : Infinity;
  const first = span === Infinity ? 0 : Math.max(0, lastRow + 1 - Math.ceil(span / rows.stepLength - 1e-9));
  const until = e.first ? Math.floor(summarise(e.first, rows, lastRow) / rows.stepLength + 1e-9) + 1 : rows.count;
  const values = valuesIn(e.of, rows, first, Math.min(until, rows.count));
  const timeOf = (index: number): number => (index < 0 ? NaN : (first + index) * rows.stepLength);
  switch (e.fn) {
    case 'last':
      return values[values.length - 1]!;
    case 'ever':
      return values.every(Number.isNaN) ? NaN : values.some(isYes) ? 1 : 0;
    case 'always':
      return values.every(Number.isNaN) ? NaN : values.every((value) => value !== 0) ? 1 : 0;
    case 'first time':
      return timeOf(values.findIndex(isYes));
    case 'time of max':
    case 'time of min':
      return timeOf(indexOfExtreme(values, e.fn === 'time of max'));
    case 'growth rate':
      return growthRate(values, rows.stepLength);
    case 'period':
      return period(values, rows.stepLength);
    case 'spells':
      return spellsOf(values).length;
    case 'mean spell':
      return meanSpell(spellsOf(values), values.length) * rows.stepLength;
    case 'longest spell':
      return longestSpell(spellsOf(values)) * rows.stepLength;
    default: {
      const present = hasEmpty(values) ? values.filter((value) => !Number.isNaN(value)) : values;
      return gather(e.fn, present, present.length, e.level && summarise(e.level, rows, lastRow));
    }
  }
}

function hasEmpty(values: Float64Array): boolean {
  for (let i = 0; i < values.length; i++) if (Number.isNaN(values[i]!)) return true;
  return false;
}

/** An expression in each row from one to before another. */
function valuesIn(e: RowExpr, rows: Rows, from: number, to: number): Float64Array {
  const values = new Float64Array(Math.max(0, to - from));
  if (e.op === 'measure') {
    const { data, measures } = rows;
    for (let i = 0, at = from * measures + e.index; i < values.length; i++, at += measures) values[i] = data[at]!;
  } else for (let i = 0; i < values.length; i++) values[i] = summarise(e, rows, from + i);
  return values;
}

function indexOfExtreme(values: Float64Array, greatest: boolean): number {
  let best = -1;
  values.forEach((value, i) => {
    if (Number.isNaN(value)) return;
    if (best < 0 || (greatest ? value > values[best]! : value < values[best]!)) best = i;
  });
  return best;
}
