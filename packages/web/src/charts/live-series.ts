import type { CourseForm } from '@vole/core';
import { courseIn } from '@vole/core';

/**
 * Lines of a chart over a live run in the form in which the modeler reads them, one list a line, as long as the run.
 * @param rows all measures of all steps, step by step
 * @param width measures a step
 * @param lines the measures of each line, which are added up; -1 for one that the run does not have
 */
export function seriesOf(
  rows: ArrayLike<number>,
  width: number,
  lines: readonly (readonly number[])[],
  form: CourseForm,
): Float64Array[] {
  return lines.map((of) => courseIn(rows, width, { of, form, whole: lines.flat() }));
}

/** A line of a chart: one measure, or several that are grouped. */
export interface ChartLine {
  readonly name: string;
  readonly of: readonly number[];
}

/** The lines of a chart when some of its measures are grouped into one; the group stands where its first measure stood. */
export function linesOf(
  names: readonly string[],
  measures: readonly number[],
  grouped: ReadonlySet<number>,
): ChartLine[] {
  const together = measures.filter((m) => grouped.has(m));
  if (together.length < 2) return measures.map((m) => ({ name: names[m]!, of: [m] }));
  return measures.flatMap((m): ChartLine[] => {
    if (!grouped.has(m)) return [{ name: names[m]!, of: [m] }];
    return m === together[0] ? [{ name: together.map((other) => names[other]!).join(' + '), of: together }] : [];
  });
}

/** The step of the highest value, the first of equals; none where nothing is a number. */
export function peakOf(series: Float64Array): number | undefined {
  let best: number | undefined;
  series.forEach((value, step) => {
    if (Number.isFinite(value) && (best === undefined || value > series[best]!)) best = step;
  });
  return best;
}
