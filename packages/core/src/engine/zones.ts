import { below } from './random/stream.ts';
import { drawUnit } from './random/laws.ts';
import type { Raster, Space } from '../forms/form.ts';
import { formOf } from '../forms/forms.ts';
import { cellAt, cellX, cellY, squareBetween } from '../forms/space.ts';

/** On a plane without cells of its own, zones are kept as so many cells along the longer side. */
const ZONE_CELLS = 256;

/** Cells of a space that belong to a zone, as a mask and as a list in order. */
export interface Mask {
  readonly raster: Raster;
  readonly inside: Uint8Array;
  readonly cells: Int32Array;
  /** The first and last of the columns and rows in which it has cells; the last before the first where it has none. */
  readonly extent: Readonly<Record<'left' | 'right' | 'bottom' | 'top', number>>;
}

export type ZoneShape =
  | { readonly is: 'box'; readonly from: readonly [number, number]; readonly to: readonly [number, number] }
  | { readonly is: 'circle'; readonly radius: number; readonly around: readonly [number, number] }
  | { readonly is: 'line'; readonly places: readonly (readonly [number, number])[] }
  | { readonly is: 'cells'; readonly places: readonly (readonly [number, number])[] }
  /** A polygon: x and y of its corners in turn. */
  | { readonly is: 'area'; readonly outline: Float64Array }
  | {
      readonly is: 'raster';
      readonly raster: { readonly columns: number; readonly rows: number; readonly values: readonly number[] };
    };

export function zoneRaster(space: Space, cell: number | undefined): Raster {
  return formOf(space).rasterOf(space, cell ?? Math.max(space.width, space.height) / ZONE_CELLS);
}

/** A box, circle or area holds the cells whose centre lies in it, a line those it touches. */
export function maskOf(shapes: readonly ZoneShape[], raster: Raster, space: Space): Mask {
  const inside = new Uint8Array(raster.columns * raster.rows);
  for (const shape of shapes) paint(inside, shape, raster, space);
  return listed(inside, raster);
}

function listed(inside: Uint8Array, raster: Raster): Mask {
  const cells: number[] = [];
  inside.forEach((is, cell) => {
    if (is) cells.push(cell);
  });
  const { columns } = raster;
  let [left, right] = [columns, -1];
  for (const cell of cells) {
    left = Math.min(left, cell % columns);
    right = Math.max(right, cell % columns);
  }
  const rowOf = (cell: number | undefined): number => (cell === undefined ? -1 : Math.floor(cell / columns));
  const extent = { left, right, bottom: cells.length > 0 ? rowOf(cells[0]) : raster.rows, top: rowOf(cells.at(-1)) };
  return { raster, inside, cells: Int32Array.from(cells), extent };
}

/** The cells in any of some masks, or with `inverted` in none. */
export function unionOf(masks: readonly Mask[], raster: Raster, inverted: boolean): Mask {
  const inside = new Uint8Array(raster.columns * raster.rows);
  for (let cell = 0; cell < inside.length; cell++)
    inside[cell] = masks.some((mask) => mask.inside[cell]) !== inverted ? 1 : 0;
  return listed(inside, raster);
}

/** The mask with the cells in circles around places added, or taken out: those whose centre lies in one, and the one at each place. */
export function repainted(
  mask: Mask,
  places: readonly (readonly [number, number])[],
  radius: number,
  add: boolean,
  space: Space,
): Mask {
  const inside = mask.inside.slice();
  for (const around of places) {
    fillHeld(inside, { is: 'circle', radius, around }, mask.raster, space, add ? 1 : 0);
    inside[cellAt(around[0], around[1], mask.raster, space)] = add ? 1 : 0;
  }
  return listed(inside, mask.raster);
}

function paint(inside: Uint8Array, shape: ZoneShape, raster: Raster, space: Space): void {
  if (shape.is === 'cells') {
    for (const [x, y] of shape.places) inside[cellAt(x, y, raster, space)] = 1;
    return;
  }
  if (shape.is === 'line') {
    shape.places.forEach((to, i) => {
      const from = shape.places[Math.max(0, i - 1)]!;
      walk(from[0], from[1], to[0], to[1], raster, space, (cell) => {
        inside[cell] = 1;
        return false;
      });
    });
    return;
  }
  if (shape.is === 'area') {
    fillArea(inside, shape.outline, raster, space);
    return;
  }
  fillHeld(inside, shape, raster, space, 1);
}

