import { formOf } from '../forms/forms.ts';
import type { SpaceSymbol } from '../language/checked.ts';
import type { Expr } from '../plan/plan.ts';
import { binary, num } from './code.ts';
import type { Point } from './draft.ts';

/** Lengths on a grid whose cells have one: the text measures, the engine counts columns and rows. On every other space both are the same. */

/** What is just as far away as is asked for is near, whatever dividing makes of it. */
const LEEWAY = 1 + 1e-12;

/** A length in sides of a cell. */
export function inCells({ cellLength }: SpaceSymbol, length: Expr): Expr {
  if (cellLength === undefined) return length;
  return length.op === 'number' ? num(length.value / cellLength) : binary('/', length, num(cellLength));
}

/** The reach of a length in sides of a cell. */
export function reachInCells(space: SpaceSymbol, length: Expr): Expr {
  return space.cellLength === undefined ? length : inCells(space, binary('*', length, num(LEEWAY)));
}

/** Sides of a cell as a length. */
export function asLength({ cellLength }: SpaceSymbol, cells: Expr): Expr {
  return cellLength === undefined ? cells : binary('*', cells, num(cellLength));
}

function shiftOf(row: Expr, oddShift: number): Expr {
  const pairs: Expr = { op: 'call', fn: 'floor', args: [binary('/', row, num(2))] };
  return binary('*', binary('-', row, binary('*', pairs, num(2))), num(oddShift));
}

/** The column and row of a place that is told in lengths. */
export function countedPlace(space: SpaceSymbol, { x, y }: Point): Point {
  if (space.cellLength === undefined) return { x, y };
  const { rowHeight, oddShift } = formOf(space);
  const [across, up] = [inCells(space, x), inCells(space, y)];
  if (oddShift === 0) return { x: across, y: up };
  const row: Expr = { op: 'call', fn: 'round', args: [binary('/', up, num(rowHeight))] };
  return { x: binary('-', across, shiftOf(row, oddShift)), y: row };
}

/** A coordinate, in lengths, of a place of columns and rows. */
export function measuredAxis(space: SpaceSymbol | undefined, axis: 'x' | 'y', { x, y }: Point): Expr {
  if (space?.cellLength === undefined) return axis === 'x' ? x : y;
  const { rowHeight, oddShift } = formOf(space);
  if (axis === 'y') return asLength(space, rowHeight === 1 ? y : binary('*', y, num(rowHeight)));
  return asLength(space, oddShift === 0 ? x : binary('+', x, shiftOf(y, oddShift)));
}
