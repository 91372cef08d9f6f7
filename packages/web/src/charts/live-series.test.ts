import { describe, expect, it } from 'vitest';
import { linesOf, peakOf, seriesOf } from './live-series.ts';

const ROWS = [1, 3, 2, 2, 4, 0];
const listsOf = (...wanted: Parameters<typeof seriesOf>): number[][] => seriesOf(...wanted).map((list) => [...list]);

describe('series of a live run', () => {
  it('come as measured, summed up, as change and as share', () => {
    expect(listsOf(ROWS, 2, [[0], [1]], 'as measured')).toEqual([
      [1, 2, 4],
      [3, 2, 0],
    ]);
    expect(listsOf(ROWS, 2, [[0]], 'summed up')).toEqual([[1, 3, 7]]);
    expect(listsOf(ROWS, 2, [[1]], 'change per step')).toEqual([[NaN, -1, -2]]);
    expect(listsOf(ROWS, 2, [[0], [1]], 'share')).toEqual([
      [0.25, 0.5, 1],
      [0.75, 0.5, 0],
    ]);
    expect(listsOf([], 2, [[0]], 'as measured')).toEqual([[]]);
  });

  it('are added up where measures are grouped, and empty where a run has no such measure', () => {
    const lines = linesOf(['calm', 'loud', 'gone'], [0, 1, 2], new Set([0, 2]));
    expect(lines).toEqual([
      { name: 'calm + gone', of: [0, 2] },
      { name: 'loud', of: [1] },
    ]);
    expect(linesOf(['calm', 'loud'], [0, 1], new Set([0])).map(({ name }) => name)).toEqual(['calm', 'loud']);
    expect(
      listsOf(
        [1, 3, 5, 2, 2, 2],
        3,
        lines.map(({ of }) => of),
        'as measured',
      ),
    ).toEqual([
      [6, 4],
      [3, 2],
    ]);
    expect(listsOf(ROWS, 2, [[-1]], 'as measured')).toEqual([[NaN, NaN, NaN]]);
  });

  it('have their peak at the first of the highest', () => {
    expect(peakOf(Float64Array.of(NaN, 2, 5, 5, 1))).toBe(2);
    expect(peakOf(Float64Array.of(NaN))).toBeUndefined();
  });
});
