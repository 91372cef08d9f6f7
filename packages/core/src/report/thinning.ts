import { line } from 'd3-shape';

/**
 * Rows of long series that are drawn: of each of so many stretches the first, the last, and of each series the lowest and the highest,
 * so that no peak is lost however long the run is. In their order, each once.
 * @param from first row, @param to last row
 * @param stretches about four times as many rows are left of one series, two more a stretch for every further one
 * @param series values by row; empty ones (NaN) are no extremes
 */
export function drawnRows(
  from: number,
  to: number,
  stretches: number,
  series: readonly ((row: number) => number)[],
): number[] {
  const count = to - from + 1;
  if (count <= stretches * 4) return Array.from({ length: Math.max(0, count) }, (_, i) => from + i);
  const rows: number[] = [];
  for (let s = 0; s < stretches; s++) {
    const first = from + Math.floor((s * count) / stretches);
    const last = from + Math.floor(((s + 1) * count) / stretches) - 1;
    const kept = new Set([first, last]);
    for (const valueAt of series) for (const row of extremesIn(valueAt, first, last)) kept.add(row);
    rows.push(...[...kept].sort((a, b) => a - b));
  }
  return rows;
}

function extremesIn(valueAt: (row: number) => number, first: number, last: number): number[] {
  let low = -1;
  let high = -1;
  for (let row = first; row <= last; row++) {
    const value = valueAt(row);
    if (Number.isNaN(value)) continue;
    if (low < 0 || value < valueAt(low)) low = row;
    if (high < 0 || value > valueAt(high)) high = row;
  }
  return low < 0 ? [] : [low, high];
}

/** A path through points; where a value is empty the pen is lifted. */
export function pathThrough(rows: readonly number[], x: (row: number) => number, y: (row: number) => number): string {
  return (
    line<number>(x, y)
      .defined((row) => !Number.isNaN(y(row)))
      .digits(1)(rows) ?? ''
  );
}
