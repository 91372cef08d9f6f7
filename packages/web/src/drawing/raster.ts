import type { FieldFrame, KindFrame, ZoneFrame } from '../simulation/protocol.ts';
import type { Camera, Size } from './camera.ts';
import { toPicture } from './camera.ts';
import { glyphOf } from './glyphs.ts';
import { hexColumn, hexLine, isInLow } from './hexagons.ts';
import type { KindLook, Rgb } from '@vole/core';

/**
 * A software rasteriser that writes into one block of pixels. Without a graphics processor it is faster than drawing shapes one by one
 * (measured in docs/architecture.md), and it draws the same everywhere.
 */
export interface Picture extends Size {
  /** Red, green, blue, alpha, row by row. */
  readonly pixels: Uint8ClampedArray;
}

/** Below this length agents are single dots of two pixels. */
const POINT_LENGTH = 3.2;
/** Size of agents whose show gives none. */
const PLAIN_SIZE = 1.6;
/** Fewer points than this are two pixels wide. */
const MOST_DOUBLE = 200_000;

export function clear({ pixels }: Picture, [r, g, b]: Rgb): void {
  const colour = (255 << 24) | (b << 16) | (g << 8) | r;
  new Uint32Array(pixels.buffer, pixels.byteOffset, pixels.length / 4).fill(colour);
}

/** How a field lies on its space, for drawing. */
export interface FieldForm {
  /** Grids have their cells centred on whole numbers. */
  readonly isGrid: boolean;
  /** Drawn cell by cell rather than softly between the middles of cells. */
  readonly asCells: boolean;
  /** Whether what lies beyond an edge is what lies at the opposite one. */
  readonly wraps: boolean;
  /** Whether the cells of the grid are hexagons. */
  readonly isHexagonal?: boolean;
}

/** Draws a field, softly or cell by cell. */
export function drawField(
  picture: Picture,
  camera: Camera,
  space: Size,
  field: FieldFrame,
  colours: readonly Rgb[],
  form: FieldForm,
): void {
  if (form.isHexagonal) {
    const packed = packedOf(colours);
    const words = new Uint32Array(picture.pixels.buffer, picture.pixels.byteOffset, picture.pixels.length / 4);
    eachHexagonPixel(picture, camera, field, (pixel, cell) => (words[pixel] = packed[field.levels[cell]!]!));
    return;
  }
  // Cells smaller than a pixel have nothing between them.
  if (form.asCells || (camera.scale * space.width) / field.columns < 1)
    drawCells(picture, camera, space, field, colours, form.isGrid);
  else drawSoftly(picture, camera, space, field, colours, form.wraps);
}

/** Goes through the pixels that lie in a hexagon of a grid, with the number of its cell. */
function eachHexagonPixel(
  { width, height }: Size,
  camera: Camera,
  { columns, rows }: { readonly columns: number; readonly rows: number },
  visit: (pixel: number, cell: number) => void,
): void {
  for (let py = 0; py < height; py++) {
    const line = hexLine(camera.centreY - (py + 0.5 - height / 2) / camera.scale);
    for (let px = 0; px < width; px++) {
      const x = camera.centreX + (px + 0.5 - width / 2) / camera.scale;
      const isLow = isInLow(x, line);
      const column = hexColumn(x, isLow ? line.lowShift : line.highShift);
      const row = isLow ? line.row : line.row + 1;
      if (column >= 0 && column < columns && row >= 0 && row < rows) visit(py * width + px, row * columns + column);
    }
  }
}

