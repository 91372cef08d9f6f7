import { RADIANS } from '../math.ts';
import type { F64, I32, Numbers, Test } from './kernel.ts';
import {
  both,
  choose,
  compare,
  compareWhole,
  difference,
  number,
  ofOne,
  plus,
  product,
  quotient,
  select,
  series,
  set,
  store,
  sum,
  whole,
  words,
} from './kernel.ts';
import type { Sheet } from './sheet.ts';

/** Directions of agents in kernel form, as math.ts has them, to the bit. */

/** The series of `sineKernel` and `cosineKernel` there, which have their numbers written out for speed. */
const SINE_SERIES = [
  -1.66666666666666324348e-1, 8.33333333332248946124e-3, -1.98412698298579493134e-4, 2.75573137070700676789e-6,
  -2.50507602534068634195e-8, 1.58969099521155010221e-10,
];
const COSINE_SERIES = [
  4.16666666666666019037e-2, -1.38888888888741095749e-3, 2.48015872894767294178e-5, -2.75573143513906633035e-7,
  2.0875723212981748279e-9, -1.13596475577881948265e-11,
];

/** The columns in which a direction is kept. */
export interface DirectionColumns {
  readonly direction: Numbers;
  readonly sine: Numbers;
  readonly cosine: Numbers;
}

/** An angle brought to 0 up to below 360 degrees. */
export function headingOf(sheet: Sheet, angle: F64): F64 {
  const [a, d] = [sheet.kept(angle), sheet.f64()];
  const isBetween = (low: number, high: number): Test =>
    both(compare(a, '>=', number(low)), compare(a, '<', number(high)));
  sheet.add(set(d, a));
  sheet.when({ is: 'not', test: isBetween(0, 360) }, () =>
    sheet.when(
      isBetween(360, 720),
      () => sheet.add(set(d, difference(a, number(360)))),
      () =>
        sheet.when(
          both(compare(a, '<', number(0)), compare(a, '>', number(-360))),
          () => {
            sheet.add(set(d, sum(a, number(360))));
            sheet.when(compare(d, '>=', number(360)), () => sheet.add(set(d, number(0))));
          },
          () => sheet.add(set(d, { is: 'call', fn: 'heading', given: [a] })),
        ),
    ),
  );
  return d;
}

/** Arc tangent of t from 0 to 1 in radians. */
function arcTangent(sheet: Sheet, t: F64): F64 {
  const halved = (u: F64): F64 => sheet.kept(quotient(u, sum(number(1), ofOne('sqrt', sum(number(1), product(u, u))))));
  const u = halved(sheet.kept(halved(t)));
  const z = sheet.kept(product(u, u));
  let series: F64 = number(0);
  for (let k = 23; k >= 3; k -= 2) series = product(z, difference(number(1 / k), series));
  return product(number(4), difference(u, product(u, series)));
}

/** The compass bearing of a way, as `bearingDegrees` has it. */
export function bearingOf(sheet: Sheet, dx: F64, dy: F64): F64 {
  const [x, y] = [sheet.kept(dx), sheet.kept(dy)];
  const [ax, ay] = [sheet.kept(ofOne('abs', x)), sheet.kept(ofOne('abs', y))];
  const bearing = sheet.f64();
  const isNowhere = both(compare(ax, '==', number(0)), compare(ay, '==', number(0)));
  sheet.when(
    isNowhere,
    () => sheet.add(set(bearing, number(0))),
    () => {
      const isSteep = compare(ay, '>=', ax);
      const t = sheet.kept(choose(isSteep, quotient(ax, ay), quotient(ay, ax)));
      const angle = sheet.kept(quotient(arcTangent(sheet, t), number(RADIANS)));
      const fromUp = sheet.kept(choose(isSteep, angle, difference(number(90), angle)));
      const isUp = compare(y, '>=', number(0));
      sheet.when(
        compare(x, '>=', number(0)),
        () => sheet.add(set(bearing, choose(isUp, fromUp, difference(number(180), fromUp)))),
        () => {
          const turned = sheet.kept(choose(isUp, difference(number(360), fromUp), sum(number(180), fromUp)));
          sheet.add(set(bearing, choose(compare(turned, '>=', number(360)), number(0), turned)));
        },
      );
    },
  );
  return bearing;
}

