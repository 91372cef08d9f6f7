import { bearingDegrees, cosDegrees, heading, sinDegrees } from './math.ts';

/** A plane, or a grid whose cells stand at whole numbers; x to the right, y up, (0, 0) the lower left corner or cell. */
export interface Space {
  readonly form: 'plane' | 'grid';
  readonly edge: 'wrapping' | 'walled' | 'reflecting';
  readonly neighbours: 4 | 6 | 8;
  readonly oneAgentACell: boolean;
  readonly width: number;
  readonly height: number;
}

/** A position brought back onto a ring of a size: from 0 to below it. */
export function wrap(v: number, size: number): number {
  if (v >= 0 && v < size) return v;
  const w = v - size * Math.floor(v / size);
  return w >= size ? 0 : w;
}

export function stopAtWall(v: number, size: number): number {
  return v < 0 ? 0 : v > size ? size : v;
}

/** A way that is thrown back at the walls 0 and `size`, as often as needed. */
export function reflect(v: number, size: number): number {
  if (v >= 0 && v <= size) return v;
  const w = wrap(v, 2 * size);
  return w > size ? 2 * size - w : w;
}

/** Whether a reflected way ends going backwards along its axis. */
function isTurnedBack(v: number, size: number): boolean {
  return Math.floor(v / size) % 2 !== 0 && !(v === size);
}

/** The cell, on one axis, nearest to a position on a grid. */
export function gridCell(v: number, size: number, edge: Space['edge']): number {
  const cell = Math.floor(v + 0.5);
  if (cell >= 0 && cell < size) return cell;
  if (edge === 'wrapping') return cell - size * Math.floor(cell / size);
  if (edge === 'walled') return cell < 0 ? 0 : size - 1;
  const twice = cell - 2 * size * Math.floor(cell / (2 * size));
  return twice >= size ? 2 * size - 1 - twice : twice;
}

export function placeOnAxis(v: number, size: number, space: Space): number {
  if (space.form === 'grid') return gridCell(v, size, space.edge);
  if (space.edge === 'wrapping') return wrap(v, size);
  return space.edge === 'walled' ? stopAtWall(v, size) : reflect(v, size);
}

/** The direction after a way from a place that may have been thrown back at walls. */
export function directionAfter(direction: number, x: number, y: number, space: Space): number {
  if (space.edge !== 'reflecting') return direction;
  const shift = space.form === 'grid' ? 0.5 : 0;
  const backX = isTurnedBack(x + shift, space.width);
  const backY = isTurnedBack(y + shift, space.height);
  const mirrored = backX ? 360 - direction : direction;
  return heading(backY ? 180 - mirrored : mirrored);
}

/** The shorter way along an axis from a to b, signed. */
export function wayAlong(a: number, b: number, size: number, wraps: boolean): number {
  const d = b - a;
  if (!wraps) return d;
  return d > size / 2 ? d - size : d < -size / 2 ? d + size : d;
}

/** Rows of hexagons lie closer than columns: the height of a triangle of side 1. */
const HEX_ROW = 0.8660254037844386;

/** On a grid of hexagons odd rows are shifted half a cell to the right, and all neighbouring centres are 1 apart. */
function hexX(column: number, row: number): number {
  return column + (row - 2 * Math.floor(row / 2)) * 0.5;
}

function wayX(ax: number, ay: number, bx: number, by: number, space: Space): number {
  const wraps = space.edge === 'wrapping';
  return space.neighbours === 6
    ? wayAlong(hexX(ax, ay), hexX(bx, by), space.width, wraps)
    : wayAlong(ax, bx, space.width, wraps);
}

function wayY(ay: number, by: number, space: Space): number {
  const way = wayAlong(ay, by, space.height, space.edge === 'wrapping');
  return space.neighbours === 6 ? way * HEX_ROW : way;
}

export function squareBetween(ax: number, ay: number, bx: number, by: number, space: Space): number {
  const dx = wayX(ax, ay, bx, by, space);
  const dy = wayY(ay, by, space);
  return dx * dx + dy * dy;
}

