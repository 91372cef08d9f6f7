import type { RunLine } from '@vole/core';
import { describe, expect, it } from 'vitest';
import { atRows, extentOf, lineThrough, nearestOn, pathRows, runPaths } from './run-paths.ts';

const line = (seed: number, ...values: number[]): RunLine => ({ seed, steps: 9, values: Float64Array.from(values) });
const same = (value: number): number => value;

describe('paths of runs through two courses', () => {
  it('join the courses of the same run, and leave out a run that only one of them has yet', () => {
    const paths = runPaths([line(1, 1, 2), line(3, 5)], [line(2, 0), line(1, 7, 8, 9), line(3, 6)], [0, 1, 2], 9);
    expect(paths.map(({ run, xs, ys }) => [run.seed, xs, ys])).toEqual([
      [1, [1, 2], [7, 8, 9]],
      [3, [5], [6]],
    ]);
    expect(runPaths([line(1, 1), line(2, 1)], [line(1, 1), line(2, 1)], [0], 1)).toHaveLength(1);
  });

  it('are drawn at some hundred rows of a long run, the last among them', () => {
    const rows = pathRows(10_000);
    expect(rows.length).toBeLessThanOrEqual(601);
    expect([rows[0], rows.at(-1), pathRows(3), pathRows(0)]).toEqual([0, 9999, [0, 1, 2], []]);
    expect(
      atRows(
        Float64Array.from({ length: 40 }, (_, i) => i),
        rows,
      ),
    ).toEqual([0, 17, 34]);
  });

  it('are drawn up to the end of the shorter course, and begin anew after what is no number', () => {
    expect(lineThrough([1, 2, NaN, 4, 5], [1, 2, 3, 4], same, same)).toBe('M1.0,1.0L2.0,2.0M4.0,4.0');
    expect(lineThrough([], [1], same, same)).toBe('');
  });

  it('lie within the least and the greatest of their numbers', () => {
    expect(
      extentOf([
        [3, NaN, -2],
        [Infinity, 7],
      ]),
    ).toEqual([-2, 7]);
    expect(extentOf([[NaN], []])).toEqual([0, 1]);
  });

  it('are found by a place near one of their rows', () => {
    const paths = runPaths([line(1, 0, 10), line(2, 0, 10)], [line(1, 0, 0), line(2, 5, 5)], [0, 1], 9);
    const found = nearestOn(paths, { x: 9, y: 4 }, same, same)!;
    expect([found.path.run.seed, found.row]).toEqual([2, 1]);
    expect(nearestOn([], { x: 0, y: 0 }, same, same)).toBeUndefined();
    expect(nearestOn(runPaths([line(1, NaN)], [line(1, 1)], [0], 9), { x: 0, y: 0 }, same, same)).toBeUndefined();
  });
});
