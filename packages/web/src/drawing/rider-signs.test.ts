import { expect, it } from 'vitest';
import { loadModel } from '@vole/core';
import { drawRiders } from './rider-signs.ts';
import type { Scene } from './scene.ts';

const TEXT = `model Ride
clock
  end after 9 steps
space Field: plane 100 by 100
agent Cart
  start 3 anywhere
  seats 4
agent Vole
  start 9 anywhere
  behaviour ride
    board first Cart
order
  ride in turn
measure m = count Vole
`;

/** What is written on a picture of 100 by 100 pixels, and where. */
function written(hidden: ReadonlySet<string>): (readonly [string, number, number])[] {
  const found: (readonly [string, number, number])[] = [];
  const context = {
    save: () => undefined,
    restore: () => undefined,
    strokeText: () => undefined,
    fillText: (text: string, x: number, y: number) => found.push([text, x, y]),
  } as unknown as CanvasRenderingContext2D;
  const { plan } = loadModel(TEXT).loaded!;
  const none = new Int32Array(0);
  const scene = {
    plan,
    space: 0,
    frame: {
      kinds: [
        { count: 3, x: Float32Array.of(10, 50, 900), y: Float32Array.of(10, 50, 50), riders: Int32Array.of(4, 0, 2) },
        { count: 9, x: new Float32Array(9), y: new Float32Array(9), riders: none },
      ],
    },
  } as unknown as Scene;
  const size = { width: 100, height: 100 };
  drawRiders({ context, size, theme: 'paper' }, scene, hidden, { centreX: 50, centreY: 50, scale: 1 });
  return found;
}

it('writes how many ride beside each vehicle in sight, and beside nobody else', () => {
  expect(written(new Set())).toEqual([
    ['4', 17, 83],
    ['0', 57, 43],
  ]);
  expect(written(new Set(['Cart']))).toEqual([]);
});
