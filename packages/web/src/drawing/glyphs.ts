import { hasHeading } from '@vole/core';

/** Shapes as masks of coverage, drawn once for each size and heading and then stamped. Up is heading 0. */

export interface Glyph {
  readonly size: number;
  /** Coverage 0 to 255, row by row, `size` by `size`. */
  readonly mask: Uint8Array;
}

type Inside = (x: number, y: number) => boolean;

/** Whether a point belongs to a shape; x to the right, y up, the shape within -1 to 1. */
const SHAPES: Record<string, Inside> = {
  // Two arcs that meet in two points: a leaf along its heading.
  leaf: (x, y) => {
    const bend = 0.42 * (1 - y * y) * (1 - 0.28 * y);
    return Math.abs(y) <= 1 && Math.abs(x) <= bend;
  },
  // Two long wings, their points swept back, and a body between them.
  wing: (x, y) => {
    const away = Math.abs(x);
    const middle = 0.42 - 0.62 * away ** 1.6;
    const isWing = away <= 1 && Math.abs(y - middle) <= 0.26 * (1 - away) ** 0.75 + 0.02;
    const isBody = (x / 0.15) ** 2 + ((y - 0.18) / 0.62) ** 2 <= 1;
    return isWing || isBody;
  },
  dot: (x, y) => x * x + y * y <= 0.5,
  ring: (x, y) => {
    const r = x * x + y * y;
    return r <= 0.72 && r >= 0.3;
  },
  drop: (x, y) => (y <= 0 ? x * x + (y + 0.25) * (y + 0.25) <= 0.36 : Math.abs(x) <= 0.54 * (1 - y)),
  diamond: (x, y) => Math.abs(x) / 0.7 + Math.abs(y) <= 1,
  square: (x, y) => Math.abs(x) <= 0.66 && Math.abs(y) <= 0.66,
  cross: (x, y) => (Math.abs(x) <= 0.22 && Math.abs(y) <= 0.8) || (Math.abs(y) <= 0.22 && Math.abs(x) <= 0.8),
};

const HEADINGS = 48;
const SAMPLES = 4;
const cache = new Map<string, Glyph>();

/** @param length length of the shape in pixels */
export function glyphOf(shape: string, length: number, heading: number): Glyph {
  const size = Math.max(3, Math.min(96, Math.round(length)));
  const turn = hasHeading(shape) ? Math.round((heading / 360) * HEADINGS) % HEADINGS : 0;
  const key = `${shape} ${size} ${turn}`;
  let glyph = cache.get(key);
  if (!glyph) cache.set(key, (glyph = drawGlyph(SHAPES[shape] ?? SHAPES.dot!, size, (turn / HEADINGS) * 2 * Math.PI)));
  return glyph;
}

function drawGlyph(inside: Inside, length: number, turn: number): Glyph {
  const size = length + 2;
  const mask = new Uint8Array(size * size);
  const [sin, cos] = [Math.sin(turn), Math.cos(turn)];
  const half = length / 2;
  for (let row = 0; row < size; row++) {
    for (let column = 0; column < size; column++) {
      let hits = 0;
      for (let s = 0; s < SAMPLES * SAMPLES; s++) {
        const px = (column + ((s % SAMPLES) + 0.5) / SAMPLES - size / 2) / half;
        const py = -(row + (Math.floor(s / SAMPLES) + 0.5) / SAMPLES - size / 2) / half;
        if (inside(px * cos - py * sin, px * sin + py * cos)) hits++;
      }
      mask[row * size + column] = Math.round((hits * 255) / (SAMPLES * SAMPLES));
    }
  }
  return { size, mask };
}
