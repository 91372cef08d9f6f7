/** Series of a live run in the forms a modeler reads them in. */

export type SeriesForm = 'as measured' | 'summed up' | 'change per step' | 'share';
export const SERIES_FORMS: readonly SeriesForm[] = ['as measured', 'summed up', 'change per step', 'share'];

/**
 * Some measures of a run, one list a measure, as long as the run.
 * @param rows all measures of all steps, step by step
 * @param width measures a step
 */
export function seriesOf(rows: ArrayLike<number>, width: number, measures: readonly number[], form: SeriesForm): number[][] {
  const count = width === 0 ? 0 : Math.floor(rows.length / width);
  const plain = measures.map((m) => Array.from({ length: count }, (_, step) => rows[step * width + m]!));
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

/** The step of the highest value, the first of equals; none where nothing is a number. */
export function peakOf(series: readonly number[]): number | undefined {
  let best: number | undefined;
  series.forEach((value, step) => {
    if (Number.isFinite(value) && (best === undefined || value > series[best]!)) best = step;
  });
  return best;
}
