import { describe, expect, it } from 'vitest';
import type { Space } from '../../forms/form.ts';
import { Population } from '../population.ts';
import { RandomStream } from '../random/stream.ts';
import { CellCounts } from './cell-counts.ts';

const grid = (width: number, height: number): Space => ({
  form: 'grid',
  edge: 'wrapping',
  neighbours: 8,
  oneAgentACell: false,
  width,
  height,
});

describe('counts by cell', () => {
  it('are right when a run of other sizes follows, which may have as many cells', () => {
    const population = new Population({ attributes: 0, machines: 0, dues: 0, isSomewhere: true });
    const counts = new CellCounts(population, -1, []);
    const luck = RandomStream.of(3, 0, 0);
    const below = (n: number): number => Math.floor((luck.word() / 4294967296) * n);
    // Rows of 31 and of 15 cells both take 32 numbers or 16: these two grids take 320 each.
    for (const [width, height] of [
      [31, 10],
      [15, 20],
      [31, 10],
    ] as const) {
      population.clear();
      for (let i = 0; i < 60; i++) population.add(below(width), below(height), 1);
      counts.begin(grid(width, height), 60);
      expect(counts.isReady).toBe(true);
      for (let i = 0; i < 200; i++) {
        const [x, y, reach] = [below(width), below(height), 1 + below(Math.floor((Math.min(width, height) - 3) / 2))];
        const apart = (a: number, b: number, size: number): number => Math.min(Math.abs(a - b), size - Math.abs(a - b));
        let [inCircle, inSquare] = [0, 0];
        for (let slot = 0; slot < population.used; slot++) {
          const [dx, dy] = [apart(population.x[slot]!, x, width), apart(population.y[slot]!, y, height)];
          if (dx * dx + dy * dy <= reach * reach) inCircle++;
          if (Math.max(dx, dy) <= reach) inSquare++;
        }
        expect(counts.within(x, y, reach, NaN, NaN)).toBe(inCircle);
        expect(counts.inSquare(x, y, reach, NaN, NaN)).toBe(inSquare);
      }
    }
  });

  it('leave it to others where a reach goes all around, is none, or has its middle in no cell', () => {
    const population = new Population({ attributes: 0, machines: 0, dues: 0, isSomewhere: true });
    const counts = new CellCounts(population, -1, []);
    for (let i = 0; i < 20; i++) population.add(i % 7, i % 5, 1);
    counts.begin(grid(7, 5), 20);
    for (const [x, y, reach] of [
      [0, 0, 2],
      [0, 0, Infinity],
      [0, 0, NaN],
      [3, 2, -1],
      [2.5, 2, 1],
      [NaN, NaN, 1],
    ] as const)
      expect([counts.within(x, y, reach, NaN, NaN), counts.inSquare(x, y, reach, NaN, NaN)]).toEqual([-1, -1]);
  });
});
