import { describe, expect, it } from 'vitest';
import { fitCamera, toPicture } from './camera.ts';
import { hexAt, hexEnds, hexGround, hexRound, hexSpot } from './hexagons.ts';
import type { Picture } from './raster.ts';
import { clear, drawField, drawZone } from './raster.ts';

const GRID = { width: 6, height: 4 };
const cells = Array.from({ length: 24 }, (_, i) => ({ x: i % 6, y: Math.floor(i / 6) }));

describe('hexagons', () => {
  it('lie 1 apart from all their neighbours', () => {
    for (const { x, y } of cells) {
      const aside = y % 2 === 0 ? -1 : 1;
      const here = hexSpot(x, y);
      for (const [column, row] of [
        [x - 1, y],
        [x + 1, y],
        [x, y - 1],
        [x, y + 1],
        [x + aside, y - 1],
        [x + aside, y + 1],
      ] as const) {
        const there = hexSpot(column, row);
        expect(Math.hypot(there.x - here.x, there.y - here.y)).toBeCloseTo(1, 12);
      }
    }
  });

  it('are found again from places within them', () => {
    for (const cell of cells) {
      const { x, y } = hexSpot(cell.x, cell.y);
      for (const [dx, dy] of [
        [0, 0],
        [0.48, 0],
        [-0.48, 0],
        [0, 0.55],
        [0, -0.55],
        [0.4, 0.3],
      ] as const)
        expect(hexAt(x + dx, y + dy)).toEqual(cell);
    }
  });

  it('lie on their ground to the corners', () => {
    const { width, height, low = 0 } = hexGround(GRID);
    const spots = cells.map(({ x, y }) => hexSpot(x, y));
    expect(Math.min(...spots.map(({ x }) => x)) - 0.5).toBeCloseTo(low, 12);
    expect(Math.max(...spots.map(({ x }) => x)) + 0.5).toBeCloseTo(low + width, 12);
    expect(Math.min(...spots.map(({ y }) => y)) - 1 / Math.sqrt(3)).toBeCloseTo(low, 12);
    expect(Math.max(...spots.map(({ y }) => y)) + 1 / Math.sqrt(3)).toBeCloseTo(low + height, 12);
    expect(hexRound(GRID).height).toBeCloseTo(hexSpot(0, 4).y - hexSpot(0, 0).y, 12);
    expect([...hexEnds(Float32Array.of(1, 1, 0, 0))].map((v) => Number(v.toFixed(4)))).toEqual([
      1.5, 0.9434, 0, 0.0774,
    ]);
  });

  it('show fields and zones cell by cell', () => {
    const picture: Picture = { width: 120, height: 90, pixels: new Uint8ClampedArray(120 * 90 * 4) };
    clear(picture, [250, 250, 250]);
    const camera = fitCamera(hexGround(GRID), picture);
    const redAt = (column: number, row: number): number => {
      const spot = hexSpot(column, row);
      const { x, y } = toPicture(camera, picture, spot.x, spot.y);
      return picture.pixels[(Math.floor(y) * 120 + Math.floor(x)) * 4]!;
    };
    const colours = Array.from({ length: 256 }, (_, level) => [level, 0, 0] as const);
    drawField(
      picture,
      camera,
      GRID,
      { columns: 6, rows: 4, levels: Uint8Array.from(cells, (_, i) => i * 10), low: 0, high: 1, mean: 0, isCut: false },
      colours,
      { isGrid: true, isHexagonal: true, asCells: true, wraps: false },
    );
    expect(cells.map(({ x, y }) => redAt(x, y))).toEqual(cells.map((_, i) => i * 10));
    expect([picture.pixels[0], picture.pixels[picture.pixels.length - 4]]).toEqual([250, 250]);
    drawZone(
      picture,
      camera,
      { columns: 6, rows: 4, cell: 1, inside: Uint8Array.from(cells, (_, i) => Number(i === 9)) },
      [255, 255, 255],
      true,
      { isGrid: true, isHexagonal: true },
    );
    expect(cells.flatMap(({ x, y }, i) => (redAt(x, y) === i * 10 ? [] : [i]))).toEqual([9]);
  });
});