export function distanceBetween(ax: number, ay: number, bx: number, by: number, space: Space): number {
  return Math.sqrt(squareBetween(ax, ay, bx, by, space));
}

export function bearingBetween(ax: number, ay: number, bx: number, by: number, space: Space): number {
  return bearingDegrees(wayX(ax, ay, bx, by, space), wayY(ay, by, space));
}

/** The column, or with `axis` y the row, that lies a distance away in a direction, on a grid of hexagons. */
export function hexAlong(axis: 'x' | 'y', x: number, y: number, distance: number, direction: number): number {
  const row = y + (distance * cosDegrees(direction)) / HEX_ROW;
  if (axis === 'y') return row;
  const nearest = Math.floor(row + 0.5);
  return hexX(x, y) + distance * sinDegrees(direction) - (nearest - 2 * Math.floor(nearest / 2)) * 0.5;
}

export type SpaceForm = 'within' | 'square' | 'cross' | 'next to' | 'here';

/** Whether a place lies in a reach around another. Squares and crosses reach so many cells to each side. */
export function isInReach(
  is: SpaceForm,
  distance: number,
  ax: number,
  ay: number,
  bx: number,
  by: number,
  space: Space,
): boolean {
  if (is === 'here') return ax === bx && ay === by;
  if (is === 'within') return distance >= 0 && squareBetween(ax, ay, bx, by, space) <= distance * distance;
  if (is === 'next to' && space.neighbours === 6) {
    const square = squareBetween(ax, ay, bx, by, space);
    return square > 0.5 && square < 1.5;
  }
  const wraps = space.edge === 'wrapping';
  const dx = Math.abs(wayAlong(ax, bx, space.width, wraps));
  const dy = Math.abs(wayAlong(ay, by, space.height, wraps));
  if (is === 'next to') return space.neighbours === 4 ? dx + dy === 1 : (dx > dy ? dx : dy) === 1;
  if (is === 'cross' && dx !== 0 && dy !== 0) return false;
  return dx <= distance && dy <= distance;
}

/** Cells that cover a space, row by row from below; on a plane the last column and row may be narrower. */
export interface Raster {
  readonly columns: number;
  readonly rows: number;
  /** Side of a cell. */
  readonly cell: number;
}

/** Values over the cells of a space, row by row from below; on a plane the last column and row may be narrower. */
export interface FieldGrid extends Raster {
  readonly values: Float64Array;
}

export const MAX_FIELD_CELLS = 16_000_000;

export function fieldShape(space: Space, cell: number): { columns: number; rows: number } {
  if (space.form === 'grid') return { columns: space.width, rows: space.height };
  return {
    columns: Math.max(1, Math.ceil(space.width / cell - 1e-9)),
    rows: Math.max(1, Math.ceil(space.height / cell - 1e-9)),
  };
}

/** The index of the cell at a place; places outside are brought in by the rule of the edge. -1 for nowhere. */
export function cellAt(x: number, y: number, grid: Raster, space: Space): number {
  if (x !== x || y !== y) return -1;
  const column = Math.floor(placeOnAxis(x, space.width, space) / grid.cell);
  const row = Math.floor(placeOnAxis(y, space.height, space) / grid.cell);
  return (row < grid.rows ? row : grid.rows - 1) * grid.columns + (column < grid.columns ? column : grid.columns - 1);
}

/** The centre of a cell: on a grid its column, on a plane the middle of the square. */
export function cellX(cell: number, raster: Raster, space: Space): number {
  return centreOf(cell % raster.columns, space.width, raster, space);
}

export function cellY(cell: number, raster: Raster, space: Space): number {
  return centreOf(Math.floor(cell / raster.columns), space.height, raster, space);
}

/** A cell that the end of the space cuts has its centre in the middle of what is left of it. */
function centreOf(index: number, end: number, { cell }: Raster, { form }: Space): number {
  if (form === 'grid') return index * cell;
  return (index + 1) * cell > end ? (index * cell + end) / 2 : (index + 0.5) * cell;
}
