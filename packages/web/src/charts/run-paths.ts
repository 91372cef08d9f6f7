import type { RunLine } from '@vole/core';

/** Rows of a run that are drawn at most. */
const MOST_ROWS = 600;

/** The path of one run through two courses, at the rows that are drawn. */
export interface RunPath {
  readonly run: RunLine;
  readonly xs: ArrayLike<number>;
  readonly ys: ArrayLike<number>;
}

/** Of so many rows those that are drawn: every so manyth, and always the last. */
export function pathRows(count: number): number[] {
  const stride = Math.max(1, Math.ceil(count / MOST_ROWS));
  return Array.from({ length: count }, (_, row) => row).filter((row) => row % stride === 0 || row === count - 1);
}

/** Values at those of some rows that a course has. */
export function atRows(values: ArrayLike<number>, rows: readonly number[]): number[] {
  return rows.flatMap((row) => (row < values.length ? [values[row]!] : []));
}

/** The paths of those runs that are among both, at some rows. */
export function runPaths(
  xLines: readonly RunLine[],
  yLines: readonly RunLine[],
  rows: readonly number[],
  most: number,
): RunPath[] {
  const across = new Map(xLines.map((line) => [line.seed, line]));
  return yLines.slice(0, most).flatMap((run) => {
    const x = across.get(run.seed);
    return x ? [{ run, xs: atRows(x.values, rows), ys: atRows(run.values, rows) }] : [];
  });
}

/** The finite numbers among all at which paths lie, from the least to the greatest; from 0 to 1 where there are none. */
export function extentOf(columns: readonly ArrayLike<number>[]): readonly [number, number] {
  let [low, high] = [Infinity, -Infinity];
  for (const column of columns)
    for (let i = 0; i < column.length; i++) {
      const value = column[i]!;
      if (!Number.isFinite(value)) continue;
      if (value < low) low = value;
      if (value > high) high = value;
    }
  return low <= high ? [low, high] : [0, 1];
}

/** A path as the lines of an SVG path; it begins anew after what is no number. */
export function lineThrough(
  xs: ArrayLike<number>,
  ys: ArrayLike<number>,
  x: (value: number) => number,
  y: (value: number) => number,
): string {
  let path = '';
  let isAt: 'M' | 'L' = 'M';
  for (let row = 0; row < Math.min(xs.length, ys.length); row++) {
    const [px, py] = [x(xs[row]!), y(ys[row]!)];
    if (!Number.isFinite(px) || !Number.isFinite(py)) {
      isAt = 'M';
      continue;
    }
    path += `${isAt}${px.toFixed(1)},${py.toFixed(1)}`;
    isAt = 'L';
  }
  return path;
}

/** The path and its row that come nearest to a place of the picture. */
export function nearestOn(
  paths: readonly RunPath[],
  at: { readonly x: number; readonly y: number },
  x: (value: number) => number,
  y: (value: number) => number,
): { readonly path: RunPath; readonly row: number } | undefined {
  let best: { readonly path: RunPath; readonly row: number } | undefined;
  let least = Infinity;
  for (const path of paths)
    for (let row = 0; row < Math.min(path.xs.length, path.ys.length); row++) {
      const distance = Math.hypot(x(path.xs[row]!) - at.x, y(path.ys[row]!) - at.y);
      if (distance < least) [best, least] = [{ path, row }, distance];
    }
  return best;
}
