import { describe, expect, it } from 'vitest';
import { CellList, cellsInto, Discs } from './cells.ts';
import { spreadInto } from './field-change.ts';
import { RandomStream } from './random/stream.ts';
import type { Raster, Space } from '../forms/form.ts';
import { formOf } from '../forms/forms.ts';
import type { ReachShape } from '../forms/space.ts';
import { cellAt, cellX, cellY, isInReach, squareBetween } from '../forms/space.ts';

/** Cells in a reach against asking every cell, in every form of space. */

const SPACES: readonly (readonly [string, Space, number])[] = (['wrapping', 'walled', 'reflecting'] as const).flatMap(
  (edge) => [
    [
      `a ${edge} grid of 4`,
      { form: 'grid', edge, neighbours: 4, oneAgentACell: false, width: 11, height: 7 },
      1,
    ] as const,
    [
      `a ${edge} grid of 8`,
      { form: 'grid', edge, neighbours: 8, oneAgentACell: false, width: 11, height: 7 },
      1,
    ] as const,
    [
      `a ${edge} grid of 6`,
      { form: 'hexagons', edge, neighbours: 6, oneAgentACell: false, width: 10, height: 8 },
      1,
    ] as const,
    [
      `a ${edge} plane`,
      { form: 'plane', edge, neighbours: 8, oneAgentACell: false, width: 22, height: 15 },
      2,
    ] as const,
  ],
);

const luck = RandomStream.of(11, 0, 0);
const unit = (): number => luck.word() / 4294967296;

function asked(raster: Raster, space: Space, is: ReachShape | 'all', distance: number, x: number, y: number): number[] {
  const out = new Int32Array(raster.columns * raster.rows);
  return [...out.subarray(0, cellsInto(raster, space, is, distance, x, y, out))];
}

/** Row by row from the top, each from the left. */
function scanOrder({ columns, rows }: Raster): number[] {
  return Array.from(
    { length: columns * rows },
    (_, i) => (rows - 1 - Math.floor(i / columns)) * columns + (i % columns),
  );
}

