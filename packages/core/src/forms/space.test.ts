import { describe, expect, it } from 'vitest';
import { RandomStream } from '../engine/random/stream.ts';
import type { Space } from './form.ts';
import { reflect, wayAlong, wrap } from './edges.ts';
import { formOf } from './forms.ts';
import { hexAlong } from './hexagons.ts';
import {
  bearingBetween,
  cellAt,
  cellX,
  cellY,
  directionAfter,
  distanceBetween,
  isInReach,
  placeOnAxis,
} from './space.ts';

/** Places and ways in every form of space, against what asking all images of a place says. */

const FORMS: readonly Space[] = (['wrapping', 'walled', 'reflecting'] as const).flatMap((edge): Space[] => [
  { form: 'plane', edge, neighbours: 8, oneAgentACell: false, width: 17, height: 11 },
  { form: 'grid', edge, neighbours: 4, oneAgentACell: false, width: 9, height: 6 },
  { form: 'grid', edge, neighbours: 8, oneAgentACell: false, width: 9, height: 6 },
  { form: 'hexagons', edge, neighbours: 6, oneAgentACell: false, width: 8, height: 6 },
]);
const nameOf = ({ form, edge, neighbours }: Space): string => `a ${edge} ${form} of ${neighbours} neighbours`;
const luck = RandomStream.of(7, 0, 0);
const unit = (): number => luck.word() / 4294967296;
const placeIn = ({ form, width, height }: Space): readonly [number, number] =>
  form !== 'plane' ? [Math.floor(unit() * width), Math.floor(unit() * height)] : [unit() * width, unit() * height];

/** Centres in the plane, hexagons as they lie. */
function centre(x: number, y: number, { neighbours }: Space): readonly [number, number] {
  return neighbours === 6 ? [x + (((y % 2) + 2) % 2) * 0.5, (y * Math.sqrt(3)) / 2] : [x, y];
}

function distanceByImages(a: readonly [number, number], b: readonly [number, number], space: Space): number {
  const shifts = space.edge === 'wrapping' ? [-1, 0, 1] : [0];
  const [ax, ay] = centre(a[0], a[1], space);
  return Math.min(
    ...shifts.flatMap((i) =>
      shifts.map((j) => {
        const [bx, by] = centre(b[0] + i * space.width, b[1] + j * space.height, space);
        return Math.hypot(bx - ax, by - ay);
      }),
    ),
  );
}

