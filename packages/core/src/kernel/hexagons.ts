import { HEX_ROW } from '../forms/hexagons.ts';
import type { F64 } from './kernel.ts';
import { difference, number, ofOne, product, quotient, sum } from './kernel.ts';
import type { Coordinates } from './places.ts';
import type { Sheet } from './sheet.ts';

/** Places on hexagons in kernel form, as forms/hexagons.ts has them, to the bit. */

/** How far an odd row is shifted, 0 for an even one. */
function shiftOf(row: F64): F64 {
  const below = product(number(2), ofOne('floor', quotient(row, number(2))));
  return product(difference(row, below), number(0.5));
}

/** How far to the right a column of a row lies. */
export function hexX(sheet: Sheet, { x, y }: Coordinates): F64 {
  return sheet.kept(sum(x, shiftOf(sheet.kept(y))));
}

/** Column and row of the place that lies a distance away in a direction. */
export function hexAlong(
  sheet: Sheet,
  from: Coordinates,
  distance: F64,
  { sine, cosine }: Readonly<Record<'sine' | 'cosine', F64>>,
): Coordinates {
  const y = sheet.kept(sum(from.y, quotient(product(distance, cosine), number(HEX_ROW))));
  const nearest = sheet.kept(ofOne('floor', sum(y, number(0.5))));
  const x = sheet.kept(difference(sum(hexX(sheet, from), product(distance, sine)), shiftOf(nearest)));
  return { x, y };
}
