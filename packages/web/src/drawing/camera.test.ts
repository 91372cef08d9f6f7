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
    for (const [x, y] of [[0, 0], [100, 50]] as const) {
      const at = toPicture(camera, PICTURE, x, y);
      expect(at.x >= 0 && at.x <= 800 && at.y >= 0 && at.y <= 600).toBe(true);
    }
  });
  it('fills the picture where it is to cover it', () => {
    const covering = fitCamera(SPACE, PICTURE, true);
    const [low, high] = [toWorld(covering, PICTURE, 0, 600), toWorld(covering, PICTURE, 800, 0)];
    expect(low.x >= 0 && low.y >= -1e-9 && high.x <= 100 && high.y <= 50 + 1e-9).toBe(true);
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
    fc.assert(fc.property(number, number, fc.double({ min: 0.01, max: 100, noNaN: true }), (x, y, factor) => {
      const moved = panBy(zoomAt(camera, PICTURE, 10, 20, factor, camera.scale), x / 10, y / 10);
      const at = toPicture(moved, PICTURE, x, y);
      const back = toWorld(moved, PICTURE, at.x, at.y);
      expect(back.x).toBeCloseTo(x, 6);
      expect(back.y).toBeCloseTo(y, 6);
    }), { seed: 5 });
  });
});
