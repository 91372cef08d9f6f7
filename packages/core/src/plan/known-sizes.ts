import { formOf } from '../forms/forms.ts';
import type { Raster } from '../forms/form.ts';
import type * as P from './plan.ts';

/** Sizes that stand in the text as numbers, of which those who print code make numbers in it. */

function numberOf({ statements, value }: P.Code): number | undefined {
  return statements.length === 0 && value.op === 'number' ? value.value : undefined;
}

/** Width or height of a space, if the text tells it. */
export function knownSize(plan: P.Plan, space: number, axis: 'x' | 'y'): number | undefined {
  return numberOf(axis === 'x' ? plan.spaces[space]!.width : plan.spaces[space]!.height);
}

/** The cells of a field, if the text tells them; `isFull` where they fill the space to the last place. */
export function knownRaster(plan: P.Plan, field: number): (Raster & { readonly isFull: boolean }) | undefined {
  const { space: s, cell: body } = plan.fields[field]!;
  const space = plan.spaces[s]!;
  const [width, height, cell] = [numberOf(space.width), numberOf(space.height), body ? numberOf(body) : 1];
  if (width === undefined || height === undefined || cell === undefined || space.form === 'map') return undefined;
  if (!(cell > 0 && cell < Infinity)) return undefined;
  const { columns, rows } = formOf(space).rasterOf({ ...space, width, height, lanes: undefined }, cell);
  // Halves, doubles and so on of a place are exact: what lies below the edge is in the last cell.
  const isFull = isPowerOfTwo(cell) && columns * cell === width && rows * cell === height;
  return { columns, rows, cell, isFull };
}

function isPowerOfTwo(size: number): boolean {
  let rest = size;
  while (rest >= 2) rest /= 2;
  while (rest < 1) rest *= 2;
  return rest === 1;
}
