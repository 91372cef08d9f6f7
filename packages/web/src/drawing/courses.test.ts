import { expect, it } from 'vitest';
import { loadModel } from '@vole/core';
import { drawCourses } from './courses.ts';
import type { Scene } from './scene.ts';

const TEXT = `model Line
clock
  step 1 minute
  end after 9 steps
data "lane.geojson"
  {"type":"Feature","properties":{"kind":"lane"},"geometry":{"type":"LineString","coordinates":[[0,0],[40,0]]}}
space Lane: map from "lane.geojson", in metres
agent Cart
  seats 4
line Carts by Cart
  stops (30 m, 30 m), (70 m, 30 m)
  every 5 minutes
  at 9 m per minute
order
  Carts in turn
measure m = count Cart
show Cart: square, colour moss
`;

/** Paths and rings on a picture of 100 by 100 pixels that shows 100 m by 100 m. */
function drawn(hidden: ReadonlySet<string>, space = 0): string[] {
  const calls: string[] = [];
  const note =
    (name: string) =>
    (...at: number[]) =>
      void calls.push(`${name} ${at.slice(0, 2).map(Math.round).join()}`);
  const context = {
    save: () => undefined,
    restore: () => undefined,
    beginPath: () => undefined,
    stroke: () => undefined,
    moveTo: note('from'),
    lineTo: note('to'),
    arc: note('ring'),
  } as unknown as CanvasRenderingContext2D;
  const { plan } = loadModel(TEXT).loaded!;
  const course = { line: 0, stops: Float32Array.of(30, 30, 70, 30), way: Float32Array.of(30, 30, 50, 30, 70, 30) };
  const scene = { plan, space, courses: [course, { ...course, line: 7 }] } as unknown as Scene;
  const size = { width: 100, height: 100 };
  drawCourses({ context, size, theme: 'paper' }, scene, hidden, { centreX: 50, centreY: 50, scale: 1 });
  return calls;
}

it('draws the way of each line that the plan has, and a ring with a rim at each stop', () => {
  expect(drawn(new Set())).toEqual([
    ...['from 30,70', 'to 50,70', 'to 70,70'],
    ...['ring 30,70', 'ring 30,70', 'ring 70,70', 'ring 70,70'],
  ]);
});

it('draws nothing of lines that are switched off or lie on another space', () => {
  expect(drawn(new Set(['Carts']))).toEqual([]);
  expect(drawn(new Set(), 1)).toEqual([]);
});
