import { describe, expect, it } from 'vitest';
import { planOf } from '../../test/models.ts';
import { VILLAGE } from '../../test/map-models.ts';
import { bearingDegrees } from '../math.ts';
import { lanesOf } from './lanes.ts';

const plan = planOf(
  `model Near\n${VILLAGE}\nspace Village: map from "village.geojson", in metres\nagent Vole\n  start 1 anywhere\nmeasure n = count Vole\n`,
);
const lanes = lanesOf(plan.spaces[0]!.lanes!);

/** A made-up row of numbers from 0 to 1. */
function numbers(seed: number): () => number {
  let state = seed;
  return () => (state = (Math.imul(state, 1664525) + 1013904223) >>> 0) / 4294967296;
}

describe('what is near along the lanes', () => {
  const draw = numbers(3);
  const place = (): [number, number] => {
    const { x, y } = lanes.index.placeAt(draw());
    return [x, y];
  };

  it('is what no way longer than that leads to, with lanes of one way', () => {
    let near = 0;
    const wrong: number[][] = [];
    for (let round = 0; round < 60; round++) {
      const [x, y] = place();
      const most = draw() * 200;
      for (let other = 0; other < 30; other++) {
        const [toX, toY] = place();
        const way = lanes.wayLength(x, y, toX, toY, 0, '');
        if (Math.abs(way - most) < 1e-6) continue;
        const is = lanes.near.isWithin(x, y, NaN, most, toX, toY);
        if (is !== way < most) wrong.push([x, y, toX, toY, most, way]);
        if (is) near++;
      }
    }
    expect(wrong).toEqual([]);
    expect(near).toBeGreaterThan(300);
  });

  it('is ahead if the way there begins in the direction that one faces', () => {
    // On the lowest road, 30 m from the left: to the right lies the greater part of the village.
    const start = lanes.index.snap(lanes.network.x[0]! + 30, lanes.network.y[0]!);
    const [x, y] = [start.x, start.y];
    const [right, left] = [x + 20, x - 20];
    for (const [facing, there, behind] of [
      [90, right, left],
      [80, right, left],
      [270, left, right],
    ] as const) {
      expect(lanes.near.isWithin(x, y, facing, 25, there, y)).toBe(true);
      expect(lanes.near.isWithin(x, y, facing, 25, behind, y)).toBe(false);
    }
    // Round a block it is ahead again.
    expect(lanes.near.isWithin(x, y, 90, 300, left, y)).toBe(true);
    expect(bearingDegrees(right - x, 0)).toBe(90);
  });

  it('is nobody from nowhere, and whoever stands at the same place', () => {
    const [x, y] = place();
    expect(lanes.near.isWithin(NaN, NaN, NaN, 1e9, x, y)).toBe(false);
    expect(lanes.near.isWithin(x, y, NaN, 0, x, y)).toBe(true);
    expect(lanes.near.isWithin(x, y, NaN, NaN, x, y)).toBe(false);
  });
});
