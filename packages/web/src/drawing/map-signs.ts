import type { LaneNetwork, Theme } from '@vole/core';
import { colourOf } from '@vole/core';
import type { Camera, Ground, Size } from './camera.ts';
import { toPicture } from './camera.ts';

/** What is written on a map: names of places and areas as far as there is room, and a bar that says how long a length is. */

const FONT = '"Source Sans 3 Variable", "Source Sans 3", sans-serif';
/** Names at most, so that a map of a town is no list of them. */
const MOST_NAMES = 60;
const MARK = 5;
/** The bar stands so far above the edge of the map, and clear of the buttons at the lower edge of the picture. */
const BAR = { most: 160, low: 14, clear: 52, aside: 14 } as const;

interface Box {
  readonly left: number;
  readonly right: number;
  readonly top: number;
  readonly bottom: number;
}

/** What is written on, over a picture. */
export interface Board {
  readonly context: CanvasRenderingContext2D;
  readonly size: Size;
  readonly theme: Theme;
}

export function drawSigns({ context, size, theme }: Board, lanes: LaneNetwork, ground: Ground, camera: Camera): void {
  const taken: Box[] = [];
  const ink = colourOf('ink', theme);
  const paper = colourOf('paper', theme);
  context.save();
  context.textAlign = 'center';
  context.textBaseline = 'top';
  context.lineJoin = 'round';
  const write = (text: string, x: number, y: number, font: string, alpha: number): boolean => {
    context.font = font;
    const half = context.measureText(text).width / 2 + 3;
    const box = { left: x - half, right: x + half, top: y - 1, bottom: y + 15 };
    if (box.left < 0 || box.top < 0 || box.right > size.width || box.bottom > size.height) return false;
    if (taken.some((other) => overlap(other, box))) return false;
    taken.push(box);
    context.globalAlpha = 0.75;
    context.strokeStyle = paper;
    context.lineWidth = 3;
    context.strokeText(text, x, y);
    context.globalAlpha = alpha;
    context.fillStyle = ink;
    context.fillText(text, x, y);
    context.globalAlpha = 1;
    return true;
  };
  let written = 0;
  for (const { name, x, y } of lanes.places) {
    if (written >= MOST_NAMES) break;
    const at = toPicture(camera, size, x, y);
    if (at.x < 0 || at.y < 0 || at.x > size.width || at.y > size.height) continue;
    const mark = { left: at.x - MARK, right: at.x + MARK, top: at.y - MARK, bottom: at.y + MARK };
    if (taken.some((other) => overlap(other, mark))) continue;
    taken.push(mark);
    // Who stands there is seen through it.
    context.strokeStyle = ink;
    context.lineWidth = 1.4;
    context.strokeRect(mark.left, mark.top, 2 * MARK, 2 * MARK);
    if (write(name, at.x, at.y + MARK + 2, `13px ${FONT}`, 0.85)) written++;
  }
  for (const { name, outline } of lanes.areas) {
    if (name === undefined || written >= MOST_NAMES) continue;
    const at = middleOf(outline);
    const middle = toPicture(camera, size, at.x, at.y);
    const room = at.width * camera.scale;
    context.font = `italic 13px ${FONT}`;
    if (context.measureText(name).width > room) continue;
    if (write(name, middle.x, middle.y - 7, `italic 13px ${FONT}`, 0.7)) written++;
  }
  drawBar(context, size, lanes, ground, camera, ink);
  context.restore();
}

function overlap(a: Box, b: Box): boolean {
  return a.left < b.right && b.left < a.right && a.top < b.bottom && b.top < a.bottom;
}

function middleOf(outline: Float64Array): { readonly x: number; readonly y: number; readonly width: number } {
  let [left, right, bottom, top] = [Infinity, -Infinity, Infinity, -Infinity];
  for (let i = 0; i < outline.length; i += 2) {
    left = Math.min(left, outline[i]!);
    right = Math.max(right, outline[i]!);
    bottom = Math.min(bottom, outline[i + 1]!);
    top = Math.max(top, outline[i + 1]!);
  }
  return { x: (left + right) / 2, y: (bottom + top) / 2, width: right - left };
}

/** The round length that a bar of fitting size stands for: 1, 2 or 5 with noughts. @param metre pixels of one */
export function barOf(metre: number): { readonly metres: number; readonly label: string } {
  const most = BAR.most / metre;
  const tens = 10 ** Math.floor(Math.log10(most));
  const metres = [5, 2, 1].map((digit) => digit * tens).find((length) => length <= most)!;
  return { metres, label: metres >= 1000 ? `${metres / 1000} km` : metres >= 1 ? `${metres} m` : `${metres * 100} cm` };
}

function drawBar(
  context: CanvasRenderingContext2D,
  size: Size,
  { scale }: LaneNetwork,
  { low = 0 }: Ground,
  camera: Camera,
  ink: string,
): void {
  const metre = scale * camera.scale;
  const { metres, label } = barOf(metre);
  const corner = toPicture(camera, size, low, low);
  const left = Math.max(corner.x, 0) + BAR.aside;
  const y = Math.min(corner.y - BAR.low, size.height - BAR.clear);
  context.globalAlpha = 1;
  context.fillStyle = ink;
  context.fillRect(left, y, metres * metre, 2);
  context.font = `13px ${FONT}`;
  context.textBaseline = 'bottom';
  context.fillText(label, left + (metres * metre) / 2, y - 2);
}