/** Levels between the middles of four cells, in proportion to how near they are. */
function drawSoftly(
  picture: Picture,
  camera: Camera,
  space: Size,
  { columns, rows, levels }: FieldFrame,
  colours: readonly Rgb[],
  wraps: boolean,
): void {
  const { width, height, pixels } = picture;
  const words = new Uint32Array(pixels.buffer, pixels.byteOffset, pixels.length / 4);
  const packed = packedOf(colours);
  const along = softPlaces(
    width,
    (px) => ((camera.centreX + (px + 0.5 - width / 2) / camera.scale) / space.width) * columns,
    columns,
    wraps,
  );
  const down = softPlaces(
    height,
    (py) => ((camera.centreY - (py + 0.5 - height / 2) / camera.scale) / space.height) * rows,
    rows,
    wraps,
  );
  for (let py = 0; py < height; py++) {
    const lowRow = down.low[py]!;
    if (lowRow < 0) continue;
    const a = lowRow * columns;
    const b = down.high[py]! * columns;
    const v = down.share[py]!;
    const line = py * width;
    for (let px = 0; px < width; px++) {
      const low = along.low[px]!;
      if (low < 0) continue;
      const high = along.high[px]!;
      const u = along.share[px]!;
      const below = levels[a + low]! + (levels[a + high]! - levels[a + low]!) * u;
      const above = levels[b + low]! + (levels[b + high]! - levels[b + low]!) * u;
      words[line + px] = packed[(below + (above - below) * v + 0.5) | 0]!;
    }
  }
}

interface SoftPlaces {
  /** The two cells between whose middles a pixel lies, and how far it is on the way; -1 outside. */
  readonly low: Int32Array;
  readonly high: Int32Array;
  readonly share: Float32Array;
}

function softPlaces(pixels: number, cellAt: (pixel: number) => number, count: number, wraps: boolean): SoftPlaces {
  const places = {
    low: new Int32Array(pixels).fill(-1),
    high: new Int32Array(pixels),
    share: new Float32Array(pixels),
  };
  const onAxis = (cell: number): number => (wraps ? (cell + count) % count : Math.max(0, Math.min(count - 1, cell)));
  for (let p = 0; p < pixels; p++) {
    const at = cellAt(p);
    if (at < 0 || at >= count) continue;
    const low = Math.floor(at - 0.5);
    places.low[p] = onAxis(low);
    places.high[p] = onAxis(low + 1);
    places.share[p] = at - 0.5 - low;
  }
  return places;
}

function packedOf(colours: readonly Rgb[]): Uint32Array {
  return Uint32Array.from(colours, ([r, g, b]) => ((255 << 24) | (b << 16) | (g << 8) | r) >>> 0);
}
function drawCells(
  picture: Picture,
  camera: Camera,
  space: Size,
  field: FieldFrame,
  colours: readonly Rgb[],
  isGrid: boolean,
): void {
  const { width, height, pixels } = picture;
  const words = new Uint32Array(pixels.buffer, pixels.byteOffset, pixels.length / 4);
  const packed = packedOf(colours);
  const cellWidth = isGrid ? 1 : space.width / field.columns;
  const cellHeight = isGrid ? 1 : space.height / field.rows;
  const shift = isGrid ? 0.5 : 0;
  const columnOf = new Int32Array(width);
  for (let px = 0; px < width; px++) {
    const column = Math.floor((camera.centreX + (px + 0.5 - width / 2) / camera.scale + shift) / cellWidth);
    columnOf[px] = column >= 0 && column < field.columns ? column : -1;
  }
  for (let py = 0; py < height; py++) {
    const row = Math.floor((camera.centreY - (py + 0.5 - height / 2) / camera.scale + shift) / cellHeight);
    if (row < 0 || row >= field.rows) continue;
    const start = row * field.columns;
    const line = py * width;
    for (let px = 0; px < width; px++) {
      const column = columnOf[px]!;
      if (column >= 0) words[line + px] = packed[field.levels[start + column]!]!;
    }
  }
}

