import { describe, expect, it } from 'vitest';
import { RandomStream } from './random/stream.ts';
import type { Space } from '../forms/form.ts';
import { cellX, cellY } from '../forms/space.ts';
import { drawInMask, isInMask, maskOf, rectanglesOf, repainted, shareBefore, unionOf, zoneRaster } from './zones.ts';

const PLANE: Space = { form: 'plane', edge: 'walled', neighbours: 8, oneAgentACell: false, width: 40, height: 24 };
const GRID: Space = { form: 'grid', edge: 'wrapping', neighbours: 8, oneAgentACell: false, width: 20, height: 12 };
const luck = RandomStream.of(13, 0, 0);
const unit = (): number => luck.word() / 4294967296;

describe('masks of zones', () => {
  it('hold the cells whose centres lie in a box or circle', () => {
    for (const space of [PLANE, GRID]) {
      const raster = zoneRaster(space, undefined);
      const box = maskOf([{ is: 'box', from: [12, 9], to: [4, 3] }], raster, space);
      const circle = maskOf([{ is: 'circle', radius: 4, around: [10, 6] }], raster, space);
      for (let cell = 0; cell < box.inside.length; cell++) {
        const [x, y] = [cellX(cell, raster, space), cellY(cell, raster, space)];
        expect(box.inside[cell] === 1).toBe(x >= 4 && x <= 12 && y >= 3 && y <= 9);
        if (space === PLANE) expect(circle.inside[cell] === 1).toBe((x - 10) ** 2 + (y - 6) ** 2 <= 16);
      }
      expect([...box.cells]).toEqual([...box.inside.keys()].filter((cell) => box.inside[cell] === 1));
    }
  });

  it('of a circle go round the edge of a wrapping space', () => {
    const mask = maskOf([{ is: 'circle', radius: 2, around: [0, 0] }], zoneRaster(GRID, undefined), GRID);
    expect(isInMask(mask, 19, 11, GRID)).toBe(true);
    expect(isInMask(mask, 18, 0, GRID)).toBe(true);
    expect(isInMask(mask, 10, 6, GRID)).toBe(false);
    expect(mask.cells).toHaveLength(13);
  });

  it('of a line hold every cell it touches, without a gap', () => {
    const raster = zoneRaster(PLANE, 1);
    const mask = maskOf(
      [
        {
          is: 'line',
          places: [
            [2.5, 2.5],
            [30.2, 17.9],
            [5.5, 20.5],
          ],
        },
      ],
      raster,
      PLANE,
    );
    for (const [from, to] of [
      [
        [2.5, 2.5],
        [30.2, 17.9],
      ],
      [
        [30.2, 17.9],
        [5.5, 20.5],
      ],
    ] as const) {
      for (let t = 0; t <= 1; t += 0.001)
        expect(isInMask(mask, from[0] + (to[0] - from[0]) * t, from[1] + (to[1] - from[1]) * t, PLANE)).toBe(true);
    }
  });

  it('are joined, and turned round', () => {
    const raster = zoneRaster(GRID, undefined);
    const [a, b] = [
      maskOf(
        [
          {
            is: 'cells',
            places: [
              [1, 1],
              [2, 2],
            ],
          },
        ],
        raster,
        GRID,
      ),
      maskOf(
        [
          {
            is: 'cells',
            places: [
              [2, 2],
              [3, 3],
            ],
          },
        ],
        raster,
        GRID,
      ),
    ];
    expect(unionOf([a, b], raster, false).cells).toHaveLength(3);
    expect(unionOf([a, b], raster, true).cells).toHaveLength(20 * 12 - 3);
  });

  it('are painted by a brush and cleared by it, the cell under the brush always', () => {
    const empty = maskOf([], zoneRaster(GRID, undefined), GRID);
    const painted = repainted(
      empty,
      [
        [5, 5],
        [8, 5],
      ],
      0,
      true,
      GRID,
    );
    expect([...painted.cells]).toEqual([5 * 20 + 5, 5 * 20 + 8]);
    expect(repainted(painted, [[5, 5]], 0, false, GRID).cells).toHaveLength(1);
    expect(repainted(empty, [[5, 5]], 1, true, GRID).cells).toHaveLength(5);
    expect(empty.cells).toHaveLength(0);
  });

  it('are covered by rectangles, each cell once', () => {
    for (let i = 0; i < 60; i++) {
      const [columns, rows] = [1 + Math.floor(unit() * 9), 1 + Math.floor(unit() * 9)];
      const inside = Uint8Array.from({ length: columns * rows }, () => (unit() < 0.6 ? 1 : 0));
      const covered = new Uint8Array(inside.length);
      for (const [left, bottom, right, top] of rectanglesOf(inside, columns, rows)) {
        for (let row = bottom; row <= top; row++)
          for (let column = left; column <= right; column++) covered[row * columns + column]!++;
      }
      expect([...covered]).toEqual([...inside]);
    }
    expect(rectanglesOf(new Uint8Array(12).fill(1), 4, 3)).toEqual([[0, 0, 3, 2]]);
  });

  it('of a raster of another size take its nearest value', () => {
    const mask = maskOf(
      [{ is: 'raster', raster: { columns: 2, rows: 2, values: [1, 0, 0, 1] } }],
      zoneRaster(GRID, undefined),
      GRID,
    );
    expect([
      isInMask(mask, 0, 0, GRID),
      isInMask(mask, 19, 0, GRID),
      isInMask(mask, 0, 11, GRID),
      isInMask(mask, 19, 11, GRID),
    ]).toEqual([true, false, false, true]);
  });
});

