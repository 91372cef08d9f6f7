import type { Edge, FormName } from '../forms/form.ts';
import { formOf } from '../forms/forms.ts';
import type { F64, I32, Local, Numbers, Test } from './kernel.ts';
import {
  both,
  choose,
  compare,
  compareWhole,
  difference,
  load,
  number,
  ofOne,
  plus,
  product,
  put,
  quotient,
  selectWhole,
  set,
  sum,
  times,
  whole,
  words,
} from './kernel.ts';
import type { Sheet } from './sheet.ts';

/** Places and cells in kernel form, as the forms of space have them, to the bit. */

/** A place in numbers. */
export interface Coordinates {
  readonly x: F64;
  readonly y: F64;
}

const ZERO = number(0);
/** 2^30: whole numbers stay well within 31 bits below it. */
const MOST_CELLS = 1073741824;

/** A coordinate brought into a space by the rule of its edge, on planes and grids. */
export function broughtIn(sheet: Sheet, v: F64, size: F64, form: FormName, edge: Edge): F64 {
  return formOf({ form }).isOfCells ? gridCell(sheet, v, size, edge) : ON_A_PLANE[edge](sheet, v, size);
}

const ON_A_PLANE: Readonly<Record<Edge, (sheet: Sheet, v: F64, size: F64) => F64>> = {
  wrapping: wrapped,
  walled: (sheet, v, size) => {
    const at = sheet.kept(v);
    return choose(compare(at, '<', ZERO), ZERO, choose(compare(at, '>', size), size, at));
  },
  reflecting: (sheet, v, size) => {
    const at = sheet.f64();
    sheet.add(set(at, v));
    const isInside = both(compare(at, '>=', ZERO), compare(at, '<=', size));
    sheet.when({ is: 'not', test: isInside }, () => {
      const twice = product(number(2), size);
      const w = sheet.kept(wrapped(sheet, at, twice));
      sheet.add(set(at, choose(compare(w, '>', size), difference(twice, w), w)));
    });
    return at;
  },
};

function wrapped(sheet: Sheet, v: F64, size: F64): F64 {
  const at = sheet.f64();
  sheet.add(set(at, v));
  sheet.when(isOutside(at, size), () => {
    takeRounds(sheet, at, size);
  });
  return at;
}

/** Leaves of a number what lies below a size, when whole rounds of it are taken away. */
function takeRounds(sheet: Sheet, at: Local<'f64'>, size: F64): void {
  sheet.add(set(at, difference(at, product(size, ofOne('floor', quotient(at, size))))));
  const isFarOff: Test = { is: 'or', left: compare(at, '<', ZERO), right: compare(at, '>=', size) };
  sheet.add(set(at, choose(isFarOff, ZERO, at)));
}

function isOutside(at: F64, size: F64): Test {
  return { is: 'not', test: both(compare(at, '>=', ZERO), compare(at, '<', size)) };
}

function gridCell(sheet: Sheet, v: F64, size: F64, edge: Edge): F64 {
  const at = sheet.f64();
  sheet.add(set(at, ofOne('floor', sum(v, number(0.5)))));
  sheet.when(isOutside(at, size), () => {
    if (edge === 'wrapping') takeRounds(sheet, at, size);
    else if (edge === 'walled') sheet.add(set(at, choose(compare(at, '<', ZERO), ZERO, difference(size, number(1)))));
    else {
      const twice = product(number(2), size);
      takeRounds(sheet, at, twice);
      sheet.add(set(at, choose(compare(at, '>=', size), difference(difference(twice, number(1)), at), at)));
    }
  });
  return at;
}

/** Cells of a field, and the space that they cover. */
export interface CellsOf {
  readonly form: FormName;
  readonly edge: Edge;
  readonly width: F64;
  readonly height: F64;
  readonly columns: F64;
  readonly rows: F64;
  /** Side of a cell. */
  readonly cell: F64;
  /** Whether the cells fill the space to the last place. */
  readonly isFull: boolean;
}