/** Draws the cells of a zone over what is there: obstacles solid, other zones as a slanted hatching. */
export function drawZone(
  picture: Picture,
  camera: Camera,
  zone: ZoneFrame,
  [r, g, b]: Rgb,
  isObstacle: boolean,
  { isGrid, isHexagonal }: Pick<FieldForm, 'isGrid' | 'isHexagonal'>,
): void {
  const { width, height, pixels } = picture;
  const tint = (px: number, py: number): void => {
    const cover = isObstacle ? 0.82 : (px + py) % 9 < 2 ? 0.38 : 0.07;
    const at = (py * width + px) * 4;
    pixels[at] = pixels[at]! + (r - pixels[at]!) * cover;
    pixels[at + 1] = pixels[at + 1]! + (g - pixels[at + 1]!) * cover;
    pixels[at + 2] = pixels[at + 2]! + (b - pixels[at + 2]!) * cover;
  };
  if (isHexagonal) {
    eachHexagonPixel(picture, camera, zone, (pixel, cell) => {
      if (zone.inside[cell]) tint(pixel % width, Math.floor(pixel / width));
    });
    return;
  }
  const shift = isGrid ? 0.5 : 0;
  for (let py = 0; py < height; py++) {
    const row = Math.floor((camera.centreY - (py + 0.5 - height / 2) / camera.scale + shift) / zone.cell);
    if (row < 0 || row >= zone.rows) continue;
    for (let px = 0; px < width; px++) {
      const column = Math.floor((camera.centreX + (px + 0.5 - width / 2) / camera.scale + shift) / zone.cell);
      if (column >= 0 && column < zone.columns && zone.inside[row * zone.columns + column]) tint(px, py);
    }
  }
}

/** Ink of all ties of a network together, as a share of the picture: a dense network is a tone on the ground, in which agents are still seen. */
const MOST_INK = 0.45;
/** The faintest line that is drawn; where lines would be fainter, only every so manyth is drawn. */
const FAINTEST = 0.04;

/**
 * Draws ties as thin lines that let through what is under them, so that many in one place look denser than few.
 *
 * @param ends places of both ends, four numbers a tie
 * @param wraps size of a wrapping space, in which a tie goes the short way
 */
export function drawTies(
  picture: Picture,
  camera: Camera,
  ends: Float32Array,
  wraps: Size | undefined,
  colour: Rgb,
): void {
  const across = (i: number): { dx: number; dy: number } => {
    const dx = ends[i + 2]! - ends[i]!;
    const dy = ends[i + 3]! - ends[i + 1]!;
    return wraps
      ? { dx: dx - wraps.width * Math.round(dx / wraps.width), dy: dy - wraps.height * Math.round(dy / wraps.height) }
      : { dx, dy };
  };
  let length = 1;
  for (let i = 0; i < ends.length; i += 4) {
    const { dx, dy } = across(i);
    const pixels = Math.max(Math.abs(dx), Math.abs(dy)) * camera.scale;
    if (pixels === pixels) length += Math.min(pixels, picture.width);
  }
  const fair = Math.min(0.55, 40 / Math.sqrt(ends.length + 1), (MOST_INK * picture.width * picture.height) / length);
  const apart = fair < FAINTEST ? Math.ceil(FAINTEST / fair) : 1;
  for (let i = 0; i < ends.length; i += 4 * apart) {
    const { dx, dy } = across(i);
    const from = toPicture(camera, picture, ends[i]!, ends[i + 1]!);
    drawLine(
      picture,
      from.x,
      from.y,
      from.x + dx * camera.scale,
      from.y - dy * camera.scale,
      colour,
      Math.max(fair, FAINTEST),
    );
  }
}

