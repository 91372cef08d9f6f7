import { knownRaster, knownSize } from '../plan/known-sizes.ts';
import type * as P from '../plan/plan.ts';
import { literal } from '../source-writer.ts';

/** Sizes that stand in the text as numbers are written into the code as numbers, which the compiler of the code makes much of. */

/** Code for the width (`SW`) or height (`SH`) of a space. */
export function sizeCode(plan: P.Plan, space: number, axis: 'x' | 'y'): string {
  const known = knownSize(plan, space, axis);
  return known === undefined ? `${axis === 'x' ? 'SW' : 'SH'}${space}` : literal(known);
}

/** Code for the columns, rows and side of a cell of a field; `isFull` where its cells fill the space to the last place, as is known from the text. */
export function rasterCode(
  plan: P.Plan,
  field: number,
): { readonly columns: string; readonly rows: string; readonly cell: string; readonly isFull: boolean } {
  const known = knownRaster(plan, field);
  if (!known) return { columns: `g${field}_c`, rows: `g${field}_r`, cell: `g${field}_z`, isFull: false };
  const { columns, rows, cell, isFull } = known;
  return { columns: literal(columns), rows: literal(rows), cell: literal(cell), isFull };
}