describe('ways that meet an obstacle', () => {
  const raster = zoneRaster(PLANE, 1);
  const wall = maskOf([{ is: 'box', from: [10, 0], to: [12, 20] }], raster, PLANE);

  it('end before its first cell, as going in small steps finds', () => {
    for (let i = 0; i < 300; i++) {
      const from = [unit() * 40, unit() * 24] as const;
      const to = [unit() * 40, unit() * 24] as const;
      if (isInMask(wall, from[0], from[1], PLANE)) continue;
      const share = shareBefore(wall, from[0], from[1], to[0], to[1], PLANE);
      const at = (t: number): boolean =>
        isInMask(wall, from[0] + (to[0] - from[0]) * t, from[1] + (to[1] - from[1]) * t, PLANE);
      let first = 1;
      for (let t = 0; t <= 1; t += 0.0005) {
        if (!at(t)) continue;
        first = t;
        break;
      }
      expect(at(share)).toBe(false);
      expect(Math.abs(share - first)).toBeLessThan(0.002);
    }
  });

  it('are free from the cell one stands in, even inside', () =>
    expect(shareBefore(wall, 11.5, 5.5, 11.6, 5.6, PLANE)).toBe(1));
});

describe('places drawn in a mask', () => {
  it('lie in it, evenly over its cells', () => {
    for (const space of [PLANE, GRID]) {
      const raster = zoneRaster(space, space === PLANE ? 2 : undefined);
      const mask = maskOf([{ is: 'box', from: [3, 3], to: [9, 9] }], raster, space);
      const counts = new Map<number, number>();
      const draws = 400 * mask.cells.length;
      for (let i = 0; i < draws; i++) {
        const words = [luck.word(), luck.word(), luck.word()] as const;
        const [x, y] = [drawInMask(mask, 'x', ...words, space), drawInMask(mask, 'y', ...words, space)];
        expect(isInMask(mask, x, y, space)).toBe(true);
        const cell = Math.floor(y / raster.cell) * raster.columns + Math.floor(x / raster.cell);
        counts.set(cell, (counts.get(cell) ?? 0) + 1);
      }
      expect(counts.size).toBe(mask.cells.length);
      const square = [...counts.values()].reduce((sum, count) => sum + (count - 400) ** 2 / 400, 0);
      // The square root of twice a chi-square is about normal: 3.3 standard deviations are passed once in a thousand.
      expect(Math.sqrt(2 * square) - Math.sqrt(2 * mask.cells.length - 3)).toBeLessThan(3.3);
    }
    const empty = maskOf([], zoneRaster(GRID, undefined), GRID);
    expect(drawInMask(empty, 'x', 1, 2, 3, GRID)).toBeNaN();
  });
});