/** A line a pixel wide, as far as it lies in the picture. */
function drawLine(
  { pixels, width, height }: Picture,
  ax: number,
  ay: number,
  bx: number,
  by: number,
  [r, g, b]: Rgb,
  cover: number,
): void {
  const length = Math.max(Math.abs(bx - ax), Math.abs(by - ay), 1);
  if (!(length < 20 * (width + height))) return;
  const stepX = (bx - ax) / length;
  const stepY = (by - ay) / length;
  for (let i = 0; i <= length; i++) {
    const px = Math.round(ax + stepX * i);
    const py = Math.round(ay + stepY * i);
    if (px < 0 || py < 0 || px >= width || py >= height) continue;
    const at = (py * width + px) * 4;
    pixels[at] = pixels[at]! + (r - pixels[at]!) * cover;
    pixels[at + 1] = pixels[at + 1]! + (g - pixels[at + 1]!) * cover;
    pixels[at + 2] = pixels[at + 2]! + (b - pixels[at + 2]!) * cover;
  }
}

/** An agent is not drawn longer than so many times the mean way to its neighbours, so that a crowd is seen as points and not as a blot. */
const LENGTHS_APART = 1.8;

/**
 * Length in pixels of an agent of size 1; grows slower than the zoom, so that a close view shows room between agents.
 * @param apart mean way between agents in units of length
 */
export function unitLength(camera: Camera, fitScale: number, picture: Size, apart = Infinity): number {
  const base = Math.max(3, Math.min(picture.width, picture.height) / 90);
  return Math.min(base * Math.sqrt(camera.scale / fitScale), apart * camera.scale * LENGTHS_APART);
}

export interface AgentLook {
  readonly look: KindLook;
  readonly colours: readonly Rgb[];
  /** Colours of a continuous scale, with its range. */
  readonly scale?: { readonly colours: readonly Rgb[]; readonly low: number; readonly high: number };
}

/** Draws the agents of a kind, or those from one place of the frame to another. */
export function drawAgents(
  picture: Picture,
  camera: Camera,
  frame: KindFrame,
  { look, colours, scale }: AgentLook,
  unit: number,
  from = 0,
  to = frame.count,
): void {
  if (frame.sizes.length === 0 && unit * PLAIN_SIZE < POINT_LENGTH) {
    drawPoints(picture, camera, frame, { colours, scale }, from, to);
    return;
  }
  const { width, height } = picture;
  const span = scale && scale.high > scale.low ? 255 / (scale.high - scale.low) : 0;
  for (let i = from; i < to; i++) {
    const length = unit * (frame.sizes.length ? Math.max(0, Math.min(frame.sizes[i]!, 60)) : PLAIN_SIZE);
    const at = toPicture(camera, picture, frame.x[i]!, frame.y[i]!);
    if (at.x < -length || at.y < -length || at.x > width + length || at.y > height + length) continue;
    const colour = scale
      ? scale.colours[Math.max(0, Math.min(255, Math.round((frame.colours[i]! - scale.low) * span)))]!
      : colours[frame.colours.length ? frame.colours[i]! : 0]!;
    if (length < POINT_LENGTH) drawPoint(picture, at.x, at.y, colour);
    else {
      // What flies throws a shadow on the ground below it.
      if (look.shape === 'wing') shade(picture, at.x + length * 0.16, at.y + length * 0.26, length);
      stamp(picture, at.x, at.y, look.shape, length, frame.direction[i] ?? 0, colour);
    }
  }
}

/** A soft dark spot. */
function shade({ pixels, width, height }: Picture, x: number, y: number, length: number): void {
  const [rx, ry] = [length * 0.36, length * 0.2];
  for (let py = Math.max(0, Math.floor(y - ry)); py <= Math.min(height - 1, y + ry); py++) {
    for (let px = Math.max(0, Math.floor(x - rx)); px <= Math.min(width - 1, x + rx); px++) {
      const away = ((px - x) / rx) ** 2 + ((py - y) / ry) ** 2;
      if (away >= 1) continue;
      const rest = 1 - 0.2 * (1 - away);
      const at = (py * width + px) * 4;
      pixels[at] = pixels[at]! * rest;
      pixels[at + 1] = pixels[at + 1]! * rest;
      pixels[at + 2] = pixels[at + 2]! * rest;
    }
  }
}