describe.each(SPACES)('cells of %s', (_, space, cell) => {
  const raster: Raster = formOf(space).rasterOf(space, cell);
  const place = (): readonly [number, number] =>
    formOf(space).isOfCells
      ? [Math.floor(unit() * space.width), Math.floor(unit() * space.height)]
      : [unit() * space.width, unit() * space.height];

  it('are all there, each once, in scan order', () =>
    expect(asked(raster, space, 'all', 0, 0, 0)).toEqual(scanOrder(raster)));

  it('within a distance are those whose centres are, in scan order', () => {
    for (let i = 0; i < 60; i++) {
      const [x, y] = place();
      const distance = 5 * unit();
      const inside = scanOrder(raster).filter(
        (c) => squareBetween(x, y, cellX(c, raster, space), cellY(c, raster, space), space) <= distance * distance,
      );
      expect(asked(raster, space, 'within', distance, x, y)).toEqual(inside);
    }
  });

  it('of one place are one, and none of nowhere', () => {
    const [x, y] = place();
    expect(asked(raster, space, 'here', 0, x, y)).toEqual([cellAt(x, y, raster, space)]);
    expect(asked(raster, space, 'within', 3, NaN, NaN)).toEqual([]);
    expect(asked(raster, space, 'within', -1, x, y)).toEqual([]);
  });

  it('next to, in squares and crosses are what agents there would be in', () => {
    if (!formOf(space).isOfCells) return;
    for (let i = 0; i < 40; i++) {
      const [x, y] = place();
      for (const [is, distance] of [
        ['next to', 0],
        ['square', 2],
        ['cross', 2],
      ] as const) {
        const inside = scanOrder(raster).filter((c) =>
          isInReach(is, distance, x, y, cellX(c, raster, space), cellY(c, raster, space), space),
        );
        expect(asked(raster, space, is, distance, x, y), `${is} of ${x}, ${y}`).toEqual(inside);
      }
    }
  });

  it('around a middle, found by steps, are the same, and none are found so around other places or where the last cells are narrower', () => {
    const full = { ...space, height: raster.rows * raster.cell };
    const discs = new Discs(full);
    for (const is of ['within', 'square', 'cross', 'next to'] as const)
      for (let i = 0; i < 60; i++) {
        const distance = i % 3 === 0 ? Math.floor(3 * unit()) * raster.cell : 5 * unit();
        const middle = Math.floor(unit() * raster.columns * raster.rows);
        const [x, y] = [cellX(middle, raster, full), cellY(middle, raster, full)];
        const disc = discs.ofMiddles(raster, is, distance);
        if (!disc) {
          // It would meet itself round the edge.
          expect([is, distance, space.edge, Math.floor(distance) > 2]).toEqual([is, distance, 'wrapping', true]);
          continue;
        }
        const out = new Int32Array(raster.columns * raster.rows);
        const found = [...out.subarray(0, discs.into(raster, disc, x, y, out))];
        expect([is, distance, x, y, found]).toEqual([is, distance, x, y, asked(raster, full, is, distance, x, y)]);
        expect(discs.into(raster, disc, x + 0.25, y, out)).toBe(-1);
        expect(discs.into(raster, disc, NaN, y, out)).toBe(-1);
      }
    expect(new Discs(space).ofMiddles(raster, 'square', 1) !== undefined).toBe(space.form !== 'plane');
    expect(discs.ofMiddles({ ...raster, cell: 0.1 }, 'square', 1)).toBeUndefined();
  });

  it('drawn by steps are evenly those of the reach', () => {
    if (!formOf(space).isOfCells) return;
    const discs = new Discs(space);
    const disc = discs.get(raster, 'within', 2)!;
    // Around hexagons other steps lead to the same cells in every other row.
    for (const row of [3, 4]) {
      const own = cellAt(4, row, raster, space);
      const counts = new Map<number, number>();
      let inside = 0;
      for (let i = 0; i < 26_000; i++) {
        const c = discs.at(raster, disc, own, luck.word());
        if (c < 0) continue;
        inside++;
        counts.set(c, (counts.get(c) ?? 0) + 1);
      }
      const reach = asked(raster, space, 'within', 2, 4, row);
      expect(reach).toHaveLength(space.neighbours === 6 ? 19 : 13);
      expect([...counts.keys()].sort((a, b) => a - b)).toEqual([...reach].sort((a, b) => a - b));
      // Chi-square of 12 or 18 degrees of freedom: one fair draw in a thousand passes that.
      const wanted = inside / reach.length;
      const far = reach.reduce((sum, c) => sum + (counts.get(c)! - wanted) ** 2 / wanted, 0);
      expect(far).toBeLessThan(reach.length === 19 ? 42.3 : 32.9);
    }
  });

  it('pass on to their neighbours, who pass on to them, and lose nothing', () => {
    const values = Float64Array.from({ length: raster.columns * raster.rows }, () => unit());
    const out = new Float64Array(values.length);
    spreadInto(out, values, raster, space, 0.37);
    const total = (list: Float64Array): number => list.reduce((sum, v) => sum + v, 0);
    expect(total(out)).toBeCloseTo(total(values), 9);
    const single = new Float64Array(values.length);
    const at = cellAt(4, 3, raster, space);
    single[at] = 1;
    spreadInto(out, single, raster, space, 0.5);
    const touched = [...out.keys()].filter((c) => out[c]! > 0);
    expect(touched).toHaveLength(formOf(space).neighbourSteps(space, Math.floor(at / raster.columns)).length + 1);
    expect(out[at]).toBeCloseTo(0.5, 12);
  });
});

describe('a list of cells for a start line', () => {
  it('gives each once where a cell holds one agent, and then none', () => {
    const list = new CellList();
    list.cells = Int32Array.from([3, 5, 8, 9]);
    list.count = 4;
    const drawn = Array.from({ length: 6 }, () => list.draw(luck.word(), true));
    expect(new Set(drawn.slice(0, 4))).toEqual(new Set([3, 5, 8, 9]));
    expect(drawn.slice(4)).toEqual([-1, -1]);
  });

  it('gives any of them again and again where many may stand', () => {
    const list = new CellList();
    list.cells = Int32Array.from([3, 5]);
    list.count = 2;
    const drawn = Array.from({ length: 40 }, () => list.draw(luck.word(), false));
    expect(new Set(drawn)).toEqual(new Set([3, 5]));
  });
});
