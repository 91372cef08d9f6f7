import { colourOf } from '@vole/core';
import type { Camera } from './camera.ts';
import { toPicture } from './camera.ts';
import type { Board } from './map-signs.ts';
import type { Scene } from './scene.ts';
import { liesOn } from './shown-space.ts';

/** How many ride in each vehicle, written beside it. */

const FONT = '600 13px "Source Sans 3 Variable", "Source Sans 3", sans-serif';
/** Vehicles at most that bear a number: more of them could not be read. */
const MOST_NUMBERED = 200;
const ASIDE = 7;

export function drawRiders(
  { context, size, theme }: Board,
  scene: Scene,
  hidden: ReadonlySet<string>,
  camera: Camera,
): void {
  context.save();
  context.font = FONT;
  context.textBaseline = 'middle';
  context.lineJoin = 'round';
  context.lineWidth = 3;
  context.strokeStyle = colourOf('paper', theme);
  context.fillStyle = colourOf('ink', theme);
  scene.frame.kinds.forEach(({ riders, count, x, y }, k) => {
    const kind = scene.plan.kinds[k]!;
    if (riders.length === 0 || hidden.has(kind.name) || !liesOn(scene.plan, kind, scene.space)) return;
    for (let i = 0, written = 0; i < count && written < MOST_NUMBERED; i++) {
      const at = toPicture(camera, size, x[i]!, y[i]!);
      if (!(at.x > 0 && at.y > 0 && at.x < size.width && at.y < size.height)) continue;
      const text = String(riders[i]!);
      context.strokeText(text, at.x + ASIDE, at.y - ASIDE);
      context.fillText(text, at.x + ASIDE, at.y - ASIDE);
      written++;
    }
  });
  context.restore();
}
