import { colourOf, looksOf } from '@vole/core';
import type { Camera } from './camera.ts';
import { toPicture } from './camera.ts';
import type { Board } from './map-signs.ts';
import type { Scene } from './scene.ts';
import { liesOn } from './shown-space.ts';

/** Where lines run: a band along their way in the colour of their vehicles, and a ring at each stop. Agents are seen through it. */

const BAND = 6;
const RING = 4.5;

export function drawCourses(
  { context, size, theme }: Board,
  { plan, space, courses }: Scene,
  hidden: ReadonlySet<string>,
  camera: Camera,
): void {
  const looks = looksOf(plan, theme);
  const shown = courses.filter(({ line }) => {
    const part = plan.lines[line];
    return part && liesOn(plan, part, space) && !hidden.has(part.name);
  });
  context.save();
  context.lineJoin = 'round';
  context.lineCap = 'round';
  for (const { line, way } of shown) {
    context.strokeStyle = looks[plan.lines[line]!.kind]!.colours[0]!;
    context.lineWidth = BAND;
    context.globalAlpha = 0.45;
    context.beginPath();
    for (let i = 0; i < way.length; i += 2) {
      const at = toPicture(camera, size, way[i]!, way[i + 1]!);
      if (i === 0) context.moveTo(at.x, at.y);
      else context.lineTo(at.x, at.y);
    }
    context.stroke();
  }
  context.globalAlpha = 1;
  for (const { line, stops } of shown) {
    for (let i = 0; i < stops.length; i += 2) {
      const at = toPicture(camera, size, stops[i]!, stops[i + 1]!);
      for (const [colour, width] of [
        [colourOf('paper', theme), 5],
        [looks[plan.lines[line]!.kind]!.colours[0]!, 2],
      ] as const) {
        context.strokeStyle = colour;
        context.lineWidth = width;
        context.beginPath();
        context.arc(at.x, at.y, RING, 0, 2 * Math.PI);
        context.stroke();
      }
    }
  }
  context.restore();
}
