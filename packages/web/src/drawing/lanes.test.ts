import { laneNetwork, readMap } from '@vole/core';
import { describe, expect, it } from 'vitest';
import { fitCamera } from './camera.ts';
import { drawBackdrop, drawLanes, fillOutline, strokeLine } from './lanes.ts';
import type { Picture } from './raster.ts';

function blank(width = 40, height = 30): Picture {
  return { width, height, pixels: new Uint8ClampedArray(width * height * 4).fill(255) };
}

/** How dark each pixel is, as a row of signs a row. */
function shades({ width, height, pixels }: Picture): string[] {
  return Array.from({ length: height }, (_, y) =>
    Array.from({ length: width }, (_, x) => ' .:#'[3 - Math.round(pixels[(y * width + x) * 4]! / 85)]).join(''),
  );
}

const count = (picture: Picture): number => shades(picture).join('').replaceAll(' ', '').length;

describe('a line', () => {
  it('is as wide as it is told, with round ends, whichever way it leads', () => {
    for (const [ax, ay, bx, by] of [
      [10, 15, 30, 15],
      [30, 15, 10, 15],
      [20, 5, 20, 25],
      [13, 8, 27, 22],
    ] as const) {
      const picture = blank();
      strokeLine(picture, ax, ay, bx, by, 3, [0, 0, 0]);
      const ink = picture.pixels.reduce((sum, value, i) => sum + (i % 4 === 0 ? (255 - value) / 255 : 0), 0);
      const length = Math.hypot(bx - ax, by - ay);
      expect(ink).toBeGreaterThan(6 * length + Math.PI * 9 - 3);
      expect(ink).toBeLessThan(6 * length + Math.PI * 9 + 3);
    }
  });

  it('beyond the picture draws nothing, and across it only what lies in it', () => {
    const picture = blank();
    strokeLine(picture, -50, -50, -10, 90, 3, [0, 0, 0]);
    strokeLine(picture, 60, 0, 60, 30, 3, [0, 0, 0]);
    expect(count(picture)).toBe(0);
    strokeLine(picture, -1e6, 15, 1e6, 15, 2, [0, 0, 0]);
    expect(shades(picture)[15]).toBe('#'.repeat(40));
    expect(shades(picture)[10]).toBe(' '.repeat(40));
  });
});

describe('an area', () => {
  it('is filled inside its outline, as far as it lies in the space', () => {
    const picture = blank(20, 20);
    const camera = { centreX: 10, centreY: 10, scale: 1 };
    fillOutline(picture, camera, Float64Array.from([5, 5, 30, 5, 30, 12, 5, 12]), [0, 0, 0], { width: 15, height: 20 });
    expect(count(picture)).toBe(10 * 7);
  });
});

describe('the lanes of a map', async () => {
  const file = await readMap(
    JSON.stringify({
      type: 'FeatureCollection',
      features: [
        [
          { kind: 'path' },
          [
            [0, 0],
            [900, 0],
          ],
        ],
        [
          { kind: 'main' },
          [
            [900, 0],
            [900, 600],
          ],
        ],
      ].map(([properties, coordinates]) => ({
        type: 'Feature',
        properties,
        geometry: { type: 'LineString', coordinates },
      })),
    }),
  );
  const lanes = laneNetwork(file, { allParts: false, inMetres: true, scale: 1 });
  if ('problem' in lanes) throw new Error(lanes.problem);

  it('are drawn, the wider kinds wider, and a picture that was kept is the same', () => {
    const [first, second] = [blank(90, 60), blank(90, 60)];
    const camera = fitCamera(lanes, first);
    for (const picture of [first, second]) expect([...drawBackdrop(picture, camera, lanes, 'paper')]).toEqual([]);
    expect(second.pixels).toEqual(first.pixels);
    const plain = blank(90, 60);
    expect([...drawLanes(plain, camera, lanes, 'paper')]).toEqual([]);
    expect(plain.pixels).toEqual(first.pixels);
    expect(first.pixels.some((value) => value < 255)).toBe(true);
  });
});
