import { describe, expect, it } from 'vitest';
import { phasePath } from './phase-path.ts';

describe('the path of a run through two measures', () => {
  const rows = [0, 10, 20, 1, 11, NaN, 2, 12, 22, 3, 13, 23];

  it('goes through all rows in which both have a value', () => {
    expect(phasePath(rows, 3, { x: 1, y: 2 }, 100)).toEqual([
      { step: 0, x: 10, y: 20 },
      { step: 2, x: 12, y: 22 },
      { step: 3, x: 13, y: 23 },
    ]);
    expect(phasePath(rows, 3, { x: 0, y: 1 }, 100)).toHaveLength(4);
  });

  it('is thinned, the last row kept, and is empty without rows', () => {
    const long = Array.from({ length: 2 * 1001 }, (_, i) => i);
    const path = phasePath(long, 2, { x: 0, y: 1 }, 100);
    expect(path.length).toBeLessThanOrEqual(102);
    expect(path.at(-1)).toEqual({ step: 1000, x: 2000, y: 2001 });
    expect(phasePath([], 3, { x: 0, y: 1 }, 10)).toEqual([]);
    expect(phasePath([], 0, { x: 0, y: 1 }, 10)).toEqual([]);
  });
});
