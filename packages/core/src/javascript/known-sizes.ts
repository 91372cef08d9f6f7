import { formOf } from '../forms/forms.ts';
import type * as P from '../plan/plan.ts';
import { literal } from '../source-writer.ts';

/** Sizes that stand in the text as numbers are written into the code as numbers, which the compiler of the code makes much of. */

function numberOf({ statements, value }: P.Code): number | undefined {
  return statements.length === 0 && value.op === 'number' ? value.value : undefined;
}

/** Code for the width (`SW`) or height (`SH`) of a space. */
export function sizeCode(plan: P.Plan, space: number, axis: 'x' | 'y'): string {
  const known = numberOf(axis === 'x' ? plan.spaces[space]!.width : plan.spaces[space]!.height);
  return known === undefined ? `${axis === 'x' ? 'SW' : 'SH'}${space}` : literal(known);
}

/** Code for the columns, rows and side of a cell of a field; `isFull` where its cells fill the space to the last place, as is known from the text. */
export function rasterCode(
  plan: P.Plan,
  field: number,
): { readonly columns: string; readonly rows: string; readonly cell: string; readonly isFull: boolean } {
  const { space: s, cell: body } = plan.fields[field]!;
  const space = plan.spaces[s]!;
  const [width, height, cell] = [numberOf(space.width), numberOf(space.height), body ? numberOf(body) : 1];
  if (
    width === undefined ||
    height === undefined ||
    cell === undefined ||
    !(cell > 0 && cell < Infinity) ||
    space.form === 'map'
  )
    return { columns: `g${field}_c`, rows: `g${field}_r`, cell: `g${field}_z`, isFull: false };
  const { columns, rows } = formOf(space).rasterOf({ ...space, width, height, lanes: undefined }, cell);
  // Halves, doubles and so on of a place are exact: what lies below the edge is in the last cell.
  const isFull = isPowerOfTwo(cell) && columns * cell === width && rows * cell === height;
  return { columns: literal(columns), rows: literal(rows), cell: literal(cell), isFull };
}

function isPowerOfTwo(size: number): boolean {
  let rest = size;
  while (rest >= 2) rest /= 2;
  while (rest < 1) rest *= 2;
  return rest === 1;
}
