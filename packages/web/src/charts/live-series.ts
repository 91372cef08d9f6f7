/** Series of a live run in the forms a modeler reads them in. */

export type SeriesForm = 'as measured' | 'summed up' | 'change per step' | 'share';
export const SERIES_FORMS: readonly SeriesForm[] = ['as measured', 'summed up', 'change per step', 'share'];

/**
 * Lines of a chart over a run, one list a line, as long as the run.
 * @param rows all measures of all steps, step by step
 * @param width measures a step
 * @param lines the measures of each line, which are added up; -1 for one that the run does not have
 */
export function seriesOf(
  rows: ArrayLike<number>,
  width: number,
  lines: readonly (readonly number[])[],
  form: SeriesForm,
): number[][] {
  const count = width === 0 ? 0 : Math.floor(rows.length / width);
  const plain = lines.map((measures) =>
    Array.from({ length: count }, (_, step) =>
      measures.reduce((sum, m) => sum + (m < 0 ? NaN : rows[step * width + m]!), 0),
    ),
  );
  switch (form) {
    case 'as measured':
      return plain;
    case 'summed up':
      return plain.map((list) => {
        let sum = 0;
        return list.map((value) => (sum += Number.isFinite(value) ? value : 0));
      });
    case 'change per step':
      return plain.map((list) => list.map((value, i) => (i === 0 ? NaN : value - list[i - 1]!)));
    case 'share': {
      const totals = Array.from({ length: count }, (_, step) => plain.reduce((sum, list) => sum + list[step]!, 0));
      return plain.map((list) => list.map((value, step) => (totals[step]! > 0 ? value / totals[step]! : NaN)));
    }
  }
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
export function peakOf(series: readonly number[]): number | undefined {
  let best: number | undefined;
  series.forEach((value, step) => {
    if (Number.isFinite(value) && (best === undefined || value > series[best]!)) best = step;
  });
  return best;
}
