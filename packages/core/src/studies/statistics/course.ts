import type { RunResult } from '../runner/simulate.ts';

/** Ways in which the course of a measure is read. */
export const COURSE_FORMS = ['as measured', 'summed up', 'change per step', 'share'] as const;
/** One of these ways. */
export type CourseForm = (typeof COURSE_FORMS)[number];

/** What is read of the measures of a run over time: one of them, or several added up, in one of the forms. */
export interface Course {
  /** Places of the measures that are added up; -1 for one that the run does not have. */
  readonly of: readonly number[];
  readonly form: CourseForm;
  /** For `share`: the measures of which it is one. */
  readonly whole?: readonly number[];
}

/** The course of one measure as it is. */
export function plainCourse(measure: number): Course {
  return { of: [measure], form: 'as measured' };
}

/** Whether a run with so many measures has what a course reads. */
export function canRead({ of, whole = [] }: Course, width: number): boolean {
  return of.length > 0 && [...of, ...whole].every((measure) => measure >= 0 && measure < width);
}

/**
 * A course as one value a row. The first row has no change; a share of nothing is empty, and an empty value adds nothing to a sum.
 * @param rows rows one after another, measures within
 * @param width measures a row
 * @param every steps from row to row
 */
export function courseIn(
  rows: ArrayLike<number>,
  width: number,
  { of, form, whole = of }: Course,
  every = 1,
): Float64Array {
  const values = sumsIn(rows, width, of);
  switch (form) {
    case 'as measured':
      return values;
    case 'summed up': {
      let sum = 0;
      return values.map((value) => (sum += Number.isFinite(value) ? value : 0));
    }
    case 'change per step': {
      const change = new Float64Array(values.length).fill(NaN);
      for (let row = 1; row < values.length; row++) change[row] = (values[row]! - values[row - 1]!) / every;
      return change;
    }
    case 'share': {
      const all = sumsIn(rows, width, whole);
      return values.map((value, row) => (all[row]! > 0 ? value / all[row]! : NaN));
    }
  }
}

function sumsIn(rows: ArrayLike<number>, width: number, of: readonly number[]): Float64Array {
  const sums = new Float64Array(width === 0 ? 0 : Math.floor(rows.length / width));
  for (const measure of of)
    for (let row = 0; row < sums.length; row++) sums[row]! += measure < 0 ? NaN : rows[row * width + measure]!;
  return sums;
}

/** Runs as if the course were all they measure. */
export function runsRead(runs: readonly RunResult[], width: number, course: Course): RunResult[] {
  return runs.map((run) => ({ ...run, rows: courseIn(run.rows, width, course, run.every) }));
}
