import type { LaneNetwork, Rgb, Theme } from '@vole/core';
import { colourOf, rgbOf } from '@vole/core';
import type { Camera, Size } from './camera.ts';
import { toPicture } from './camera.ts';
import type { Picture } from './raster.ts';

/** Lanes of a map as lines, its areas filled. Kinds of ways are told apart by width alone: colours belong to who goes on them. */

const WIDE = new Set('motorway trunk primary secondary tertiary main road street'.split(' '));
const NARROW = new Set('footway path steps track cycleway bridleway corridor pedestrian'.split(' '));
const WATER = new Set('water river stream canal basin reservoir wetland bay pond ferry'.split(' '));
const GREEN = new Set(
  'park garden green grass meadow wood forest scrub orchard village_green recreation_ground pitch common ground area'.split(
    ' ',
  ),
);

/** Widths in metres, and the least and most pixels a line has. */
const WIDTHS = { wide: 9, usual: 6, narrow: 3.5 } as const;
const LEAST_WIDTH = 0.8;
const MOST_WIDTH = 14;
/** Lanes drawn between two looks at the clock. */
const DRAWN_AT_ONCE = 20_000;

interface Inks {
  readonly lane: Rgb;
  readonly main: Rgb;
  readonly water: Rgb;
  readonly green: Rgb;
  readonly building: Rgb;
}

const INKS: Readonly<Record<Theme, Omit<Inks, 'water' | 'green'>>> = {
  paper: { lane: [221, 211, 189], main: [201, 188, 155], building: [233, 224, 207] },
  dusk: { lane: [78, 72, 74], main: [104, 95, 92], building: [52, 48, 51] },
};

function inksOf(theme: Theme): Inks {
  const calm = (name: string, share: number): Rgb => {
    const [from, to] = [rgbOf(colourOf('paper', theme)), rgbOf(colourOf(name, theme))];
    return [0, 1, 2].map((i) => Math.round(from[i]! + (to[i]! - from[i]!) * share)) as unknown as Rgb;
  };
  return { ...INKS[theme], water: calm('slate', 0.28), green: calm('moss', 0.24) };
}

/** Draws the areas and lanes of a map; yields now and then, so that others can have their turn. */
export function* drawLanes(picture: Picture, camera: Camera, lanes: LaneNetwork, theme: Theme): Generator<void, void> {
  const inks = inksOf(theme);
  for (const { kind, outline } of lanes.areas)
    fillOutline(
      picture,
      camera,
      outline,
      WATER.has(kind) ? inks.water : GREEN.has(kind) ? inks.green : inks.building,
      lanes,
    );
  const { x, y, from, to, kind } = lanes;
  const metre = camera.scale * lanes.scale;
  const styles = lanes.kinds.map((name) => {
    const width = WIDTHS[WIDE.has(name) ? 'wide' : NARROW.has(name) ? 'narrow' : 'usual'];
    return {
      half: Math.min(MOST_WIDTH, Math.max(LEAST_WIDTH, width * metre)) / 2,
      ink: WATER.has(name) ? inks.water : WIDE.has(name) ? inks.main : inks.lane,
    };
  });
  // Narrow ones first, so that the wide ones join over them.
  const order = lanes.kinds.map((_, k) => k).sort((a, b) => styles[a]!.half - styles[b]!.half);
  let drawn = 0;
  for (const k of order) {
    const { half, ink } = styles[k]!;
    for (let lane = 0; lane < from.length; lane++) {
      if (kind[lane] !== k) continue;
      const [a, b] = [from[lane]!, to[lane]!];
      const start = toPicture(camera, picture, x[a]!, y[a]!);
      const end = toPicture(camera, picture, x[b]!, y[b]!);
      strokeLine(picture, start.x, start.y, end.x, end.y, half, ink);
      if (++drawn % DRAWN_AT_ONCE === 0) yield;
    }
  }
}

