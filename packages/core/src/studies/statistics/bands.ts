import { quantileSorted } from '../../measures/numeric/gather.ts';
import type { RunResult } from '../runner/simulate.ts';

/** What runs give together at the kept steps: median and the bands that hold the middle 50 % and 90 % of the runs. */
export interface Bands {
  readonly steps: Int32Array;
  readonly low90: Float64Array;
  readonly low50: Float64Array;
  readonly median: Float64Array;
  readonly high50: Float64Array;
  readonly high90: Float64Array;
  readonly runs: number;
  /** Runs that ended before the last step; from there on their last value is carried on. */
  readonly endedEarly: number;
}

/** A measure of a run at a kept row; after its end the run keeps its last value. */
export function valueInRow(result: RunResult, measure: number, measureCount: number, row: number): number {
  const rows = result.rows.length / measureCount;
  return result.rows[Math.min(row, rows - 1) * measureCount + measure]!;
}

/** The course of a measure in a run, one value a kept row. */
export function measureOf(result: RunResult, measure: number, measureCount: number): Float64Array {
  return Float64Array.from({ length: result.rows.length / measureCount }, (_, row) =>
    valueInRow(result, measure, measureCount, row),
  );
}

/**
 * Pointwise quantiles over runs (type 7), empty values left out. All runs must keep rows at the same steps.
 * @throws RangeError if there are no runs or their rows are kept differently
 */
export function bandsOf(results: readonly RunResult[], measure: number, measureCount: number): Bands {
  const first = results[0];
  if (!first) throw new RangeError('Bands need at least one run');
  if (results.some((result) => result.every !== first.every))
    throw new RangeError('The runs keep their rows at different steps');
  const rowCounts = results.map((result) => result.rows.length / measureCount);
  const count = Math.max(...rowCounts);
  const column = (): Float64Array => new Float64Array(count);
  const bands = {
    steps: Int32Array.from({ length: count }, (_, i) => i * first.every),
    low90: column(),
    low50: column(),
    median: column(),
    high50: column(),
    high90: column(),
    runs: results.length,
    endedEarly: rowCounts.filter((rows) => rows < count).length,
  };
  const room = new Float64Array(results.length);
  for (let row = 0; row < count; row++) {
    let present = 0;
    for (const result of results) {
      const value = valueInRow(result, measure, measureCount, row);
      if (!Number.isNaN(value)) room[present++] = value;
    }
    const values = room.subarray(0, present).sort();
    const at = (level: number): number => (values.length ? quantileSorted(values, level) : NaN);
    bands.low90[row] = at(0.05);
    bands.low50[row] = at(0.25);
    bands.median[row] = at(0.5);
    bands.high50[row] = at(0.75);
    bands.high90[row] = at(0.95);
  }
  return bands;
}