/** Shapes of which each cell can tell whether its centre lies in them. */
type HoldingShape = Exclude<ZoneShape, { is: 'line' } | { is: 'cells' } | { is: 'area' }>;

/** Gives a value to the cells that a shape holds. Rows that it does not come near are not looked at. */
function fillHeld(inside: Uint8Array, shape: HoldingShape, raster: Raster, space: Space, value: 0 | 1): void {
  for (let row = 0; row < raster.rows; row++) {
    const first = row * raster.columns;
    const y = cellY(first, raster, space);
    if (!isNearRow(shape, y, space)) continue;
    for (let cell = first; cell < first + raster.columns; cell++)
      if (holds(shape, cell, y, raster, space)) inside[cell] = value;
  }
}

/** Whether a row at a height can hold cells of a shape: how far away it lies is the least that any of its cells does. */
function isNearRow(shape: HoldingShape, y: number, space: Space): boolean {
  if (shape.is === 'raster') return true;
  if (shape.is === 'box') return y >= Math.min(shape.from[1], shape.to[1]) && y <= Math.max(shape.from[1], shape.to[1]);
  const way = formOf(space).wayY(shape.around[1], y, space);
  return way * way <= shape.radius * shape.radius;
}

/** Row by row from one border to the next: a place is inside if an odd number of borders lie to its left. An area without any centre takes the cells of its corners. */
function fillArea(inside: Uint8Array, outline: Float64Array, raster: Raster, space: Space): void {
  const corners = outline.length / 2;
  let isEmpty = true;
  for (let row = 0; row < raster.rows; row++) {
    const y = cellY(row * raster.columns, raster, space);
    const borders: number[] = [];
    for (let i = 0; i < corners; i++) {
      const j = (i + 1) % corners;
      const [ax, ay, bx, by] = [outline[2 * i]!, outline[2 * i + 1]!, outline[2 * j]!, outline[2 * j + 1]!];
      if (ay > y !== by > y) borders.push(ax + ((y - ay) / (by - ay)) * (bx - ax));
    }
    borders.sort((a, b) => a - b);
    for (let i = 0; i + 1 < borders.length; i += 2)
      for (let column = 0; column < raster.columns; column++) {
        const cell = row * raster.columns + column;
        const x = cellX(cell, raster, space);
        if (x < borders[i]! || x >= borders[i + 1]!) continue;
        inside[cell] = 1;
        isEmpty = false;
      }
  }
  if (isEmpty)
    for (let i = 0; i < corners; i++) inside[cellAt(outline[2 * i]!, outline[2 * i + 1]!, raster, space)] = 1;
}

function holds(shape: HoldingShape, cell: number, y: number, raster: Raster, space: Space): boolean {
  const x = cellX(cell, raster, space);
  if (shape.is === 'circle')
    return squareBetween(shape.around[0], shape.around[1], x, y, space) <= shape.radius * shape.radius;
  if (shape.is === 'box') {
    const [ax, bx] = [shape.from[0], shape.to[0]];
    return x >= Math.min(ax, bx) && x <= Math.max(ax, bx);
  }
  const { columns, rows, values } = shape.raster;
  const column = Math.min(columns - 1, Math.floor(((cell % raster.columns) + 0.5) * (columns / raster.columns)));
  const row = Math.min(rows - 1, Math.floor((Math.floor(cell / raster.columns) + 0.5) * (rows / raster.rows)));
  return values[row * columns + column] !== 0;
}

export function isInMask(mask: Mask, x: number, y: number, space: Space): boolean {
  return x === x && mask.inside[cellAt(x, y, mask.raster, space)] === 1;
}

/** A place in a mask from three words: on a grid a cell, on a plane anywhere in its cells. Not a number if it is empty. */
export function drawInMask(mask: Mask, axis: 'x' | 'y', a: number, b: number, c: number, space: Space): number {
  const { raster, cells } = mask;
  if (cells.length === 0) return NaN;
  const cell = cells[below(a, cells.length)]!;
  const form = formOf(space);
  return axis === 'x'
    ? form.within(cell % raster.columns, () => drawUnit(b, c), space.width, raster.cell)
    : form.within(Math.floor(cell / raster.columns), () => drawUnit(c, b), space.height, raster.cell);
}

