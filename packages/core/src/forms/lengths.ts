import type { Raster, Space, SpaceRules } from './form.ts';
import { formOf } from './forms.ts';
import { cellX, cellY } from './space.ts';

/** Where a place lies in the unit of its space: on a grid that is measured in lengths the engine counts columns and rows. */
export function measuredPlace(
  x: number,
  y: number,
  space: Pick<SpaceRules, 'form' | 'cellLength'>,
): { readonly x: number; readonly y: number } {
  const { cellLength } = space;
  if (cellLength === undefined) return { x, y };
  const { rowHeight, oddShift } = formOf(space);
  return { x: (x + oddShift * (y - 2 * Math.floor(y / 2))) * cellLength, y: y * rowHeight * cellLength };
}

/** Where the middle of a cell lies in the unit of its space. */
export function measuredCell(cell: number, raster: Raster, space: Space): { readonly x: number; readonly y: number } {
  return measuredPlace(cellX(cell, raster, space), cellY(cell, raster, space), space);
}