/** The direction of a sum of unit vectors, as `directionOf` has it. */
export function directionOf(sheet: Sheet, x: F64, y: F64): F64 {
  const cancel = compare(sum(ofOne('abs', x), ofOne('abs', y)), '<', number(1e-12));
  return sheet.choose(
    cancel,
    () => number(0),
    () => bearingOf(sheet, x, y),
  );
}

/** Sine and cosine of an angle of which that above the nearest multiple of 90 degrees is given in radians, before the quadrant is looked at. */
function seriesOf(sheet: Sheet, above: F64): readonly [F64, F64] {
  const z = sheet.kept(product(above, above));
  const sine = sheet.kept(sum(above, product(product(above, z), series(z, SINE_SERIES))));
  const cosine = sheet.kept(
    sum(difference(number(1), product(number(0.5), z)), product(product(z, z), series(z, COSINE_SERIES))),
  );
  return [sine, cosine];
}

/** Sine and cosine of an angle in degrees, as `sinDegrees` and `cosDegrees` have them. */
export function sineAndCosine(sheet: Sheet, angle: F64): readonly [F64, F64] {
  const a = sheet.kept(angle);
  const turns = sheet.kept(ofOne('floor', sum(quotient(a, number(90)), number(0.5))));
  const above = sheet.kept(product(difference(a, product(turns, number(90))), number(RADIANS)));
  const fours = ofOne('floor', quotient(turns, number(4)));
  const quadrant = sheet.kept(difference(turns, product(number(4), fours)));
  const [sine, cosine] = seriesOf(sheet, above);
  const is = (first: number, second: number): Test => ({
    is: 'or',
    left: compare(quadrant, '==', number(first)),
    right: compare(quadrant, '==', number(second)),
  });
  const first = sheet.kept(select(is(0, 2), sine, cosine));
  const second = sheet.kept(select(is(0, 2), cosine, sine));
  const minusFirst: F64 = { is: 'minus', value: first };
  const minusSecond: F64 = { is: 'minus', value: second };
  return [select(is(0, 1), first, minusFirst), select(is(1, 2), minusSecond, second)];
}

/** Turns an agent, as `turnTo` does. */
export function writeTurn(sheet: Sheet, columns: DirectionColumns, slot: I32, angle: F64): void {
  const d = headingOf(sheet, angle);
  const turns = sheet.keptWhole({ is: 'truncated', value: sum(quotient(d, number(90)), number(0.5)) });
  const r = sheet.kept(product(difference(d, product({ is: 'of i32', value: turns }, number(90))), number(RADIANS)));
  const [sine, cosine] = seriesOf(sheet, r);
  // By quadrant without branches, as nobody can foretell which it is.
  const has = (word: I32, bit: number) => compareWhole(words('mask', word, whole(bit)), '!=', whole(0));
  const first = sheet.kept(select(has(turns, 1), cosine, sine));
  const second = sheet.kept(select(has(turns, 1), sine, cosine));
  sheet.add(
    store(columns.direction, slot, d),
    store(columns.sine, slot, select(has(turns, 2), { is: 'minus', value: first }, first)),
    store(columns.cosine, slot, select(has(plus(turns, whole(1)), 2), { is: 'minus', value: second }, second)),
  );
}

/** Turns an agent as it is thrown back at the walls of a space, by where its way would have ended: `directionAfter` of forms/space.ts. */
export function writeTurnBack(
  sheet: Sheet,
  columns: DirectionColumns,
  slot: I32,
  ends: readonly { readonly at: F64; readonly size: F64 }[],
  margin: number,
): void {
  const direction: F64 = { is: 'load', column: columns.direction, at: slot };
  const [backX, backY] = ends.map(({ at, size }) => {
    const v = sheet.kept(sum(at, number(margin)));
    const rounds = sheet.kept({ is: 'of one', fn: 'floor', value: quotient(v, size) });
    const even = product(number(2), { is: 'of one', fn: 'floor', value: quotient(rounds, number(2)) });
    return both(compare(difference(rounds, even), '!=', number(0)), compare(v, '!=', size));
  });
  const mirrored = sheet.kept(choose(backX!, difference(number(360), direction), direction));
  const after = headingOf(sheet, choose(backY!, difference(number(180), mirrored), mirrored));
  writeTurn(sheet, columns, slot, after);
}
