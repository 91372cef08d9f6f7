import { quantileSorted } from '../../measures/numeric/gather.ts';
import { placeInOrder } from '../../measures/numeric/select.ts';
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
  const rooms = Array.from({ length: STRIP }, () => new Float64Array(results.length));
  for (let from = 0; from < count; from += STRIP) {
    const rows = Math.min(STRIP, count - from);
    const present = new Uint32Array(rows);
    for (const result of results)
      for (let i = 0; i < rows; i++) {
        const value = valueInRow(result, measure, measureCount, from + i);
        if (!Number.isNaN(value)) rooms[i]![present[i]!++] = value;
      }
    for (let i = 0; i < rows; i++) {
      const at = quantilesOf(rooms[i]!.subarray(0, present[i]));
      COLUMNS.forEach((name, level) => (bands[name][from + i] = at[level]!));
    }
  }
  return bands;
}

/** Rows that are gathered at a time: the numbers of a run lie row after row. */
const STRIP = 16;
const COLUMNS = ['low90', 'low50', 'median', 'high50', 'high90'] as const;
const LEVELS = [0.05, 0.25, 0.5, 0.75, 0.95];

/** Quantiles of the levels above, NaN of no values; changes the order of the values. */
function quantilesOf(values: Float64Array): number[] {
  if (values.length === 0) return LEVELS.map(() => NaN);
  const last = values.length - 1;
  const places = LEVELS.flatMap((level) => [Math.floor(last * level), Math.min(last, Math.floor(last * level) + 1)]);
  placeInOrder(
    values,
    [...new Set(places)].sort((a, b) => a - b),
  );
  return LEVELS.map((level) => quantileSorted(values, level));
}