/** Very many agents, each as a single dot, without making anything on the way. */
function drawPoints(
  { pixels, width, height }: Picture,
  camera: Camera,
  frame: KindFrame,
  { colours, scale }: Pick<AgentLook, 'colours' | 'scale'>,
  from: number,
  to: number,
): void {
  const words = new Uint32Array(pixels.buffer, pixels.byteOffset, pixels.length / 4);
  const packed = packedOf(scale ? scale.colours : colours);
  const span = scale && scale.high > scale.low ? 255 / (scale.high - scale.low) : 0;
  const left = width / 2 - camera.centreX * camera.scale;
  const top = height / 2 + camera.centreY * camera.scale;
  const isDouble = frame.count < MOST_DOUBLE;
  for (let i = from; i < to; i++) {
    const px = Math.round(left + frame.x[i]! * camera.scale);
    const py = Math.round(top - frame.y[i]! * camera.scale);
    if (!(px >= 0 && py >= 0 && px < width && py < height)) continue;
    const colour =
      packed[
        scale
          ? Math.max(0, Math.min(255, Math.round((frame.colours[i]! - scale.low) * span)))
          : frame.colours.length
            ? frame.colours[i]!
            : 0
      ]!;
    words[py * width + px] = colour;
    if (!isDouble) continue;
    if (px > 0) words[py * width + px - 1] = colour;
    if (py > 0) words[(py - 1) * width + px] = colour;
    if (px > 0 && py > 0) words[(py - 1) * width + px - 1] = colour;
  }
}

function drawPoint({ pixels, width, height }: Picture, x: number, y: number, [r, g, b]: Rgb): void {
  const left = Math.round(x) - 1;
  const top = Math.round(y) - 1;
  for (let py = Math.max(0, top); py < Math.min(height, top + 2); py++) {
    for (let px = Math.max(0, left); px < Math.min(width, left + 2); px++) {
      const at = (py * width + px) * 4;
      pixels[at] = r;
      pixels[at + 1] = g;
      pixels[at + 2] = b;
    }
  }
}

function stamp(
  { pixels, width, height }: Picture,
  x: number,
  y: number,
  shape: string,
  length: number,
  heading: number,
  [r, g, b]: Rgb,
): void {
  const { size, mask } = glyphOf(shape, length, heading);
  const left = Math.round(x - size / 2);
  const top = Math.round(y - size / 2);
  const fromRow = Math.max(0, -top);
  const toRow = Math.min(size, height - top);
  const fromColumn = Math.max(0, -left);
  const toColumn = Math.min(size, width - left);
  for (let row = fromRow; row < toRow; row++) {
    let at = ((top + row) * width + left + fromColumn) * 4;
    for (let column = fromColumn; column < toColumn; column++, at += 4) {
      const cover = mask[row * size + column]!;
      if (cover === 0) continue;
      const rest = 255 - cover;
      pixels[at] = (r * cover + pixels[at]! * rest) / 255;
      pixels[at + 1] = (g * cover + pixels[at + 1]! * rest) / 255;
      pixels[at + 2] = (b * cover + pixels[at + 2]! * rest) / 255;
    }
  }
}

/** The agent nearest to a point of the picture, within a reach in pixels. */
export function pickAgent(
  kinds: readonly (KindFrame | undefined)[],
  camera: Camera,
  picture: Size,
  x: number,
  y: number,
  reach: number,
): { kind: number; number: number } | undefined {
  let best: { kind: number; number: number } | undefined;
  let bestDistance = reach * reach;
  kinds.forEach((frame, kind) => {
    for (let i = 0; frame && i < frame.count; i++) {
      const at = toPicture(camera, picture, frame.x[i]!, frame.y[i]!);
      const distance = (at.x - x) ** 2 + (at.y - y) ** 2;
      if (distance >= bestDistance) continue;
      bestDistance = distance;
      best = { kind, number: frame.numbers[i]! };
    }
  });
  return best;
}
