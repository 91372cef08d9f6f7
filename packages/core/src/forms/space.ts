import { bearingDegrees, heading } from '../math.ts';
import { isTurnedBack, wayAlong } from './edges.ts';
import type { Raster, Space } from './form.ts';
import { formOf } from './forms.ts';

/** Places and cells of a space, whatever its form. */

/** A place brought into the space by the rule of its edge, on one axis of a size. */
export function placeOnAxis(v: number, size: number, space: Space): number {
  return formOf(space).bringIn(v, size, space.edge);
}

/** A place brought into the space: on a map to the nearest lane. */
export function placeIn(x: number, y: number, space: Space): readonly [number, number] {
  if (space.lanes) {
    const at = space.lanes.index.snap(x, y);
    return [at.x, at.y];
  }
  return [placeOnAxis(x, space.width, space), placeOnAxis(y, space.height, space)];
}

/** A coordinate of the place of the lanes that is nearest to another. */
export function onLane(axis: 'x' | 'y', x: number, y: number, { lanes }: Space): number {
  const at = lanes!.index.snap(x, y);
  return axis === 'x' ? at.x : at.y;
}

/** A coordinate of the place so much of all lanes' length from their beginning. @param share from 0 to 1 */
export function laneAt(axis: 'x' | 'y', share: number, { lanes }: Space): number {
  const at = lanes!.index.placeAt(share);
  return axis === 'x' ? at.x : at.y;
}

/** The length of the way from one place of the lanes to another on some kinds of ways, or the time it takes by the quickest at a speed; 0 is no speed. */
export function wayLength(
  ax: number,
  ay: number,
  bx: number,
  by: number,
  speed: number,
  ways: string,
  { lanes }: Space,
): number {
  return lanes!.wayLength(ax, ay, bx, by, speed, ways);
}

/** The direction after a way from a place that may have been thrown back at walls. */
export function directionAfter(direction: number, x: number, y: number, space: Space): number {
  if (space.edge !== 'reflecting') return direction;
  const { margin } = formOf(space);
  const backX = isTurnedBack(x + margin, space.width);
  const backY = isTurnedBack(y + margin, space.height);
  const mirrored = backX ? 360 - direction : direction;
  return heading(backY ? 180 - mirrored : mirrored);
}

export function squareBetween(ax: number, ay: number, bx: number, by: number, space: Space): number {
  const form = formOf(space);
  const dx = form.wayX(ax, ay, bx, by, space);
  const dy = form.wayY(ay, by, space);
  return dx * dx + dy * dy;
}

export function distanceBetween(ax: number, ay: number, bx: number, by: number, space: Space): number {
  return Math.sqrt(squareBetween(ax, ay, bx, by, space));
}

export function bearingBetween(ax: number, ay: number, bx: number, by: number, space: Space): number {
  const form = formOf(space);
  return bearingDegrees(form.wayX(ax, ay, bx, by, space), form.wayY(ay, by, space));
}

export type ReachShape = 'within' | 'square' | 'cross' | 'next to' | 'here';

/** Whether a place lies in a reach around another. Squares and crosses reach so many cells to each side. */
export function isInReach(
  is: ReachShape,
  distance: number,
  ax: number,
  ay: number,
  bx: number,
  by: number,
  space: Space,
): boolean {
  if (is === 'here') return ax === bx && ay === by;
  if (is === 'within') return distance >= 0 && squareBetween(ax, ay, bx, by, space) <= distance * distance;
  if (is === 'next to') return formOf(space).isNextTo(ax, ay, bx, by, space);
  const wraps = space.edge === 'wrapping';
  const dx = Math.abs(wayAlong(ax, bx, space.width, wraps));
  const dy = Math.abs(wayAlong(ay, by, space.height, wraps));
  if (is === 'cross' && dx !== 0 && dy !== 0) return false;
  return dx <= distance && dy <= distance;
}

/** Values of cells, in double precision or in single. */
export type CellValues = Float64Array | Float32Array;

/** The arrays that hold them. */
export function arrayOfCells(isSingle: boolean): typeof Float64Array | typeof Float32Array {
  return isSingle ? Float32Array : Float64Array;
}

/** A value as a cell holds it. */
export function heldValue(value: number, isSingle: boolean): number {
  return isSingle ? Math.fround(value) : value;
}

/** Values over the cells of a space, row by row from below; on a plane the last column and row may be narrower. */
export interface FieldGrid extends Raster {
  readonly values: CellValues;
}

/** The index of the cell at a place; places outside are brought in by the rule of the edge. -1 for nowhere. */
export function cellAt(x: number, y: number, grid: Raster, space: Space): number {
  if (x !== x || y !== y) return -1;
  const column = Math.floor(placeOnAxis(x, space.width, space) / grid.cell);
  const row = Math.floor(placeOnAxis(y, space.height, space) / grid.cell);
  return (row < grid.rows ? row : grid.rows - 1) * grid.columns + (column < grid.columns ? column : grid.columns - 1);
}

/** The cell, as it is counted who stands where, of a place that lies inside the space. */
export function cellOfPlace(x: number, y: number, raster: Raster, space: Space): number {
  return formOf(space).isOfCells ? y * space.width + x : cellAt(x, y, raster, space);
}

/** The centre of a cell: on a grid its column, on a plane the middle of the square. */
export function cellX(cell: number, raster: Raster, space: Space): number {
  return formOf(space).centre(cell % raster.columns, space.width, raster.cell);
}

export function cellY(cell: number, raster: Raster, space: Space): number {
  return formOf(space).centre(Math.floor(cell / raster.columns), space.height, raster.cell);
}