/**
 * How much of a way from one place to another can be gone before it meets the mask: from 0 to 1. The cell one stands in does not hinder.
 * Goes from cell to cell along the line. Source: J. Amanatides and A. Woo, A fast voxel traversal algorithm for ray tracing (1987).
 */
function freeShare(mask: Mask, x: number, y: number, toX: number, toY: number, space: Space): number {
  return walk(x, y, toX, toY, mask.raster, space, (cell) => mask.inside[cell] === 1);
}

/** Visits the cells of a line, the first one too; stops at the first for which `stops` says so, which the first cell cannot, and gives the share gone. */
function walk(
  x: number,
  y: number,
  toX: number,
  toY: number,
  raster: Raster,
  space: Space,
  stops: (cell: number) => boolean,
): number {
  const { margin } = formOf(space);
  const ax = (x + margin) / raster.cell;
  const ay = (y + margin) / raster.cell;
  const dx = (toX + margin) / raster.cell - ax;
  const dy = (toY + margin) / raster.cell - ay;
  let column = Math.floor(ax);
  let row = Math.floor(ay);
  const stepX = dx > 0 ? 1 : -1;
  const stepY = dy > 0 ? 1 : -1;
  let nextX = dx === 0 ? Infinity : (column + (dx > 0 ? 1 : 0) - ax) / dx;
  let nextY = dy === 0 ? Infinity : (row + (dy > 0 ? 1 : 0) - ay) / dy;
  const perX = dx === 0 ? Infinity : stepX / dx;
  const perY = dy === 0 ? Infinity : stepY / dy;
  stops(cellOf(column, row, raster, space));
  for (;;) {
    const at = nextX < nextY ? nextX : nextY;
    if (!(at <= 1)) return 1;
    if (nextX < nextY) {
      column += stepX;
      nextX += perX;
    } else {
      row += stepY;
      nextY += perY;
    }
    if (stops(cellOf(column, row, raster, space))) return at;
  }
}

function cellOf(column: number, row: number, { columns, rows }: Raster, space: Space): number {
  return onAxis(row, rows, space) * columns + onAxis(column, columns, space);
}

function onAxis(index: number, count: number, { edge }: Space): number {
  if (index >= 0 && index < count) return index;
  if (edge === 'wrapping') return index - count * Math.floor(index / count);
  if (edge === 'walled') return index < 0 ? 0 : count - 1;
  const twice = index - 2 * count * Math.floor(index / (2 * count));
  return twice >= count ? 2 * count - 1 - twice : twice;
}

/** How much of a way is gone before an obstacle, ending a little before it. */
export function shareBefore(mask: Mask, x: number, y: number, toX: number, toY: number, space: Space): number {
  const share = freeShare(mask, x, y, toX, toY, space);
  if (share >= 1) return 1;
  const length = Math.sqrt((toX - x) * (toX - x) + (toY - y) * (toY - y));
  const back = share - (1e-6 * mask.raster.cell) / length;
  return back > 0 ? back : 0;
}

/** Rectangles of cells (first column and row, last column and row) that cover a mask exactly, each cell once: rows from below, as wide and then as high as they go. */
export function rectanglesOf(
  inside: ArrayLike<number>,
  columns: number,
  rows: number,
): (readonly [number, number, number, number])[] {
  const left = Uint8Array.from(inside);
  const found: (readonly [number, number, number, number])[] = [];
  const isFull = (row: number, from: number, to: number): boolean => {
    for (let column = from; column <= to; column++) if (!left[row * columns + column]) return false;
    return true;
  };
  for (let row = 0; row < rows; row++) {
    for (let column = 0; column < columns; column++) {
      if (!left[row * columns + column]) continue;
      let to = column;
      while (to + 1 < columns && left[row * columns + to + 1]) to++;
      let top = row;
      while (top + 1 < rows && isFull(top + 1, column, to)) top++;
      for (let r = row; r <= top; r++) left.fill(0, r * columns + column, r * columns + to + 1);
      found.push([column, row, to, top]);
    }
  }
  return found;
}
