import { cosDegrees, sinDegrees } from '../math.ts';
import { HEX_ROW } from '../forms/hexagons.ts';
import type * as P from '../plan/plan.ts';
import { sineAndCosine } from './directions.ts';
import type { F64 } from './kernel.ts';
import { choose, compare, difference, number, product, sum } from './kernel.ts';
import { hexAlong, hexX } from './hexagons.ts';
import type { Coordinates } from './places.ts';
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
  values.demandNoLanes(e.space);
  if (values.sight.plan.spaces[e.space]!.form === 'hexagons') return alongHexagons(values, e);
  const [from, distance, angle] = [
    values.value(e.axis === 'x' ? e.x : e.y),
    values.value(e.distance),
    values.value(e.angle),
  ];
  const [sine, cosine] = sineAndCosine(values.sheet, values.tables(), angle);
  return sum(from, product(distance, e.axis === 'x' ? sine : cosine));
}

function alongHexagons(values: TurnValues, e: Extract<P.Expr, { op: 'along' }>): F64 {
  const { sheet } = values;
  const [distance, angle] = [e.distance, e.angle].map((one) => sheet.kept(values.value(one))) as [F64, F64];
  const [sine, cosine] = sineAndCosine(values.sheet, values.tables(), angle);
  return hexAlong(sheet, keptPlace(values, e), distance, { sine, cosine })[e.axis];
}

/** The signed way along an axis. */
export function way(values: TurnValues, e: Extract<P.Expr, { op: 'way' }>): F64 {
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
  values.demandNoLanes(space);
  return waysFrom(values, space, keptPlace(values, { x: ax, y: ay }), keptPlace(values, { x: bx, y: by }));
}

/** A place, worked out once. */
export function keptPlace(values: TurnValues, { x, y }: Readonly<Record<'x' | 'y', P.Expr>>): Coordinates {
  return { x: values.sheet.kept(values.value(x)), y: values.sheet.kept(values.value(y)) };
}

/** The same of places that are worked out. */
export function waysFrom(values: TurnValues, space: number, from: Coordinates, to: Coordinates): [F64, F64] {
  const up = shorterWay(values, space, 'y', from.y, to.y);
  if (values.sight.plan.spaces[space]!.form !== 'hexagons') return [shorterWay(values, space, 'x', from.x, to.x), up];
  const [ax, bx] = [from, to].map((place) => hexX(values.sheet, place)) as [F64, F64];
  return [shorterWay(values, space, 'x', ax, bx), values.sheet.kept(product(up, number(HEX_ROW)))];
}