describe.each(FORMS.map((space) => [nameOf(space), space] as const))('%s', (_, space) => {
  it('measures the shortest of the ways to all images of a place', () => {
    for (let i = 0; i < 300; i++) {
      const [a, b] = [placeIn(space), placeIn(space)];
      expect(distanceBetween(a[0], a[1], b[0], b[1], space)).toBeCloseTo(distanceByImages(a, b, space), 9);
      expect(distanceBetween(b[0], b[1], a[0], a[1], space)).toBeCloseTo(
        distanceBetween(a[0], a[1], b[0], b[1], space),
        12,
      );
    }
  });

  it('finds in reach whom the distance says', () => {
    for (let i = 0; i < 300; i++) {
      const [a, b] = [placeIn(space), placeIn(space)];
      const far = distanceByImages(a, b, space);
      const reach = 4 * unit();
      if (Math.abs(far - reach) > 1e-9)
        expect(isInReach('within', reach, a[0], a[1], b[0], b[1], space)).toBe(far <= reach);
      expect(isInReach('here', 0, a[0], a[1], b[0], b[1], space)).toBe(far === 0);
      expect(isInReach('within', -1, a[0], a[1], a[0], a[1], space)).toBe(false);
      if (space.form === 'plane') continue;
      const [dx, dy] = [
        Math.abs(wayAlong(a[0], b[0], space.width, space.edge === 'wrapping')),
        Math.abs(wayAlong(a[1], b[1], space.height, space.edge === 'wrapping')),
      ];
      const isNext =
        space.neighbours === 6
          ? Math.abs(far - 1) < 1e-6
          : space.neighbours === 4
            ? dx + dy === 1
            : Math.max(dx, dy) === 1;
      expect(isInReach('next to', 0, a[0], a[1], b[0], b[1], space)).toBe(isNext);
      expect(isInReach('square', 2, a[0], a[1], b[0], b[1], space)).toBe(dx <= 2 && dy <= 2);
      expect(isInReach('cross', 2, a[0], a[1], b[0], b[1], space)).toBe(dx <= 2 && dy <= 2 && (dx === 0 || dy === 0));
    }
  });

  it('brings every coordinate inside, and leaves those that are', () => {
    for (let i = 0; i < 600; i++) {
      // Also where no digit of a place is within the space any more.
      const v = (unit() - 0.5) * space.width * 10 ** (i < 300 ? 1 : i / 2);
      const placed = placeOnAxis(v, space.width, space);
      expect(placed).toBeGreaterThanOrEqual(0);
      expect(placed).toBeLessThanOrEqual(formOf(space).isOfCells ? space.width - 1 : space.width);
      expect(placeOnAxis(placed, space.width, space)).toBe(
        space.edge === 'wrapping' && placed === space.width ? 0 : placed,
      );
    }
  });

  it('has a cell for every place, whose centre is no further than half its diagonal', () => {
    const cell = formOf(space).isOfCells ? 1 : 2.5;
    const raster = formOf(space).rasterOf(space, cell);
    for (let i = 0; i < 300; i++) {
      const [x, y] = placeIn(space);
      const at = cellAt(x, y, raster, space);
      expect(at).toBeGreaterThanOrEqual(0);
      expect(at).toBeLessThan(raster.columns * raster.rows);
      expect(Math.hypot(cellX(at, raster, space) - x, cellY(at, raster, space) - y)).toBeLessThanOrEqual(
        formOf(space).isOfCells ? 0 : (cell * Math.SQRT2) / 2 + 1e-9,
      );
    }
    expect(cellAt(NaN, 1, raster, space)).toBe(-1);
  });

  it('has the centre of every cell inside it, in that very cell, also where the edge cuts it', () => {
    for (const cell of formOf(space).isOfCells ? [1] : [1, 2.5, 3, 10, 17]) {
      const raster = formOf(space).rasterOf(space, cell);
      for (let at = 0; at < raster.columns * raster.rows; at++) {
        const [x, y] = [cellX(at, raster, space), cellY(at, raster, space)];
        expect([x < space.width, y < space.height, cellAt(x, y, raster, space)]).toEqual([true, true, at]);
      }
    }
  });

  it('turns bearings the way one sees: a step in the bearing comes nearer', () => {
    for (let i = 0; i < 200; i++) {
      const [a, b] = [placeIn(space), placeIn(space)];
      const far = distanceBetween(a[0], a[1], b[0], b[1], space);
      if (far < 2 || formOf(space).isOfCells) continue;
      const bearing = (bearingBetween(a[0], a[1], b[0], b[1], space) * Math.PI) / 180;
      const [x, y] = [a[0] + Math.sin(bearing), a[1] + Math.cos(bearing)].map((v, axis) =>
        space.edge === 'wrapping' ? wrap(v, axis === 0 ? space.width : space.height) : v,
      ) as [number, number];
      expect(distanceBetween(x, y, b[0], b[1], space)).toBeCloseTo(far - 1, 6);
    }
  });
});

describe('walls that throw back', () => {
  it('give the place of a ball that is followed step by step', () => {
    for (let i = 0; i < 200; i++) {
      const size = 3 + 10 * unit();
      const goal = (unit() - 0.5) * 60;
      let at = 0;
      let way = 1;
      let left = Math.abs(goal);
      if (goal < 0) way = 1;
      while (left > 0) {
        const free = way > 0 ? size - at : at;
        const go = Math.min(free, left);
        at += way * go;
        left -= go;
        if (go === free) way = -way;
      }
      expect(reflect(goal, size)).toBeCloseTo(at, 9);
    }
  });

  it('turn the direction with the place', () => {
    const space: Space = {
      form: 'plane',
      edge: 'reflecting',
      neighbours: 8,
      oneAgentACell: false,
      width: 10,
      height: 10,
    };
    expect(directionAfter(45, 12, 5, space)).toBeCloseTo(315, 9);
    expect(directionAfter(45, 5, 12, space)).toBeCloseTo(135, 9);
    expect(directionAfter(45, 12, 12, space)).toBeCloseTo(225, 9);
    expect(directionAfter(45, 25, 5, space)).toBeCloseTo(45, 9);
    expect(directionAfter(45, 12, 5, { ...space, edge: 'walled' })).toBe(45);
  });
});

describe('hexagons', () => {
  it('lead one step in each of six directions to a neighbour, and back again', () => {
    for (const row of [2, 3]) {
      for (let direction = 30; direction < 360; direction += 60) {
        const [x, y] = [hexAlong('x', 4, row, 1, direction), hexAlong('y', 4, row, 1, direction)].map((v) =>
          Math.floor(v + 0.5),
        ) as [number, number];
        const space: Space = {
          form: 'hexagons',
          edge: 'walled',
          neighbours: 6,
          oneAgentACell: false,
          width: 9,
          height: 8,
        };
        expect(distanceBetween(4, row, x, y, space)).toBeCloseTo(1, 9);
        expect(
          [hexAlong('x', x, y, 1, direction + 180), hexAlong('y', x, y, 1, direction + 180)].map((v) =>
            Math.floor(v + 0.5),
          ),
        ).toEqual([4, row]);
      }
    }
  });
});
