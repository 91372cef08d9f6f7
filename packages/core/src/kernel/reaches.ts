import type * as P from '../plan/plan.ts';
import type { F64, Test } from './kernel.ts';
import { both, compare, number, ofOne, product, sum } from './kernel.ts';
import type { TurnValues } from './turn-values.ts';
import type { Coordinates } from './places.ts';
import { keptPlace, shorterWay, waysFrom } from './ways.ts';

/** Reaches around a place in kernel form, on planes and grids, as `isInReach` of forms/space.ts has them. */

/** How far a reach goes, and the radius of a circle that holds all of it. */
export function extentOf(values: TurnValues, reach: P.SpaceReach): { readonly distance: F64; readonly radius: F64 } {
  if (reach.is === 'here') return { distance: number(0), radius: number(0) };
  if (reach.is === 'next to') return { distance: number(0), radius: number(2) };
  const distance = values.sheet.kept(values.value(reach.distance));
  // Rows of hexagons lie closer than columns, and every other one is shifted.
  if (reach.is === 'within' && values.sight.plan.spaces[reach.space]!.form !== 'hexagons')
    return { distance, radius: distance };
  return { distance, radius: sum(product(distance, number(1.5)), number(1)) };
}

/** Whether a place is in a reach around another, both being inside the space. */
export function reaches(
  values: TurnValues,
  space: number,
  is: P.SpaceReach['is'],
  from: Coordinates,
  to: Coordinates,
  distance: F64,
): Test {
  const { form, neighbours } = values.sight.plan.spaces[space]!;
  // Squares and crosses go by columns and rows, whatever the form.
  const goesByCells = is === 'square' || is === 'cross' || is === 'here';
  const [dx, dy] = goesByCells
    ? [shorterWay(values, space, 'x', from.x, to.x), shorterWay(values, space, 'y', from.y, to.y)]
    : waysFrom(values, space, from, to);
  if (is === 'here') return both(compare(dx, '==', number(0)), compare(dy, '==', number(0)));
  const square = sum(product(dx, dx), product(dy, dy));
  if (is === 'next to' && form === 'hexagons') {
    const kept = values.sheet.kept(square);
    return both(compare(kept, '>', number(0.5)), compare(kept, '<', number(1.5)));
  }
  if (is === 'within') {
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
  const { sheet } = values;
  values.demandNoLanes(reach.space);
  if (reach.is === 'here')
    return both(
      compare(sheet.kept(values.value(reach.x)), '==', sheet.kept(values.value(x))),
      compare(sheet.kept(values.value(reach.y)), '==', sheet.kept(values.value(y))),
    );
  const { distance } = extentOf(values, reach);
  return reaches(values, reach.space, reach.is, keptPlace(values, reach), keptPlace(values, { x, y }), distance);
}
