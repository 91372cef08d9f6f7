import { cosDegrees, sinDegrees } from '../math.ts';
import type * as P from '../plan/plan.ts';
import type { F64 } from './kernel.ts';
import { choose, compare, difference, number, product, sum } from './kernel.ts';
import type { TurnValues } from './turn-values.ts';

/** Ways, and where they lead, in kernel form. */

/** A coordinate of the place so far ahead of somebody. */
export function ahead(values: TurnValues, e: Extract<P.Expr, { op: 'ahead' }>): F64 {
  const [sine, cosine] = [values.place(e.kind, 'sine', e.agent), values.place(e.kind, 'cosine', e.agent)];
  const [from, distance] = [values.value(e.axis === 'x' ? e.x : e.y), values.value(e.distance)];
  if (e.aside === 0) return sum(from, product(distance, e.axis === 'x' ? sine : cosine));
  const [s, c] = [number(sinDegrees(e.aside)), number(cosDegrees(e.aside))];
  const part =
    e.axis === 'x' ? sum(product(sine, c), product(cosine, s)) : difference(product(cosine, c), product(sine, s));
  return sum(from, product(distance, part));
}

/** A coordinate of the place so far away in a direction. */
export function along(values: TurnValues, e: Extract<P.Expr, { op: 'along' }>): F64 {
  values.demandSquares(e.space);
  const [from, distance, angle] = [
    values.value(e.axis === 'x' ? e.x : e.y),
    values.value(e.distance),
    values.value(e.angle),
  ];
  const fn = e.axis === 'x' ? 'sinDegrees' : 'cosDegrees';
  return sum(from, product(distance, { is: 'call', fn, given: [angle] }));
}

/** The signed way along an axis. */
export function way(values: TurnValues, e: Omit<Extract<P.Expr, { op: 'way' }>, 'op'>): F64 {
  values.demandSquares(e.space);
  return shorterWay(values, e.space, e.axis, values.value(e.from), values.value(e.to));
}

/** The way from one coordinate to another, the shorter one where the space wraps. */
export function shorterWay(
  { sheet, reads, sight }: TurnValues,
  space: number,
  axis: 'x' | 'y',
  from: F64,
  to: F64,
): F64 {
  const way = sheet.kept(difference(to, from));
  if (sight.plan.spaces[space]!.edge !== 'wrapping') return way;
  const size = reads.size(space, axis);
  const half: F64 = size.is === 'f64' ? number(size.value / 2) : product(size, number(0.5));
  const isBack = compare(way, '<', { is: 'minus', value: half });
  return sheet.kept(choose(compare(way, '>', half), difference(way, size), choose(isBack, sum(way, size), way)));
}

/** The ways from one place to another along both axes. */
export function wayBetween(
  values: TurnValues,
  { space, ax, ay, bx, by }: Readonly<Record<'ax' | 'ay' | 'bx' | 'by', P.Expr>> & { readonly space: number },
): [F64, F64] {
  const between = (axis: 'x' | 'y', from: P.Expr, to: P.Expr): F64 =>
    values.sheet.kept(way(values, { space, axis, from, to }));
  return [between('x', ax, bx), between('y', ay, by)];
}
