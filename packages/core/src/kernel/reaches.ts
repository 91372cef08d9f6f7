import type * as P from '../plan/plan.ts';
import type { F64, Test } from './kernel.ts';
import { both, compare, number, ofOne, product, sum } from './kernel.ts';
import type { TurnValues } from './turn-values.ts';
import { wayBetween } from './ways.ts';

/** Reaches around a place in kernel form, on planes and grids of squares, as `isInReach` of forms/space.ts has them. */

/** How far a reach goes, and the radius of a circle that holds all of it. */
export function extentOf(values: TurnValues, reach: P.SpaceReach): { readonly distance: F64; readonly radius: F64 } {
  if (reach.is === 'here') return { distance: number(0), radius: number(0) };
  if (reach.is === 'next to') return { distance: number(0), radius: number(2) };
  const distance = values.sheet.kept(values.value(reach.distance));
  if (reach.is === 'within') return { distance, radius: distance };
  return { distance, radius: sum(product(distance, number(1.5)), number(1)) };
}

/** Whether a way along both axes, between places inside the space, ends in a reach. */
export function reaches(is: P.SpaceReach['is'], dx: F64, dy: F64, distance: F64, neighbours: number): Test {
  if (is === 'here') return both(compare(dx, '==', number(0)), compare(dy, '==', number(0)));
  if (is === 'within') {
    const square = sum(product(dx, dx), product(dy, dy));
    const [left, right] = [compare(square, '<=', product(distance, distance)), compare(distance, '>=', number(0))];
    return { is: 'and', left, right };
  }
  const [ax, ay] = [ofOne('abs', dx), ofOne('abs', dy)];
  if (is === 'next to') {
    const far: F64 = neighbours === 4 ? sum(ax, ay) : { is: 'at least', value: ax, bound: ay };
    return compare(far, '==', number(1));
  }
  const inSquare = both(compare(ax, '<=', distance), compare(ay, '<=', distance));
  if (is === 'square') return inSquare;
  return both(inSquare, {
    is: 'or else',
    left: compare(dx, '==', number(0)),
    right: compare(dy, '==', number(0)),
  });
}

/** Whether a place, which may lie anywhere, is in a reach. */
export function isInReach(values: TurnValues, { reach, x, y }: Extract<P.Expr, { op: 'in reach' }>): Test {
  const { sheet, sight } = values;
  values.demandSquares(reach.space);
  if (reach.is === 'here')
    return both(
      compare(sheet.kept(values.value(reach.x)), '==', sheet.kept(values.value(x))),
      compare(sheet.kept(values.value(reach.y)), '==', sheet.kept(values.value(y))),
    );
  const { distance } = extentOf(values, reach);
  const [dx, dy] = wayBetween(values, { space: reach.space, ax: reach.x, ay: reach.y, bx: x, by: y });
  return reaches(reach.is, dx, dy, distance, sight.plan.spaces[reach.space]!.neighbours);
}
