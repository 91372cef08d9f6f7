import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { fitCamera, panBy, toPicture, toWorld, zoomAt } from './camera.ts';

const PICTURE = { width: 800, height: 600 };
const SPACE = { width: 100, height: 50 };
const camera = fitCamera(SPACE, PICTURE);

describe('camera', () => {
  it('shows the whole space, y up', () => {
    expect(toPicture(camera, PICTURE, 50, 25)).toEqual({ x: 400, y: 300 });
    expect(toPicture(camera, PICTURE, 50, 50).y).toBeLessThan(300);
    for (const [x, y] of [
      [0, 0],
      [100, 50],
    ] as const) {
      const at = toPicture(camera, PICTURE, x, y);
      expect(at.x >= 0 && at.x <= 800 && at.y >= 0 && at.y <= 600).toBe(true);
    }
  });
  it('shows the whole cells of a grid, whose first cell is centred on 0', () => {
    const grid = { width: 10, height: 10, low: -0.5 };
    const fitted = fitCamera(grid, PICTURE);
    const [low, high] = [toPicture(fitted, PICTURE, -0.5, -0.5), toPicture(fitted, PICTURE, 9.5, 9.5)];
    expect([low.x + high.x, low.y + high.y]).toEqual([800, 600]);
  });
  it('shows the whole space in the part that cards leave free, as large as it goes there', () => {
    const shape = fc.record({
      width: fc.double({ min: 1, max: 1000, noNaN: true }),
      height: fc.double({ min: 1, max: 1000, noNaN: true }),
    });
    const inset = fc.integer({ min: 0, max: 250 });
    fc.assert(
      fc.property(shape, inset, inset, inset, inset, (space, left, right, top, bottom) => {
        const fitted = fitCamera(space, PICTURE, { left, right, top, bottom });
        const [low, high] = [toPicture(fitted, PICTURE, 0, 0), toPicture(fitted, PICTURE, space.width, space.height)];
        expect(low.x >= left && high.x <= 800 - right && high.y >= top && low.y <= 600 - bottom).toBe(true);
        const filled = Math.max((high.x - low.x) / (800 - left - right), (low.y - high.y) / (600 - top - bottom));
        expect(filled).toBeCloseTo(0.97, 6);
      }),
    );
  });
  it('keeps the point under the pointer when zooming, and comes back when panned back', () => {
    const before = toWorld(camera, PICTURE, 120, 90);
    const zoomed = zoomAt(camera, PICTURE, 120, 90, 3, camera.scale);
    const after = toWorld(zoomed, PICTURE, 120, 90);
    expect(after.x).toBeCloseTo(before.x, 9);
    expect(after.y).toBeCloseTo(before.y, 9);
    expect(panBy(panBy(zoomed, 13, -7), -13, 7).centreX).toBeCloseTo(zoomed.centreX, 9);
  });
  it('zooms neither without end in nor out', () => {
    expect(zoomAt(camera, PICTURE, 0, 0, 1e9, camera.scale).scale).toBeCloseTo(camera.scale * 200, 6);
    expect(zoomAt(camera, PICTURE, 0, 0, 1e-9, camera.scale).scale).toBeCloseTo(camera.scale / 4, 6);
  });
  it('goes from the world to the picture and back', () => {
    const number = fc.double({ min: -500, max: 500, noNaN: true });
    fc.assert(
      fc.property(number, number, fc.double({ min: 0.01, max: 100, noNaN: true }), (x, y, factor) => {
        const moved = panBy(zoomAt(camera, PICTURE, 10, 20, factor, camera.scale), x / 10, y / 10);
        const at = toPicture(moved, PICTURE, x, y);
        const back = toWorld(moved, PICTURE, at.x, at.y);
        expect(back.x).toBeCloseTo(x, 6);
        expect(back.y).toBeCloseTo(y, 6);
      }),
      { seed: 5 },
    );
  });
});