/** A line with round ends, soft at its border, as far as it lies in the picture. @param half of its width */
export function strokeLine(
  { pixels, width, height }: Picture,
  ax: number,
  ay: number,
  bx: number,
  by: number,
  half: number,
  [r, g, b]: Rgb,
): void {
  const reach = half + 1;
  const top = Math.max(0, Math.floor(Math.min(ay, by) - reach));
  const bottom = Math.min(height - 1, Math.ceil(Math.max(ay, by) + reach));
  const left = Math.min(ax, bx) - reach;
  const right = Math.max(ax, bx) + reach;
  if (top > bottom || right < 0 || left > width) return;
  const dx = bx - ax;
  const dy = by - ay;
  const square = dx * dx + dy * dy;
  const length = Math.sqrt(square);
  // How far the line reaches to both sides of its middle in a row of pixels.
  const aside = dy === 0 ? Infinity : (reach * length) / Math.abs(dy) + Math.abs(dx / dy);
  for (let py = top; py <= bottom; py++) {
    const middle = dy === 0 ? ax : ax + ((py + 0.5 - ay) / dy) * dx;
    const first = Math.max(0, Math.floor(Math.max(left, middle - aside)));
    const last = Math.min(width - 1, Math.ceil(Math.min(right, middle + aside)));
    for (let px = first; px <= last; px++) {
      const qx = px + 0.5 - ax;
      const qy = py + 0.5 - ay;
      const t = square === 0 ? 0 : Math.min(1, Math.max(0, (qx * dx + qy * dy) / square));
      const ex = qx - t * dx;
      const ey = qy - t * dy;
      const cover = Math.min(1, half + 0.5 - Math.sqrt(ex * ex + ey * ey));
      if (cover <= 0) continue;
      const at = (py * width + px) * 4;
      pixels[at] = pixels[at]! + (r - pixels[at]!) * cover;
      pixels[at + 1] = pixels[at + 1]! + (g - pixels[at + 1]!) * cover;
      pixels[at + 2] = pixels[at + 2]! + (b - pixels[at + 2]!) * cover;
    }
  }
}

/** Fills a polygon row by row, as far as it lies in the space: a pixel is inside if an odd number of borders lie to its left. @param within size of the space */
export function fillOutline(
  picture: Picture,
  camera: Camera,
  outline: Float64Array,
  [r, g, b]: Rgb,
  within: Size,
): void {
  const { pixels } = picture;
  const low = toPicture(camera, picture, 0, 0);
  const high = toPicture(camera, picture, within.width, within.height);
  const [left, right] = [Math.max(0, Math.round(low.x)), Math.min(picture.width, Math.round(high.x))];
  const [above, below] = [Math.max(0, Math.round(high.y)), Math.min(picture.height, Math.round(low.y))];
  const corners = Array.from({ length: outline.length / 2 }, (_, i) =>
    toPicture(camera, picture, outline[2 * i]!, outline[2 * i + 1]!),
  );
  const top = Math.max(above, Math.floor(corners.reduce((least, { y }) => Math.min(least, y), Infinity)));
  const bottom = Math.min(below - 1, Math.ceil(corners.reduce((most, { y }) => Math.max(most, y), -Infinity)));
  for (let py = top; py <= bottom; py++) {
    const y = py + 0.5;
    const borders: number[] = [];
    corners.forEach((from, i) => {
      const to = corners[(i + 1) % corners.length]!;
      if (from.y > y !== to.y > y) borders.push(from.x + ((y - from.y) / (to.y - from.y)) * (to.x - from.x));
    });
    borders.sort((p, q) => p - q);
    for (let i = 0; i + 1 < borders.length; i += 2) {
      const last = Math.min(right - 1, Math.ceil(borders[i + 1]! - 0.5) - 1);
      for (let px = Math.max(left, Math.ceil(borders[i]! - 0.5)); px <= last; px++) {
        const at = (py * picture.width + px) * 4;
        pixels[at] = r;
        pixels[at + 1] = g;
        pixels[at + 2] = b;
      }
    }
  }
}

/** A picture of a map without anybody on it, as long as it is seen alike. */
interface Backdrop {
  readonly key: string;
  readonly pixels: Uint8ClampedArray;
}

const backdrops = new WeakMap<LaneNetwork, Backdrop>();

/** The same from a picture that was kept, where nothing else lies below it. */
export function* drawBackdrop(
  picture: Picture,
  camera: Camera,
  lanes: LaneNetwork,
  theme: Theme,
): Generator<void, void> {
  const key = [picture.width, picture.height, camera.centreX, camera.centreY, camera.scale, theme].join(' ');
  const known = backdrops.get(lanes);
  if (known?.key === key) {
    picture.pixels.set(known.pixels);
    return;
  }
  yield* drawLanes(picture, camera, lanes, theme);
  backdrops.set(lanes, { key, pixels: picture.pixels.slice() });
}