/** The cell at a place that lies inside the space. */
export function cellInside(sheet: Sheet, cells: CellsOf, x: F64, y: F64): I32 {
  const on = (v: F64, count: F64): I32 => {
    const i: I32 = { is: 'truncated', value: isOne(cells.cell) ? v : quotient(v, cells.cell) };
    if (formOf(cells).isOfCells || (cells.isFull && cells.edge === 'wrapping')) return i;
    const kept = sheet.keptWhole(i);
    const last: I32 = { is: 'truncated', value: difference(count, number(1)) };
    return selectWhole(compareWhole(kept, '<=', last), kept, last);
  };
  const column = on(x, cells.columns);
  return plus(times(on(y, cells.rows), { is: 'truncated', value: cells.columns }), column);
}

/** The cell at a place anywhere, or -1 where the place is none. */
export function cellAnywhere(sheet: Sheet, cells: CellsOf, x: F64, y: F64): Local<'i32'> {
  const found = sheet.i32();
  const [px, py] = [sheet.kept(x), sheet.kept(y)];
  sheet.add(put(found, whole(-1)));
  sheet.when(both(compare(px, '==', px), compare(py, '==', py)), () => {
    const [inX, inY] = [
      broughtIn(sheet, px, cells.width, cells.form, cells.edge),
      broughtIn(sheet, py, cells.height, cells.form, cells.edge),
    ];
    sheet.add(put(found, cellInside(sheet, cells, inX, inY)));
  });
  return found;
}

/** The value of a field at a place anywhere; no number where the place is none. */
export function fieldAt(sheet: Sheet, cells: CellsOf, field: Numbers, x: F64, y: F64): F64 {
  const found = sheet.f64();
  const [px, py] = [sheet.kept(x), sheet.kept(y)];
  const slow = (): void => {
    const cell = cellAnywhere(sheet, cells, px, py);
    sheet.add(set(found, number(NaN)));
    sheet.when(compareWhole(cell, '>=', whole(0)), () => sheet.add(set(found, load(field, cell))));
  };
  const masked = maskedCell(cells, px, py);
  if (masked) sheet.when(masked.isKnown, () => sheet.add(set(found, load(field, masked.cell))), slow);
  else slow();
  return found;
}

/** On a plane that wraps, whose sides are powers of two of cells that are such themselves: places not far outside need only lose some bits. */
function maskedCell(cells: CellsOf, x: F64, y: F64): { readonly isKnown: Test; readonly cell: I32 } | undefined {
  const { form, edge, isFull, width, height, columns, rows, cell } = cells;
  if (form !== 'plane' || edge !== 'wrapping' || !isFull) return undefined;
  if (width.is !== 'f64' || height.is !== 'f64' || columns.is !== 'f64' || rows.is !== 'f64' || cell.is !== 'f64')
    return undefined;
  if (!isPowerOfTwo(columns.value) || !isPowerOfTwo(rows.value)) return undefined;
  const isNear = (v: F64, size: number): Test =>
    both(compare(v, '>=', number(-size)), compare(v, '<', number(cell.value * MOST_CELLS)));
  const on = (v: F64, size: number, count: number): I32 => {
    const above = choose(compare(v, '<', ZERO), sum(v, number(size)), v);
    const scaled = isOne(cell) ? above : quotient(above, cell);
    return words('mask', { is: 'truncated', value: scaled }, whole(count - 1));
  };
  return {
    isKnown: both(isNear(x, width.value), isNear(y, height.value)),
    cell: plus(times(on(y, height.value, rows.value), whole(columns.value)), on(x, width.value, columns.value)),
  };
}

function isOne(cell: F64): boolean {
  return cell.is === 'f64' && cell.value === 1;
}

function isPowerOfTwo(count: number): boolean {
  return count >= 1 && count <= MOST_CELLS && (count & (count - 1)) === 0;
}
