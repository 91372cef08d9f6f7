import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { drawnRows, pathThrough } from './thinning.ts';

describe('the rows that are drawn', () => {
  it('are all of a short series', () => {
    expect(drawnRows(0, 9, 5, [(i) => i])).toEqual([0, 1, 2, 3, 4, 5, 6, 7, 8, 9]);
    expect(drawnRows(3, 2, 5, [(i) => i])).toEqual([]);
  });

  it('keep every peak of a measure that is 100 in one step of each 100 over 2,000 steps', () => {
    const peaks = (row: number): number => (row % 100 === 57 ? 100 : 0);
    const rows = drawnRows(0, 2000, 60, [peaks]);
    expect(rows.filter((row) => peaks(row) === 100)).toHaveLength(20);
    expect(rows.length).toBeLessThan(250);
  });

  it('hold the extremes of every series, begin with the first row, end with the last, and rise', () => {
    const value = fc.oneof(fc.double({ min: -1e6, max: 1e6, noNaN: true }), fc.constant(NaN));
    fc.assert(
      fc.property(
        fc.array(fc.array(value, { minLength: 300, maxLength: 300 }), { minLength: 1, maxLength: 3 }),
        fc.integer({ min: 1, max: 40 }),
        fc.integer({ min: 0, max: 100 }),
        (lists, stretches, from) => {
          const to = 299;
          const rows = drawnRows(
            from,
            to,
            stretches,
            lists.map((list) => (row: number) => list[row]!),
          );
          expect([rows[0], rows.at(-1)]).toEqual([from, to]);
          expect(rows.every((row, i) => i === 0 || row > rows[i - 1]!)).toBe(true);
          for (const list of lists) {
            const all = list.slice(from).filter((v) => !Number.isNaN(v));
            const drawn = rows.map((row) => list[row]!).filter((v) => !Number.isNaN(v));
            expect([Math.min(...drawn), Math.max(...drawn)]).toEqual([Math.min(...all), Math.max(...all)]);
          }
        },
      ),
      { numRuns: 200 },
    );
  });

  it('are joined by a path that is broken where a value is empty', () => {
    const values = [1, 2, NaN, NaN, 3, 4];
    expect(
      pathThrough(
        [0, 1, 2, 3, 4, 5],
        (row) => row,
        (row) => values[row]!,
      ),
    ).toBe('M0,1L1,2M4,3L5,4');
  });
});
