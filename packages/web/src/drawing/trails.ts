import type { Theme } from '@vole/core';
import { classColour, colourOf } from '@vole/core';
import type { Frame } from '../simulation/protocol.ts';
import type { Camera, Size } from './camera.ts';
import { toPicture } from './camera.ts';
import type { PickedAgent, Place, Scene } from './scene.ts';
import { spotOf } from './scene.ts';
import { liesOn } from './shown-space.ts';

/** Steps of a trail. */
const TRAIL = 200;
const RING = 14;

interface Sheet {
  readonly context: CanvasRenderingContext2D;
  readonly size: Size;
  readonly theme: Theme;
}

type Trailed = Frame['trailed'][number];

/** Where the opened agent, and those whose trails are asked for, have been while one looked. */
export class Trails {
  /** Places of an agent, the last at the end. */
  private readonly places = new Map<string, (Place & { readonly step: number })[]>();

  /** Draws the trails of those who are on the scene, and a ring round the opened one. */
  draw(sheet: Sheet, scene: Scene, camera: Camera): void {
    const { plan, frame, space } = scene;
    const isHere = ({ kind }: PickedAgent): boolean => liesOn(plan, plan.kinds[kind]!, space);
    const opened = frame.agent && !frame.agent.gone && isHere(frame.agent) ? frame.agent : undefined;
    const others = frame.trailed.filter(
      (other) => isHere(other) && (other.kind !== opened?.kind || other.number !== opened.number),
    );
    const drawn = new Set([...(opened ? [opened] : []), ...others].map(nameOf));
    for (const who of this.places.keys()) if (!drawn.has(who)) this.places.delete(who);
    others.forEach((other, i) => this.drawTrail(sheet, scene, camera, other, classColour(i, sheet.theme)));
    if (!opened) return;
    const ink = colourOf('ink', sheet.theme);
    this.drawTrail(sheet, scene, camera, opened, ink);
    const spot = spotOf(scene, opened);
    const at = toPicture(camera, sheet.size, spot.x, spot.y);
    const { context } = sheet;
    context.strokeStyle = ink;
    context.lineWidth = 1.5;
    context.beginPath();
    context.arc(at.x, at.y, RING, 0, 2 * Math.PI);
    context.stroke();
  }

  private drawTrail({ context, size }: Sheet, scene: Scene, camera: Camera, agent: Trailed, colour: string): void {
    const places = this.places.get(nameOf(agent)) ?? [];
    this.places.set(nameOf(agent), places);
    while (places.length > 0 && places[places.length - 1]!.step >= scene.frame.step) places.pop();
    places.push({ ...spotOf(scene, agent), step: scene.frame.step });
    if (places.length > TRAIL) places.shift();
    context.strokeStyle = colour;
    context.globalAlpha = 0.55;
    context.lineWidth = 1.4;
    context.beginPath();
    places.forEach((place, i) => {
      const at = toPicture(camera, size, place.x, place.y);
      const before = places[i - 1];
      // A way round the edge is not drawn across the space.
      const isFar =
        before !== undefined &&
        (Math.abs(place.x - before.x) > scene.ground.width / 2 ||
          Math.abs(place.y - before.y) > scene.ground.height / 2);
      if (i === 0 || isFar) context.moveTo(at.x, at.y);
      else context.lineTo(at.x, at.y);
    });
    context.stroke();
    context.globalAlpha = 1;
  }
}

function nameOf({ kind, number }: PickedAgent): string {
  return `${kind} ${number}`;
}
